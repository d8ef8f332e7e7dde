import Button from '@mui/material/Button';
import { useState, type ReactNode } from 'react';
import { person, setPerson } from '../api/person.ts';
import { NameDialog } from '../notices/NameDialog.tsx';

/** Who works in this browser: time and decisions are written down under that name. */
export function PersonButton(): ReactNode {
  const [name, setName] = useState(person());
  const [asking, setAsking] = useState(false);
  return (
    <>
      <Button onClick={() => setAsking(true)}>Working as {name}</Button>
      {asking && (
        <NameDialog
          title="Who works here?"
          name={name === 'Me' ? '' : name}
          action="That is me"
          hint="Time and decisions of this browser go under this name."
          onClose={() => setAsking(false)}
          onName={(next) => {
            setPerson(next.slice(0, 60));
            setName(person());
          }}
        />
      )}
    </>
  );
}

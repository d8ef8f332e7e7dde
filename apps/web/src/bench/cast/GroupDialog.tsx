import { editGroup, type CastSheet } from '@jumble/core';
import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import { NameDialog } from '../../notices/NameDialog.tsx';
import { useBench } from '../state/benchContext.ts';
import { newId } from './castEdits.ts';

export interface GroupDialogProps {
  readonly group: { readonly id: string | null; readonly name: string };
  readonly cast: CastSheet;
  readonly onClose: () => void;
}

/** Adds or renames a character, prop or set; one without parts can be taken away. */
export function GroupDialog({ group, cast, onClose }: GroupDialogProps): ReactNode {
  const bench = useBench();
  const known = cast.groups.find((one) => one.id === group.id);
  const used = cast.parts.some((part) => part.groupId === group.id);
  const save = (name: string): void => {
    const order = known?.order ?? Math.max(-1, ...cast.groups.map((one) => one.order)) + 1;
    const label = known === undefined ? `Add ${name} to the cast` : `Rename ${group.name} to ${name}`;
    bench.changeCast(label, [editGroup({ ...known, id: group.id ?? newId(), name, order })]);
  };
  return (
    <NameDialog
      title={known === undefined ? 'New character, prop or set' : 'Rename'}
      name={group.name}
      action={known === undefined ? 'Add' : 'Rename'}
      taken={cast.groups.filter((one) => one.id !== group.id).map((one) => one.name)}
      onClose={onClose}
      onName={save}
      aside={
        known !== undefined &&
        !used && (
          <Button
            color="error"
            sx={{ mr: 'auto' }}
            onClick={() => {
              bench.changeCast(`Delete ${known.name} from the cast`, [{ key: `group/${known.id}`, value: null }]);
              onClose();
            }}
          >
            Delete
          </Button>
        )
      }
    />
  );
}

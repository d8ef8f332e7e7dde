import type { ReactNode } from 'react';

export interface ChoiceRowProps<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly options: readonly (readonly [value: T, label: string])[];
  readonly onSet: (value: T) => void;
}

/** A choice of a few in one line of a panel. */
export function ChoiceRow<T extends string>({ label, value, options, onSet }: ChoiceRowProps<T>): ReactNode {
  return (
    <label style={{ display: 'flex', fontSize: 13, gap: 8, marginBottom: 4, alignItems: 'center' }}>
      <span style={{ flex: 1 }}>{label}</span>
      <select
        aria-label={label}
        value={value}
        onChange={(event) => {
          onSet(event.target.value as T);
          // The keys of the bench work on.
          event.target.blur();
        }}
        style={{ font: 'inherit', fontSize: 12.5, maxWidth: '62%' }}
      >
        {options.map(([one, words]) => (
          <option key={one} value={one}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}

import { editGroup, editHoldLimits, GROUP_KINDS, kindOfGroup, stackedGroups, type GroupKind } from '@jumble/core';
import type { ReactNode } from 'react';
import { PanelSection } from '../../PanelSection.tsx';
import { NumberField } from '../../NumberField.tsx';
import { useBench, useBenchState } from '../../state/benchContext.ts';

/** How near the colours of lines and of what lies beside them may come, in the whole job. */
export function Limits(): ReactNode {
  const bench = useBench();
  const limits = useBenchState((state) => state.cast?.holds ?? null);
  if (limits === null) return null;
  return (
    <PanelSection title="In the whole job">
      <NumberField
        label="Least CIEDE2000 to both sides"
        value={limits.difference}
        least={0}
        most={100}
        onSet={(difference) =>
          bench.changeCast(`Least contrast of lines ${difference}`, [editHoldLimits({ ...limits, difference })])
        }
      />
      <label style={{ fontSize: 13, display: 'flex', gap: 6, marginTop: 8 }}>
        <input
          type="checkbox"
          checked={limits.darkContours}
          onChange={(event) =>
            bench.changeCast(
              event.target.checked
                ? 'Contours stay darker than inner lines'
                : 'Contours may be lighter than inner lines',
              [editHoldLimits({ ...limits, darkContours: event.target.checked })],
            )
          }
        />
        Contours stay darker than inner lines
      </label>
    </PanelSection>
  );
}

/** What the groups of the cast are: contours run between figures and the ground. */
export function Kinds(): ReactNode {
  const bench = useBench();
  const cast = useBenchState((state) => state.cast);
  if (cast === null) return null;
  return (
    <PanelSection title="Figures and ground">
      {stackedGroups(cast).map((group) => (
        <label key={group.id} style={{ display: 'flex', fontSize: 13, gap: 8, marginBottom: 2 }}>
          <span style={{ flex: 1 }}>{group.name}</span>
          <select
            value={kindOfGroup(group)}
            onChange={(event) => {
              const kind = event.target.value as GroupKind;
              bench.changeCast(`${group.name} is a ${kind}`, [editGroup({ ...group, kind })]);
              event.target.blur();
            }}
            style={{ font: 'inherit', fontSize: 12.5 }}
          >
            {GROUP_KINDS.map((kind) => (
              <option key={kind}>{kind}</option>
            ))}
          </select>
        </label>
      ))}
    </PanelSection>
  );
}

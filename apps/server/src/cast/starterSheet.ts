import { editCastScene, editColour, editGroup, editPart, type RecordEdit } from '@jumble/core';

/** What a new job's cast sheet begins with: a scene, and something to fill with at once. */
export function starterSheet(): RecordEdit[] {
  return [
    editCastScene({ id: 'day', name: 'Day', order: 0 }),
    editGroup({ id: 'figure', name: 'Figure', order: 0 }),
    editGroup({ id: 'set', name: 'Set', order: 1 }),
    editPart({ id: 'skin', groupId: 'figure', name: 'Skin', order: 0, slot: '1', empty: false }),
    editPart({ id: 'clothes', groupId: 'figure', name: 'Clothes', order: 1, slot: '2', empty: false }),
    editPart({ id: 'background', groupId: 'set', name: 'Background', order: 0, slot: '3', empty: false }),
    editPart({ id: 'blank', groupId: 'set', name: 'Leave empty', order: 1, slot: '0', empty: true }),
    editColour('day', 'skin', '#e3b58f'),
    editColour('day', 'clothes', '#5f7d95'),
    editColour('day', 'background', '#b9c4a2'),
  ];
}

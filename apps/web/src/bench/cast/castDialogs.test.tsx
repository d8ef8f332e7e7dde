import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import { readCastSheet } from '@jumble/core';
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { BenchContext } from '../state/benchContext.ts';
import { openTestBench, type TestBench } from '../tests/testBench.ts';
import { hut, smallCast } from '../tests/testPages.ts';
import { freeSlot, newPartDraft } from './castEdits.ts';
import { GroupDialog } from './GroupDialog.tsx';
import { PartDialog } from './PartDialog.tsx';
import { PartRow } from './PartRow.tsx';

let bench: TestBench;
const onClose = jest.fn();
beforeEach(async () => {
  bench = await openTestBench(hut(12), { stage: 'flats' });
  onClose.mockClear();
  // The simulated browser does not scroll.
  Element.prototype.scrollIntoView = () => undefined;
});
afterEach(cleanup);
const onBench = (children: ReactNode): void => {
  render(<BenchContext.Provider value={bench}>{children}</BenchContext.Provider>);
};
const cast = readCastSheet(smallCast());
const user = userEvent.setup();

describe('a new part', () => {
  test('gets the next free key, its name and colour, and is chosen', async () => {
    const draft = newPartDraft(cast, 'wren');
    expect(draft.slot).toBe('3');
    onBench(<PartDialog draft={draft} cast={cast} scene={null} onClose={onClose} />);
    await user.type(screen.getByLabelText('Name'), 'Scarf');
    await user.clear(screen.getByLabelText('Colour (Day)'));
    await user.type(screen.getByLabelText('Colour (Day)'), '#AA5500');
    await user.click(screen.getByRole('button', { name: 'Add the part' }));
    expect(bench.castChanges).toEqual([
      {
        label: 'Add the part Scarf',
        edits: [
          { key: `part/${draft.id}`, value: { groupId: 'wren', name: 'Scarf', order: 3, slot: '3', empty: false } },
          { key: `colour/day/${draft.id}`, value: '#aa5500' },
        ],
      },
    ]);
    expect(bench.state.partId).toBe(draft.id);
    expect(onClose).toHaveBeenCalledTimes(1);
  });

  test.each<[string, string, string, RegExp]>([
    ['a name that is taken', 'Name', 'coat', /one of this name already/],
    ['a key that is taken', 'Key', '2', /Hair has this key/],
    ['a key of the bench', 'Key', 'q', /has a meaning on the bench/],
    ['a key that is none', 'Key', '!', /Only letters and digits/],
    ['a colour that is none', 'Colour (Day)', 'blue', /A colour like/],
  ])('with %s cannot be added, and says why', async (_what, field, text, words) => {
    onBench(
      <PartDialog
        draft={{ ...newPartDraft(cast, 'wren'), name: 'Scarf' }}
        cast={cast}
        scene={null}
        onClose={onClose}
      />,
    );
    await user.clear(screen.getByLabelText(field));
    await user.type(screen.getByLabelText(field), text);
    expect(screen.getByText(words)).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Add the part' }).disabled).toBe(true);
  });
});

describe('a part that is there', () => {
  const coat = { ...cast.parts.find((part) => part.id === 'coat')!, colour: '#336699', isNew: false };

  test('is deleted after one question that names what is lost', async () => {
    bench.store.setState({ regionsOfPart: new Map([['coat', 7]]) });
    onBench(<PartDialog draft={coat} cast={cast} scene={null} onClose={onClose} />);
    await user.click(screen.getByRole('button', { name: 'Delete the part' }));
    expect(bench.castChanges).toEqual([]);
    expect(screen.getByText(/7 regions of this page will have no part/)).toBeTruthy();
    const buttons = screen.getAllByRole('button', { name: 'Delete the part', hidden: true });
    await user.click(buttons.at(-1)!);
    expect(bench.castChanges[0]).toMatchObject({ label: 'Delete the part Coat' });
    expect(bench.castChanges[0]!.edits.map((edit) => edit.key).sort()).toEqual(['colour/day/coat', 'part/coat']);
  });

  test('keeps its colour when only its name changes', async () => {
    onBench(<PartDialog draft={coat} cast={cast} scene={null} onClose={onClose} />);
    await user.type(screen.getByLabelText('Name'), ' of arms');
    await user.click(screen.getByRole('button', { name: 'Save' }));
    expect(bench.castChanges[0]!.edits).toEqual([
      { key: 'part/coat', value: { groupId: 'wren', name: 'Coat of arms', order: 0, slot: '1', empty: false } },
    ]);
  });

  test('stands in the sheet with its key and count, and says when it is the current one', async () => {
    const choose = jest.fn();
    bench.store.setState({ regionsOfPart: new Map([['coat', 12]]) });
    onBench(
      <PartRow
        id="coat"
        name="Coat"
        slot="1"
        empty={false}
        colour="#336699"
        real="#336699"
        current
        onChoose={choose}
        onEdit={() => undefined}
      />,
    );
    const row = screen.getByRole('radio', { name: /Coat/ });
    expect(row.getAttribute('aria-checked')).toBe('true');
    expect(screen.getByText('12')).toBeTruthy();
    await user.click(row);
    expect(choose).toHaveBeenCalledTimes(1);
  });
});

describe('a character', () => {
  test('is added under a name of its own', async () => {
    onBench(<GroupDialog group={{ id: null, name: '' }} cast={cast} onClose={onClose} />);
    await user.type(screen.getByLabelText('Name'), 'WREN');
    expect(screen.getByText(/one of this name already/)).toBeTruthy();
    await user.type(screen.getByLabelText('Name'), ' the elder{Enter}');
    expect(bench.castChanges[0]).toMatchObject({
      label: 'Add WREN the elder to the cast',
      edits: [{ value: { name: 'WREN the elder', order: 1 } }],
    });
  });

  test('with parts cannot be deleted', () => {
    onBench(<GroupDialog group={{ id: 'wren', name: 'Wren' }} cast={cast} onClose={onClose} />);
    expect(screen.queryByRole('button', { name: 'Delete' })).toBeNull();
  });
});

test('free keys never are those of the bench', () => {
  const slots = new Set('1234567890abcdfghijklmnoprstuvxyz');
  expect(freeSlot(slots)).toBeNull();
  slots.delete('m');
  expect(freeSlot(slots)).toBe('m');
});

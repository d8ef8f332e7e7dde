import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { ReturnedView } from '@jumble/contracts';
import type { DeliveryRule } from '@jumble/core';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { AnsweringServer } from '../../../tests/AnsweringServer.ts';
import { showView } from '../../../tests/showView.tsx';
import { BenchContext } from '../../state/benchContext.ts';
import { openTestBench, type TestBench } from '../../tests/testBench.ts';
import { hut } from '../../tests/testPages.ts';
import { HandoffPanel } from './HandoffPanel.tsx';

let bench: TestBench;
let server: AnsweringServer;
const user = userEvent.setup();
beforeEach(async () => {
  bench = await openTestBench(hut(12));
  bench.store.setState({ stage: 'handoff', jobName: 'Night tram' });
  Object.assign(bench, { settled: () => Promise.resolve() });
  bench.castChanges.length = 0;
  bench.pushed.length = 0;
  // Steps go to the bench's own server.
  server = new AnsweringServer({ body: [] }, /\/edits$/);
});
afterEach(cleanup);

const show = (children: ReactNode = <HandoffPanel />): void =>
  showView(<BenchContext.Provider value={bench}>{children}</BenchContext.Provider>);
const last = (): DeliveryRule => bench.castChanges.at(-1)!.edits.at(-1)!.value as unknown as DeliveryRule;
const rule = (id: string): DeliveryRule => bench.state.cast!.deliveries.find((one) => one.id === id)!;

describe('a delivery rule', () => {
  const open = async (): Promise<void> => {
    show();
    await user.click(screen.getByRole('button', { name: 'Change' }));
  };

  test('is changed field by field, and kept with the job together with the first ones', async () => {
    await open();
    await user.selectOptions(screen.getByLabelText('Format'), 'TIFF');
    expect(bench.castChanges[0]!.label).toBe('Colourist: as TIFF');
    expect(bench.castChanges[0]!.edits.map(({ key }) => key).sort()).toEqual(['delivery/archive', 'delivery/colourist', 'delivery/printer', 'delivery/proof']); // prettier-ignore
    // From then on they are the job's own.
    await user.selectOptions(screen.getByLabelText('Layers'), 'one a colour');
    expect(bench.castChanges[1]!.edits.map(({ key }) => key)).toEqual(['delivery/colourist']);
    await user.selectOptions(screen.getByLabelText('Line art'), '1 bit, black or nothing');
    await user.click(screen.getByLabelText('A white layer to shade on'));
    await user.click(screen.getByLabelText("With the page's notes"));
    expect(rule('colourist')).toMatchObject({ format: 'tif', layers: 'colour', inkBits: 1, shading: true, notes: false }); // prettier-ignore
  });

  test('shows what names would be, and takes none that does not tell pages apart', async () => {
    await open();
    expect(screen.getAllByText(/^night-tram_page_flats\.ora/).length).toBeGreaterThan(0);
    const names = screen.getByLabelText('Names of files');
    await user.clear(names);
    await user.type(names, '{{job}');
    expect(screen.getByText('must hold one of {page}, {number}')).toBeTruthy();
    await user.type(names, '-{{page}{Enter}');
    expect(last().fileName).toBe('{job}-{page}');
    const layers = screen.getByLabelText('Names of layers');
    await user.clear(layers);
    await user.type(layers, '{{who}');
    expect(screen.getByText('knows only {name}, {group}, {number}')).toBeTruthy();
    await user.keyboard('{Escape}');
    expect(layers).toHaveProperty('value', '{name}');
  });

  test('has colours for print where its format can hold them, and loses them with it', async () => {
    server.answers.set('GET /api/jobs/j/profiles', { body: [{ id: 'press', name: 'Press 4' }] });
    await open();
    expect(screen.queryByLabelText('Colours')).toBeNull();
    await user.selectOptions(screen.getByLabelText('Format'), 'PDF proof');
    await user.selectOptions(screen.getByLabelText('Colours'), 'CMYK, line art in black alone');
    await user.selectOptions(await screen.findByLabelText('Profile'), 'Press 4');
    expect(rule('colourist')).toMatchObject({ format: 'pdf', colours: 'cmyk', profile: 'press' });
    await user.selectOptions(screen.getByLabelText('Format'), 'SVG outlines');
    expect(rule('colourist').colours).toBe('rgb');
    await user.click(screen.getByLabelText('Smooth outlines'));
    expect(rule('colourist').smooth).toBe(true);
  });

  test('says trap, underlap, resolution and how much of the page otherwise than the page does', async () => {
    await open();
    await user.selectOptions(screen.getByLabelText('Rule of the delivery'), 'To the middle of the line');
    await user.selectOptions(screen.getByLabelText('Of the page'), 'up to the bleed');
    const underlap = screen.getByLabelText("Underlap, in px (-1: the job's)");
    await user.clear(underlap);
    await user.type(underlap, '3{Enter}');
    const dpi = screen.getByLabelText("Resolution, in dpi (0: the page's)");
    await user.clear(dpi);
    await user.type(dpi, '600{Enter}');
    expect(rule('colourist')).toMatchObject({ trap: { rule: 'middle' }, area: 'bleed', underlapPx: 3, dpi: 600 });
    // Layers that lie in front of nothing cannot run under each other: that is said, and nothing is built.
    await user.selectOptions(screen.getByLabelText('Their order'), 'by their names');
    expect(screen.getByText(/these layers have none in front of them/)).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Build the hand-off' })).toHaveProperty('disabled', true);
  });

  test('is added, copied and removed; the last one stays', async () => {
    show();
    await user.click(screen.getByRole('button', { name: 'Copy' }));
    await user.type(screen.getByRole('dialog').querySelector('input')!, 'proof');
    expect(screen.getByText('There is one of this name already.')).toBeTruthy();
    await user.type(screen.getByRole('dialog').querySelector('input')!, ' for print');
    await user.click(screen.getByRole('button', { name: 'Add' }));
    expect(last()).toMatchObject({ name: 'proof for print', format: 'ora', order: 4 });
    expect(screen.getByLabelText('Rule')).toHaveProperty('value', bench.state.cast!.deliveries.at(-1)!.id);
    for (let k = 0; k < 4; k++) await user.click(screen.getByRole('button', { name: 'Remove' }));
    expect(bench.state.cast!.deliveries).toHaveLength(1);
    expect(screen.getByRole('button', { name: 'Remove' })).toHaveProperty('disabled', true);
  });

  test('stands beside the notes of the page, which are taken when the field is left', async () => {
    show();
    const notes = screen.getByLabelText('To who gets the flats');
    await user.type(notes, 'Keep the lamp warm.');
    await user.tab();
    expect(bench.pushed.at(-1)!.edits).toEqual([{ key: 'notes', value: 'Keep the lamp warm.' }]);
    await user.clear(notes);
    await user.tab();
    expect(bench.pushed.at(-1)!.edits).toEqual([{ key: 'notes', value: null }]);
  });
});

describe('a file that came back', () => {
  const view = (over: Partial<ReturnedView['report']> = {}): ReturnedView => ({
    id: 'r',
    pageId: 'p',
    fileName: 'back.ora',
    sizeBytes: 9,
    createdAt: '2026-11-30T10:00:00Z',
    report: { recoloured: [], moved: [], movedCount: 0, movedPx: 0, ownLayers: [], removedLayers: [], unknownPx: 0, ...over }, // prettier-ignore
  });
  const listed = async (file: ReturnedView): Promise<HTMLElement> => {
    server.answers.set('GET /api/pages/p/returned', { body: [file] });
    show();
    return screen.findByRole('list', { name: 'Returned files' });
  };

  test('that is as it was sent says so', async () => {
    const list = await listed(view());
    expect(await within(list).findByText('The flats are as they were sent.')).toBeTruthy();
    expect(within(list).getByRole('link', { name: 'back.ora' }).getAttribute('href')).toBe('/api/returned/r/file');
    await user.click(within(list).getByRole('button', { name: 'Remove' }));
    expect(server.asked).toEqual([{ method: 'DELETE', url: '/api/returned/r', body: null }]);
  });

  test('offers its colours one by one or all, for a scene, the job or this page', async () => {
    const [one, two] = bench.state.cast!.parts.filter((part) => !part.empty);
    const colour = (partId: string, to: string) => ({ partId, sceneId: null, from: '#000000', to, areaPx: 9 });
    const list = await listed(view({ recoloured: [colour(one!.id, '#111111'), colour(two!.id, '#222222')] }));
    expect(await within(list).findByText('2 new colours')).toBeTruthy();
    await user.click(within(list).getAllByRole('button', { name: 'Take' })[0]!);
    expect(within(list).getByText('taken')).toBeTruthy();
    await user.selectOptions(within(list).getByLabelText('They count'), 'in the whole job');
    await user.click(within(list).getByRole('button', { name: 'Take' }));
    expect(within(list).getAllByText('taken')).toHaveLength(2);
    expect(bench.castChanges.map(({ label }) => label)).toEqual([`Take the new colour of ${one!.name}`, `Take the new colour of ${two!.name} in all scenes`]); // prettier-ignore
  });

  test('shows what moved, takes it, and tells of layers that are not ours', async () => {
    const place = { x: 4, y: 5, width: 6, height: 7, areaPx: 30, from: null, to: null };
    const list = await listed(
      view({ moved: [place, place], movedCount: 2, movedPx: 60, ownLayers: ['Glow'], removedLayers: ['Hat'], unknownPx: 1200 }), // prettier-ignore
    );
    expect(await within(list).findByText('2 places')).toBeTruthy();
    await user.click(within(list).getByRole('button', { name: 'Show the next' }));
    await user.click(within(list).getByRole('button', { name: 'Show the next' }));
    expect(within(list).getByText(/shown: 2 of 2/)).toBeTruthy();
    for (const words of [
      'Kept aside, untouched: Glow',
      'Did not come back: Hat',
      '1,200 px are in colours that no part has.',
    ])
      expect(within(list).getByText(words)).toBeTruthy();
    const edits = [{ key: 'tile/0,0', value: { parts: ['x'], runs: [1, 4096] } }];
    server.answers.set('GET /api/returned/r/corrections', { body: { edits } });
    await user.click(within(list).getByRole('button', { name: 'Take as corrections' }));
    await waitFor(() => expect(bench.pushed.at(-1)?.label).toBe('Take what moved in back.ora'));
  });
});

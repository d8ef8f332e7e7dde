import {
  assignRegions,
  colourOfPart,
  editFill,
  editKey,
  editRuling,
  parseColour,
  type Fill,
  type KeyMatch,
  type KeyPlace,
  type KeyProposal,
  type KeyRaster,
  type ResolvedFills,
} from '@jumble/core';
import type { ReferencePictureView } from '@jumble/contracts';
import { mutate } from 'swr';
import { problemOf, request } from '../../../api/http.ts';
import { counted } from '../../../measures.ts';
import { settleDivision } from '../../page/division.ts';
import { previewPart } from '../../page/parts.ts';
import { refresh } from '../../page/show.ts';
import type { Bench } from '../../state/Bench.ts';
import { stampAfter, type BenchState } from '../../state/benchState.ts';
import type { KeyOnPage } from './flatsState.ts';
import { readKeyFile } from './readKeyFile.ts';
import { setFlats, setKeyWork } from './setFlats.ts';

/** Proposals of a key from this confidence on are taken without a look, unless the flatter says otherwise. */
const SURE_FROM = 0.85;
/** The page's regions have to explain so much of a key, and so much more than of the key lying the wrong way round. */
const LEAST_EXPLAINED = 0.6;
const LEAST_MATCH = 0.1;

/** Keeps a key among the job's reference pictures. @returns what it is kept as. */
async function keepPicture(jobId: string, file: File): Promise<string> {
  const form = new FormData();
  form.append('file', file);
  const url = `/api/jobs/${jobId}/references`;
  const { id } = await request<ReferencePictureView>('POST', url, form);
  // The list beside the cast sheet shows it too.
  await mutate(url);
  return id;
}

async function fetchPicture(picture: string, name: string): Promise<KeyRaster> {
  const response = await fetch(`/api/references/${picture}/picture`);
  if (response.status === 404) throw new Error(`The key "${name}" is no longer there. Load it again.`);
  if (!response.ok) throw await problemOf(response);
  return readKeyFile(new File([await response.blob()], name));
}

/** Takes a file as the key of this page: lays it, and keeps it with the page. */
export async function loadKey(bench: Bench, file: File): Promise<void> {
  const jobId = bench.state.page?.jobId;
  if (jobId === undefined) return;
  const raster = await readKeyFile(file);
  setKeyWork(bench, { loading: true });
  try {
    await layKey(bench, file.name, raster);
    const picture = await keepPicture(jobId, file);
    const { key } = bench.state.flats;
    // It was put away, or another one was laid meanwhile.
    if (key === null || key.raster !== raster) return;
    setFlats(bench, { key: { ...key, picture } });
    bench.push({ label: 'Lay a key', edits: [editKey({ picture, name: file.name })] });
  } finally {
    setKeyWork(bench, { loading: false });
    await takeIfAsked(bench);
  }
}

/** Lays the key that is kept with the page, or puts it away, where the page came to say something else. */
export async function followKey(bench: Bench): Promise<void> {
  const { document: page, flats, survey } = bench.state;
  if (page === null || survey === null || flats.way !== 'key') return;
  const laid = flats.key?.picture ?? null;
  if (page.key === null) {
    if (laid !== null) putAway(bench);
    return;
  }
  const { picture, name } = page.key;
  if (picture === laid || picture === flats.keyWork.fetching) return;
  setKeyWork(bench, { fetching: picture });
  try {
    await layKey(bench, name, await fetchPicture(picture, name), null, picture);
  } catch (error) {
    bench.fail(error as Error);
  } finally {
    setKeyWork(bench, { fetching: null });
  }
}

/** Lays a key over the page and reads it. @param picture what it is kept as. */
export async function layKey(
  bench: Bench,
  name: string,
  raster: KeyRaster,
  place: KeyPlace | null = null,
  picture: string | null = null,
): Promise<void> {
  const { cast, document: page, flats } = bench.state;
  if (cast === null || page === null) return;
  // Of two keys, or of one in two places, the later counts.
  bench.engine.stopReadingKey();
  const before = flats.key?.match ?? null;
  const laid: KeyOnPage = {
    name,
    picture,
    raster,
    match: before === null || place === null ? before : { ...before, place },
    reading: null,
    share: 0,
    takeOnceWhole: false,
    splits: [],
    sureFrom: flats.key?.sureFrom ?? SURE_FROM,
  };
  setKeyWork(bench, { laying: laid });
  setFlats(bench, { key: laid });
  // What is left empty shows paper.
  const parts = cast.parts.map(({ id, empty, groupId }) => ({
    id,
    group: groupId,
    rgb: empty ? 0xffffff : parseColour(colourOfPart(cast, id, page.scene)),
  }));
  await bench.turns.run(async () => {
    try {
      if (bench.state.flats.keyWork.laying !== laid) return;
      const read = await bench.engine.readKey(
        raster,
        place,
        parts,
        (share) => showMore(bench, laid, { share }),
        ({ match, reading }) => {
          showMore(bench, laid, { match, reading });
          refresh(bench);
        },
      );
      showMore(bench, laid, { match: read.match, reading: read.reading, splits: read.splits, share: 1 });
      refresh(bench);
    } catch (error) {
      if (bench.state.flats.keyWork.laying !== laid) return;
      putAway(bench);
      throw error;
    }
  });
  if (!bench.state.flats.keyWork.loading) await takeIfAsked(bench);
}

/** Takes a key that was asked for before all of it was known. */
async function takeIfAsked(bench: Bench): Promise<void> {
  const { key } = bench.state.flats;
  if (key?.takeOnceWhole !== true || key.reading?.isWhole !== true) return;
  setFlats(bench, { key: { ...key, takeOnceWhole: false } });
  // A key of another page is looked at first.
  if (key.match !== null && keyFits(key.match)) await takeKey(bench);
}

/** Shows more of a key while it is the one that is laid; it may have been kept meanwhile. */
function showMore(bench: Bench, laid: KeyOnPage, more: Partial<KeyOnPage>): void {
  const { key } = bench.state.flats;
  if (key !== null && bench.state.flats.keyWork.laying === laid) setFlats(bench, { key: { ...key, ...more } });
}

/** Moves the key by page px. */
export function nudgeKey(bench: Bench, dx: number, dy: number): void {
  const { key } = bench.state.flats;
  if (key === null || key.match === null) return;
  const { place } = key.match;
  const moved = {
    ...place,
    shiftX: place.shiftX - dx * place.scaleX,
    shiftY: place.shiftY - dy * place.scaleY,
  };
  void layKey(bench, key.name, key.raster, moved, key.picture);
}

/** Puts the key away; the picture stays among the references. */
export function dropKey(bench: Bench): void {
  const isKept = bench.state.document?.key !== null;
  putAway(bench);
  if (isKept) bench.push({ label: 'Put the key away', edits: [editKey(null)] });
}

function putAway(bench: Bench): void {
  setKeyWork(bench, { laying: null });
  bench.engine.stopReadingKey();
  setFlats(bench, { key: null });
  refresh(bench);
}

/** Proposals of the key for regions that have no part, or none that is sure. */
function proposed({ flats, resolved }: BenchState): readonly KeyProposal[] {
  if (resolved === null) return [];
  return (flats.key?.reading?.proposals ?? []).filter((one) => mayPropose(one.region, resolved));
}

/** Shows what the key proposes, as if it was taken. */
export function previewKey(bench: Bench): void {
  const { flats } = bench.state;
  // What done pages propose is looked at by itself.
  if (flats.way !== 'key' || flats.examples !== null) return;
  const ofPart = new Map<string, number[]>();
  for (const { region, part } of proposed(bench.state)) {
    const list = ofPart.get(part);
    if (list === undefined) ofPart.set(part, [region]);
    else list.push(region);
  }
  for (const [part, regions] of ofPart) previewPart(bench, regions, part);
}

export function setSureFrom(bench: Bench, sureFrom: number): void {
  const { key } = bench.state.flats;
  if (key !== null) setFlats(bench, { key: { ...key, sureFrom } });
}

/** Takes the key's proposals for regions without a part, once all of them are known; the doubtful ones are listed to be looked at. */
export async function takeKey(bench: Bench): Promise<void> {
  const { flats, survey, document: page, resolved } = bench.state;
  const { key } = flats;
  if (key === null || survey === null || page === null || resolved === null) return;
  if (key.reading?.isWhole !== true) {
    setFlats(bench, { key: { ...key, takeOnceWhole: true } });
    return;
  }
  const stamp = stampAfter(page);
  const proposals = proposed(bench.state);
  const cleared = assignRegions(
    survey,
    page.fills,
    resolved,
    proposals.map((one) => one.region),
    null,
    stamp,
  );
  const assigned = proposals.map(({ region, part, confidence }) => {
    const at = survey.regions.anchor[region]!;
    const x = at % survey.width;
    const y = (at - x) / survey.width;
    const sure = confidence >= key.sureFrom;
    const fill: Fill = { part, anchors: [[x, y]], stamp, by: 'key', ...(sure ? {} : { look: 'key' }) };
    return editFill(`${x},${y}`, fill);
  });
  // A region in several colours leaks: the cuts between them close, and each piece has its own.
  const open = new Set(proposals.map((one) => one.region));
  const split = key.splits
    .filter((one) => open.has(one.region))
    .flatMap(({ closures, pieces }) => [
      ...closures.map((key) => editRuling(key, 'closed')),
      ...pieces.map(({ part, at }) => {
        const x = at % survey.width;
        const y = (at - x) / survey.width;
        return editFill(`${x},${y}`, { part, anchors: [[x, y]], stamp: stamp + 1, by: 'key' });
      }),
    ]);
  const edits = [...new Map([...cleared, ...assigned, ...split].map((edit) => [edit.key, edit])).values()];
  const label = `Accept ${counted(assigned.length, 'part')} from the key`;
  if (split.length > 0) await settleDivision(bench, label, edits);
  else if (assigned.length > 0) bench.push({ label, edits });
}

/** A key speaks where nothing is decided: no part, or one that somebody still has to look at. */
export function mayPropose(region: number, { partOfRegion, looks }: ResolvedFills): boolean {
  return partOfRegion[region] === null || looks.has(region);
}

/** Whether a key belongs to the page it lies on. */
export function keyFits(match: KeyMatch): boolean {
  return match.explained >= Math.max(LEAST_EXPLAINED, match.elsewhere + LEAST_MATCH);
}

/** How many proposals of a key are taken as they are, and how many have to be looked at. */
export function countProposals(
  { reading, sureFrom }: KeyOnPage,
  resolved: ResolvedFills | null,
): { readonly sure: number; readonly doubtful: number } {
  let [sure, doubtful] = [0, 0];
  for (const { region, confidence } of reading?.proposals ?? []) {
    if (resolved === null || !mayPropose(region, resolved)) continue;
    if (confidence >= sureFrom) sure++;
    else doubtful++;
  }
  return { sure, doubtful };
}

/** Regions have other numbers than a key proposes for: it is read anew. */
export function rereadKey(bench: Bench): void {
  const { key } = bench.state.flats;
  if (key?.reading !== null && key?.reading !== undefined)
    void layKey(bench, key.name, key.raster, key.match?.place ?? null, key.picture);
}

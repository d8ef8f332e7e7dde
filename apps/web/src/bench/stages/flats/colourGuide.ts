import {
  assignRegions,
  colourOfPart,
  editFill,
  editGuide,
  editRuling,
  parseColour,
  type Fill,
  type GuideMatch,
  type GuidePlace,
  type GuideProposal,
  type GuideRaster,
  type ResolvedFills,
  stampAfter,
} from '@jumble/core';
import type { ReferencePictureView } from '@jumble/contracts';
import { mutate } from 'swr';
import { problemOf, request } from '../../../api/http.ts';
import { counted } from '../../../measures.ts';
import { settleDivision } from '../../page/division.ts';
import { previewPart } from '../../page/parts.ts';
import { refresh } from '../../page/show.ts';
import type { Bench } from '../../state/Bench.ts';
import type { BenchState } from '../../state/benchState.ts';
import type { GuideOnPage } from './flatsState.ts';
import { readGuideFile } from './readGuideFile.ts';
import { setFlats, setGuideWork } from './setFlats.ts';

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

async function fetchPicture(picture: string, name: string): Promise<GuideRaster> {
  const response = await fetch(`/api/references/${picture}/picture`);
  if (response.status === 404) throw new Error(`The key "${name}" is no longer there. Load it again.`);
  if (!response.ok) throw await problemOf(response);
  return readGuideFile(new File([await response.blob()], name));
}

/** Takes a file as the key of this page: lays it, and keeps it with the page. */
export async function loadGuide(bench: Bench, file: File): Promise<void> {
  const jobId = bench.state.page?.jobId;
  if (jobId === undefined) return;
  const raster = await readGuideFile(file);
  setGuideWork(bench, { loading: true });
  try {
    await layGuide(bench, file.name, raster);
    const picture = await keepPicture(jobId, file);
    const { guide } = bench.state.flats;
    // It was put away, or another one was laid meanwhile.
    if (guide === null || guide.raster !== raster) return;
    setFlats(bench, { guide: { ...guide, picture } });
    bench.push({ label: 'Lay a key', edits: [editGuide({ picture, name: file.name })] });
  } finally {
    setGuideWork(bench, { loading: false });
    await takeIfAsked(bench);
  }
}

/** Lays the key that is kept with the page, or puts it away, where the page came to say something else. */
export async function followGuide(bench: Bench): Promise<void> {
  const { document: page, flats, survey } = bench.state;
  if (page === null || survey === null || flats.way !== 'key') return;
  const laid = flats.guide?.picture ?? null;
  if (page.guide === null) {
    if (laid !== null) putAway(bench);
    return;
  }
  const { picture, name } = page.guide;
  if (picture === laid || picture === flats.guideWork.fetching) return;
  setGuideWork(bench, { fetching: picture });
  try {
    await layGuide(bench, name, await fetchPicture(picture, name), null, picture);
  } catch (error) {
    bench.fail(error as Error);
  } finally {
    setGuideWork(bench, { fetching: null });
  }
}

/** Lays a key over the page and reads it. @param picture what it is kept as. */
export async function layGuide(
  bench: Bench,
  name: string,
  raster: GuideRaster,
  place: GuidePlace | null = null,
  picture: string | null = null,
): Promise<void> {
  const { cast, document: page, flats } = bench.state;
  if (cast === null || page === null) return;
  // Of two keys, or of one in two places, the later counts.
  bench.engine.stopReadingGuide();
  const before = flats.guide?.match ?? null;
  const laid: GuideOnPage = {
    name,
    picture,
    raster,
    match: before === null || place === null ? before : { ...before, place },
    reading: null,
    share: 0,
    takeOnceWhole: false,
    splits: [],
    sureFrom: flats.guide?.sureFrom ?? SURE_FROM,
  };
  setGuideWork(bench, { laying: laid });
  setFlats(bench, { guide: laid });
  // What is left empty shows paper.
  const parts = cast.parts.map(({ id, empty, groupId }) => ({
    id,
    group: groupId,
    rgb: empty ? 0xffffff : parseColour(colourOfPart(cast, id, page.scene)),
  }));
  await bench.turns.run(async () => {
    try {
      if (bench.state.flats.guideWork.laying !== laid) return;
      const read = await bench.engine.readGuide(
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
      if (bench.state.flats.guideWork.laying !== laid) return;
      putAway(bench);
      throw error;
    }
  });
  if (!bench.state.flats.guideWork.loading) await takeIfAsked(bench);
}

/** Takes a key that was asked for before all of it was known. */
async function takeIfAsked(bench: Bench): Promise<void> {
  const { guide } = bench.state.flats;
  if (guide?.takeOnceWhole !== true || guide.reading?.isWhole !== true) return;
  setFlats(bench, { guide: { ...guide, takeOnceWhole: false } });
  // A key of another page is looked at first.
  if (guide.match !== null && guideFits(guide.match)) await takeGuide(bench);
}

/** Shows more of a key while it is the one that is laid; it may have been kept meanwhile. */
function showMore(bench: Bench, laid: GuideOnPage, more: Partial<GuideOnPage>): void {
  const { guide } = bench.state.flats;
  if (guide !== null && bench.state.flats.guideWork.laying === laid) setFlats(bench, { guide: { ...guide, ...more } });
}

/** Moves the key by page px. */
export function nudgeGuide(bench: Bench, dx: number, dy: number): void {
  const { guide } = bench.state.flats;
  if (guide === null || guide.match === null) return;
  const { place } = guide.match;
  const moved = {
    ...place,
    shiftX: place.shiftX - dx * place.scaleX,
    shiftY: place.shiftY - dy * place.scaleY,
  };
  void layGuide(bench, guide.name, guide.raster, moved, guide.picture);
}

/** Puts the key away; the picture stays among the references. */
export function dropGuide(bench: Bench): void {
  const isKept = bench.state.document?.guide !== null;
  putAway(bench);
  if (isKept) bench.push({ label: 'Put the key away', edits: [editGuide(null)] });
}

function putAway(bench: Bench): void {
  setGuideWork(bench, { laying: null });
  bench.engine.stopReadingGuide();
  setFlats(bench, { guide: null });
  refresh(bench);
}

/** Proposals of the key for regions that have no part, or none that is sure. */
function proposed({ flats, resolved }: BenchState): readonly GuideProposal[] {
  if (resolved === null) return [];
  return (flats.guide?.reading?.proposals ?? []).filter((one) => mayPropose(one.region, resolved));
}

/** Shows what the key proposes, as if it was taken. */
export function previewGuide(bench: Bench): void {
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
  const { guide } = bench.state.flats;
  if (guide !== null) setFlats(bench, { guide: { ...guide, sureFrom } });
}

/** Takes the key's proposals for regions without a part, once all of them are known; the doubtful ones are listed to be looked at. */
export async function takeGuide(bench: Bench): Promise<void> {
  const { flats, survey, document: page, resolved } = bench.state;
  const { guide } = flats;
  if (guide === null || survey === null || page === null || resolved === null) return;
  if (guide.reading?.isWhole !== true) {
    setFlats(bench, { guide: { ...guide, takeOnceWhole: true } });
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
    const sure = confidence >= guide.sureFrom;
    const fill: Fill = { part, anchors: [[x, y]], stamp, by: 'key', ...(sure ? {} : { look: 'key' }) };
    return editFill(`${x},${y}`, fill);
  });
  // A region in several colours leaks: the cuts between them close, and each piece has its own.
  const open = new Set(proposals.map((one) => one.region));
  const split = guide.splits
    .filter((one) => open.has(one.region))
    .flatMap(({ closures, pieces }) => [
      ...closures.map((closure) => editRuling(closure, 'closed')),
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
export function guideFits(match: GuideMatch): boolean {
  return match.explained >= Math.max(LEAST_EXPLAINED, match.elsewhere + LEAST_MATCH);
}

/** How many proposals of a key are taken as they are, and how many have to be looked at. */
export function countProposals(
  { reading, sureFrom }: GuideOnPage,
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
export function rereadGuide(bench: Bench): void {
  const { guide } = bench.state.flats;
  if (guide?.reading !== null && guide?.reading !== undefined)
    void layGuide(bench, guide.name, guide.raster, guide.match?.place ?? null, guide.picture);
}

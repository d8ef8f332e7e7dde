import { readFile } from 'node:fs/promises';
import { gunzipSync } from 'node:zlib';
import {
  canRunUnder,
  findLinePieces,
  findLowContrast,
  findPanels,
  findPieceSides,
  findTrapInk,
  hasLayers,
  holdInputOf,
  openSurvey,
  paintHolds,
  panelOfPoints,
  readCorrections,
  readInk,
  renderPage,
  resolvePage,
  scenesOfPage,
  scenesShown,
  trapOfRegions,
  unpackCuts,
  type DeliveryRule,
  type GreyRaster,
  type OpenSurvey,
  type OtherInk,
  type StoredCuts,
} from '@jumble/core';
import type { HandoffInput } from '@jumble/formats';
import type { PageInput } from './tasks.ts';

/** A page that is open, and whether its gaps were known before. */
interface OpenedPage {
  readonly key: string;
  readonly open: OpenSurvey;
  readonly cutsKnown: boolean;
}

/** The page opened last is kept: most tasks follow edits of the same page. */
let last: OpenedPage | undefined;

export async function fullInk({ full, others, prep, ownBounds }: PageInput): Promise<HandoffInput['full']> {
  if (full === null) return undefined;
  const { width, height } = full;
  const grey = await readGrey(full.greyPath, width, height);
  const further: OtherInk[] = [];
  for (const { fullGreyPath, bounds } of others) {
    if (fullGreyPath !== null) further.push({ grey: await readGrey(fullGreyPath, width, height), bounds });
  }
  // A speck of one pixel at half size is one of four.
  const atFull = { ...prep, speckLimitPx2: prep.speckLimitPx2 === null ? null : 4 * prep.speckLimitPx2 };
  const { printed } = readInk(grey, atFull, further, ownBounds, (bytes) => new ArrayBuffer(bytes));
  return { width, height, inkAlpha: printed };
}

export async function readGrey(path: string, width: number, height: number): Promise<GreyRaster> {
  const data = gunzipSync(await readFile(path));
  const aligned =
    (data.byteOffset & 3) === 0 ? new Uint8Array(data.buffer, data.byteOffset, data.length) : new Uint8Array(data);
  return { width, height, data: aligned };
}

export async function openPage(page: PageInput): Promise<OpenSurvey> {
  return (await readPage(page)).open;
}

/** Cuts kept beside the page; null where there are none, or none that can be read: they are found again. */
async function knownCuts({ cutsPath, width, height }: PageInput): Promise<StoredCuts | null> {
  if (cutsPath === null) return null;
  try {
    return unpackCuts(gunzipSync(await readFile(cutsPath)).toString('utf8'), width * height);
  } catch {
    return null;
  }
}

export async function readPage(page: PageInput): Promise<OpenedPage> {
  const key = JSON.stringify([
    page.greyPath,
    page.prep,
    page.drawn,
    page.rulings,
    page.others,
    page.ownBounds,
    page.solids,
  ]);
  if (last?.key !== key) {
    last = undefined;
    const grey = await readGrey(page.greyPath, page.width, page.height);
    const others: OtherInk[] = [];
    for (const { greyPath, bounds } of page.others) {
      others.push({ grey: await readGrey(greyPath, page.width, page.height), bounds });
    }
    const known = await knownCuts(page);
    const options = {
      known,
      rulings: new Map(page.rulings),
      drawn: page.drawn,
      others,
      ownBounds: page.ownBounds,
      solids: page.solids,
    };
    last = { key, open: openSurvey(grey, page.prep, options), cutsKnown: known !== null };
  }
  return last;
}

/** What goes out of a page, with how far it is. */
interface DrawnInput extends HandoffInput {
  readonly filledCount: number;
  /** Coloured lines that come too near to the colour beside them. */
  readonly faintLines: number;
}

export async function handoffInput(page: PageInput): Promise<DrawnInput> {
  const open = await openPage(page);
  const { survey } = open;
  const known = new Set(page.groups.flatMap((group) => group.parts.map((part) => part.id)));
  const partOf = (part: string): string | null => (known.has(part) ? part : null);
  const corrections = readCorrections(survey.width, new Map(page.tiles), partOf);
  const { partOfRegion, filledCount } = resolvePage(survey, new Map(page.fills), corrections, partOf);
  const sceneOfRegion = scenesOfPage(survey, page).ofRegion;
  const trap = trapOfRegions(survey, {
    job: page.jobTrap,
    page: { trap: page.trap, areas: new Map(page.areas), panels: page.panels },
    parts: page.groups.flatMap((group) => group.parts),
    partOfRegion,
    dpi: page.dpi,
  });
  const plain: DrawnInput = {
    survey,
    partOfRegion,
    sceneOfRegion,
    groups: page.groups,
    corrections,
    trap,
    trapInk: findTrapInk(survey, trap),
    underlapPx: 0,
    split: 'single',
    dpi: null,
    scratch: false,
    filledCount,
    faintLines: 0,
  };
  return page.holds.length + page.lineStrokes.length === 0 ? plain : { ...plain, ...colourLines(open, page, plain) };
}

/** The lines of a page in the colours of its rules. */
function colourLines(
  open: OpenSurvey,
  page: PageInput,
  input: HandoffInput,
): Required<Pick<DrawnInput, 'holds' | 'faintLines'>> {
  const pieces = findLinePieces(open.base, open.survey, page.lineEdits);
  const holdInput = holdInputOf({
    pieces,
    sides: findPieceSides(pieces, open.survey),
    groups: page.groups,
    partOfRegion: input.partOfRegion,
    scenes: { ids: scenesShown(page), ofRegion: input.sceneOfRegion! },
    flats: () => {
      const { parts, rgbOfPart } = renderPage(input);
      return { width: parts.width, height: parts.height, data: parts.data, rgb: rgbOfPart };
    },
  });
  const painted = paintHolds(holdInput, page.holds, page.lineStrokes);
  const { sides, parts, rgbOf } = holdInput;
  return {
    holds: { pieces, paint: painted.paint },
    faintLines: findLowContrast(pieces, sides, parts, painted, rgbOf, page.holdLimits).length,
  };
}

/** The input of a hand-off by a rule, at the size the page is worked on. */
export async function inputByRule(
  page: PageInput,
  rule: Pick<DeliveryRule, 'format' | 'layers' | 'layerOrder' | 'layerName' | 'holds'>,
): Promise<HandoffInput> {
  const input: HandoffInput = {
    ...(await handoffInput(page)),
    underlapPx: canRunUnder(rule) ? page.jobTrap.underlapPx : 0,
    split: hasLayers(rule.format) ? rule.layers : 'single',
    layerOrder: rule.layerOrder,
    layerName: rule.layerName,
    lines: rule.holds,
  };
  return rule.layers === 'panel' ? withPanels(input, page) : input;
}

/** Layers by panel need the page's panels, corrected or found. */
function withPanels(input: HandoffInput, { panels }: PageInput): HandoffInput {
  const { inkAlpha, width, height, regions } = input.survey;
  const known = panels?.map(({ points }) => ({ points, framed: true })) ?? findPanels(inkAlpha, width, height);
  return { ...input, panelOfRegion: panelOfPoints(known, regions.anchor, width) };
}

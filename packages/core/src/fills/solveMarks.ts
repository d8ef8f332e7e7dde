import { coarsePaper } from '../gaps/findCuts.ts';
import { traceLeak } from '../gaps/leak/traceLeak.ts';
import { editDrawn, editFill, editRuling } from '../page/pageEdits.ts';
import type { Fill, FillLook, PageDocument } from '../model/PageDocument.ts';
import type { RecordEdit } from '../model/records.ts';
import { keyOfCut } from '../gaps/proposals/handCut.ts';
import { bordersOf } from '../survey/bordersOf.ts';
import { type PixelBox, joinBoxes } from '../survey/recutPage.ts';
import type { WorkingPage } from '../survey/WorkingPage.ts';
import type { Survey } from '../model/Survey.ts';
import { resolveFills } from './resolveFills.ts';
import { DEFAULT_SPREAD, type MarkSpread, type SpreadOptions, spreadMarks } from './spreadMarks.ts';

/** What marks come to on a page. */
export interface SolvedMarks {
  /** The page as it is cut then. */
  readonly survey: Survey;
  readonly spread: MarkSpread;
  /** Keys of closures that part what two marks shared: each across the narrowest place between them. */
  readonly drawn: readonly string[];
  /** The paper that has other cells now, as {@link WorkingPage.cut} says it; null for none. */
  readonly changed: PixelBox | null;
  /** What the marks were kept to: see {@link solveMarks}. */
  readonly within: ((anchor: number) => boolean) | null;
}

/** A shared cell may be shared by more than two: so often the page is cut anew at most. */
const MOST_ROUNDS = 4;

/**
 * Spreads the marks of a page. Where two parts are marked in one open shape, it is parted across the
 * narrowest place between the marks, and the marks spread again: the page is cut by it.
 *
 * @param document its fills that were given by hand stand; its rulings and closures bound.
 * @param within whether a region, by a pixel deep inside it, may be given; null for the whole page.
 */
export function solveMarks(
  page: WorkingPage,
  document: Pick<PageDocument, 'marks' | 'fills' | 'rulings' | 'drawn'>,
  options: SpreadOptions = DEFAULT_SPREAD,
  within: ((anchor: number) => boolean) | null = null,
): SolvedMarks {
  const byHand = new Map([...document.fills].filter(([, fill]) => fill.by === undefined));
  const marks = [...document.marks.values()];
  const drawn: string[] = [];
  let changed: PixelBox | null = null;
  for (let round = 0; ; round++) {
    const { base, survey } = page;
    const { width, height, regions } = survey;
    const spread = spreadMarks(
      {
        survey,
        borders: bordersOf(page),
        marks,
        heldParts: resolveFills(survey, byHand, (part) => part).partOfRegion,
        within: within === null ? null : Uint8Array.from(regions.anchor, (at) => (within(at) ? 1 : 0)),
      },
      options,
    );
    const { paper, paperFactor } = base.found ?? coarsePaper(base.inkMask, width, height);
    const cuts =
      round >= MOST_ROUNDS
        ? []
        : spread.shared.map((two) => traceLeak(survey, paper, paperFactor, two.from, two.to)?.cut);
    const keys = [...new Set(cuts.flatMap((cut) => (cut === null || cut === undefined ? [] : [keyOfCut(cut)])))].filter(
      (key) => !drawn.includes(key) && !document.drawn.includes(key),
    );
    if (keys.length === 0) return { survey, spread, drawn, changed, within };
    drawn.push(...keys);
    const box = page.cut([...document.drawn, ...drawn].sort(), survey.maxGapPx, document.rulings);
    changed = joinBoxes(changed, box);
  }
}

/**
 * The edits that turn spread marks into fills: cuts between parts are closed, what was spread before makes
 * way. What was not sure is marked to be looked at.
 *
 * @param stamp of the fills.
 */
export function editsOfSpread(
  document: Pick<PageDocument, 'fills'>,
  { survey, spread, drawn, within }: SolvedMarks,
  stamp: number,
): RecordEdit[] {
  const edits = new Map<string, Fill | null>();
  const byHand = new Map<string, Fill>();
  for (const [key, fill] of document.fills) {
    // What marks gave elsewhere stays when they are spread in one panel alone.
    if (fill.by === 'mark' && isWithin(survey, fill, within)) edits.set(key, null);
    else byHand.set(key, fill);
  }
  const held = resolveFills(survey, byHand, (part) => part).partOfRegion;
  const looks = new Map(spread.looks.map(({ cell, why }) => [cell, why]));
  for (const [name, cells] of groupCells(survey, spread, looks)) {
    const { region, part, why } = name;
    if (held[region] !== null) continue;
    const anchors = cells.map((cell): readonly [number, number] => {
      const at = survey.graph.anchor[cell]!;
      const x = at % survey.width;
      return [x, (at - x) / survey.width];
    });
    edits.set(`${anchors[0]![0]},${anchors[0]![1]}`, {
      part,
      anchors,
      stamp,
      by: 'mark',
      ...(why === null ? {} : { look: why }),
    });
  }
  return [
    ...spread.closures.map((key) => editRuling(key, 'closed')),
    ...drawn.map((key) => editDrawn(key, true)),
    ...[...edits].map(([key, fill]) => editFill(key, fill)),
  ];
}

function isWithin({ width, field, regions }: Survey, { anchors }: Fill, within: SolvedMarks['within']): boolean {
  if (within === null) return true;
  return anchors.some(([x, y]) => {
    const cell = field[y * width + x] ?? -1;
    return cell >= 0 && within(regions.anchor[regions.ofCell[cell]!]!);
  });
}

interface CellGroup {
  readonly region: number;
  readonly part: string;
  readonly why: FillLook | null;
}

/** Cells with a part by region, part and reason to look; crumbs go with the rest of their region. */
function groupCells(
  { graph, regions, crumbLimitPx2 }: Pick<Survey, 'graph' | 'regions' | 'crumbLimitPx2'>,
  { partOfCell }: MarkSpread,
  looks: ReadonlyMap<number, FillLook>,
): Map<CellGroup, number[]> {
  const groups = new Map<string, CellGroup>();
  const cells = new Map<CellGroup, number[]>();
  const { count, areaPx } = graph.cells;
  const largest = new Int32Array(regions.count).fill(-1);
  for (let cell = 0; cell < count; cell++) {
    const known = largest[regions.ofCell[cell]!]!;
    if (known < 0 || areaPx[cell]! > areaPx[known]!) largest[regions.ofCell[cell]!] = cell;
  }
  for (let cell = 0; cell < count; cell++) {
    const part = partOfCell[cell] ?? null;
    const region = regions.ofCell[cell]!;
    if (part === null || (areaPx[cell]! < crumbLimitPx2 && largest[region] !== cell)) continue;
    const why = looks.get(cell) ?? null;
    const name = `${region} ${part} ${why ?? ''}`;
    let group = groups.get(name);
    if (group === undefined) {
      groups.set(name, (group = { region, part, why }));
      cells.set(group, []);
    }
    cells.get(group)!.push(cell);
  }
  return cells;
}

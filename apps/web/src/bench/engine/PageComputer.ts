import {
  checkPage,
  type Finding,
  autoMaxGap,
  buildPyramid,
  coarsePaper,
  contourGroups,
  describeRegions,
  editsOfSpread,
  findChanges,
  findPanels,
  findTouching,
  findTrapFaults,
  findTrapInk,
  greyAround,
  joinBoxes,
  measureLineArt,
  measureSkew,
  neighbourRegions,
  openSurvey,
  panelOfPoints,
  proposeFromExamples,
  readInk,
  readGuideInTurns,
  refreshPyramid,
  registerGuide,
  silhouetteInLoop,
  solveMarks,
  splitByGuide,
  stampAfter,
  floodFrom,
  traceLeak,
  type CellGroups,
  type Change,
  type ExamplePage,
  type ExampleProposal,
  type GuidePart,
  type GuidePlace,
  type GuideRaster,
  type LeakTrace,
  type LineArtFacts,
  type MeasuringStep,
  type OtherInk,
  type PageDocument,
  type PagePanel,
  type PixelBox,
  type PyramidLevel,
  type RecordEdit,
  type Silhouette,
  type Skew,
  type Flood,
  type RegionTrap,
  type SpreadOptions,
  type Survey,
  type SurveyStep,
  type TrapFault,
  type TrapInk,
  type WorkingPage,
  widestLine,
} from '@jumble/core';
import { transfer } from 'comlink';
import { aborted } from './abort.ts';
import type {
  DivideBy,
  GuideRead,
  GuideSeen,
  CheckBy,
  HoldsBy,
  ReadFrom,
  ShownHolds,
  ShownSurvey,
} from './messages.ts';
import { cutsAt, PageFiles } from './PageFiles.ts';
import { PageLines } from './PageLines.ts';

type Point = readonly [number, number];
/** Tells how far something is, 0..1. */
export type OnStep = (text: string, share: number) => void;

/** A page as it was read. */
export interface ReadPage {
  readonly survey: ShownSurvey;
  readonly levels: readonly PyramidLevel[];
  /** The page's own file as it came, one byte a pixel. */
  readonly original: Uint8Array;
}

const STEP: Record<SurveyStep, readonly [text: string, share: number]> = {
  ink: ['The trap is worked out', 0.45],
  trap: ['The lines are measured', 0.6],
  measure: ['The gaps are found', 0.65],
  gaps: ['The regions are found', 0.85],
  label: ['The regions are divided', 0.9],
  divide: ['The page is made ready to be shown', 0.95],
};

/** How often it is told how far a key is read. */
const GUIDE_STEP_MS = 60;

/**
 * Everything that is computed on one page: it is read once, and answers from then on. It lives in a worker; rasters are
 * shared with who asks, tables are copied. Questions are answered one after the other, in the order they are asked.
 */
export class PageComputer {
  private page: WorkingPage | null = null;
  private from: ReadFrom | null = null;
  private levels: PyramidLevel[] = [];
  /** The paper that has other cells than when a division was last answered. */
  private changed: PixelBox | null = null;
  /** Measuring that is under way; null stops it. */
  private describing: object | null = null;
  private lines: PageLines;
  private readonly files: PageFiles;

  constructor(private readonly allocate: (bytes: number) => ArrayBufferLike) {
    this.files = new PageFiles(allocate);
    this.lines = new PageLines(allocate);
  }

  /**
   * Reads a page.
   *
   * @param cutsUrl of gaps that were found before by this very reading; null: they are found now.
   */
  async read(from: ReadFrom, by: DivideBy, cutsUrl: string | null, onStep: OnStep): Promise<ReadPage> {
    const { width, height } = from;
    this.describing = null;
    onStep('The line art is fetched', 0.05);
    const cuts = cutsUrl === null ? null : cutsAt(cutsUrl, width * height);
    const data = await this.files.rasterAt(from.url);
    const others: OtherInk[] = [];
    for (const { url, bounds } of from.others)
      others.push({ grey: { width, height, data: await this.files.rasterAt(url) }, bounds });
    this.files.keepOnly([from.url, ...from.others.map(({ url }) => url)]);
    onStep('The ink is read', 0.25);
    this.from = from;
    const page = (this.page = openSurvey({ width, height, data }, from.prep, {
      allocate: this.allocate,
      onStep: (step) => onStep(...STEP[step]),
      known: await cuts,
      rulings: by.rulings,
      drawn: by.drawn,
      others,
      ownBounds: from.ownBounds,
      solids: from.solids,
    }));
    this.lines = new PageLines(this.allocate);
    this.changed = null;
    this.levels = buildPyramid(page.survey, this.allocate);
    return { survey: shown(page.survey), levels: this.levels, original: data };
  }

  // --- dividing ------------------------------------------------------------------------------

  /**
   * Divides the page. Rulings change tables; a closure drawn by hand cuts the paper itself anew.
   *
   * @returns with the paper that has other cells than when this was last answered; null for none.
   */
  divide({ maxGapPx, rulings, drawn }: DivideBy): { readonly survey: ShownSurvey; readonly changed: PixelBox | null } {
    const page = this.opened();
    const { survey } = page;
    const limit = maxGapPx === 'auto' ? autoMaxGap(survey.lineWidthPx.median, survey.width, survey.height) : maxGapPx;
    if (drawn.join() === page.drawn.join()) page.rule(limit, rulings);
    else this.takeChanged(page.cut(drawn, limit, rulings));
    const { changed } = this;
    this.changed = null;
    return { survey: shown(page.survey), changed };
  }

  private takeChanged(box: PixelBox | null): void {
    if (box !== null) refreshPyramid(this.levels, box);
    this.changed = joinBoxes(this.changed, box);
  }

  /** The widest way from one place to another; null where there is none. */
  trace(from: Point, to: Point): LeakTrace | null {
    const { survey, paper, paperFactor } = this.paper();
    return traceLeak(survey, paper, paperFactor, from, to);
  }

  /** Where colour gets to from a place; null on ink. */
  flood(at: Point): Flood | null {
    const { survey, paper, paperFactor } = this.paper();
    return floodFrom(survey, paper, paperFactor, at);
  }

  /** Where no gaps are looked for, the distances on paper are measured now. */
  private paper(): Pick<ReturnType<typeof coarsePaper>, 'paper' | 'paperFactor'> & { readonly survey: Survey } {
    const { base, survey } = this.opened();
    const { paper, paperFactor } = base.found ?? coarsePaper(base.inkMask, survey.width, survey.height);
    return { survey, paper, paperFactor };
  }

  // --- line art ------------------------------------------------------------------------------

  /**
   * Measures the line art that was read last, step by step: what the flatter asks for comes first.
   *
   * @param panels as the flatter has them, or null to find them. @throws AbortError once {@link stopDescribing} was called.
   */
  async describe(
    panels: readonly PagePanel[] | null,
    ruledSolids: readonly Point[],
    onStep: (step: MeasuringStep) => void,
  ): Promise<{ readonly facts: LineArtFacts; readonly skew: Skew | null }> {
    const run = (this.describing = {});
    const { base, survey } = this.opened();
    const { blackPoint, whitePoint } = survey.inkPoints;
    const steps = measureLineArt(this.opened(), panels, ruledSolids);
    for (;;) {
      const step = steps.next();
      // A page that was turned is level now: what is left to turn is measured on it.
      if (step.done === true)
        return { facts: step.value, skew: measureSkew(base.grey, (blackPoint + whitePoint) >> 1) };
      onStep(step.value);
      await new Promise((resolve) => setTimeout(resolve, 0));
      if (this.describing !== run) throw aborted();
    }
  }

  /** Leaves measuring. */
  stopDescribing(): void {
    this.describing = null;
  }

  /** Grey of the page at a point, as the ink is read from it. 0..255 */
  greyAt(x: number, y: number): number {
    return greyAround(this.opened().base.grey, x, y);
  }

  /** What differs from the raster before a revision. */
  async changesSince(url: string): Promise<readonly Change[]> {
    const { survey } = this.opened();
    const from = this.from!;
    const { width, height } = survey;
    const plain = (bytes: number): ArrayBuffer => new ArrayBuffer(bytes);
    const grey = { width, height, data: await this.files.rasterAt(url) };
    // Only the page's own file was replaced: the others would be the same on both sides.
    const before = readInk(grey, { ...from.prep, inkPoints: 'auto' }, [], true, plain).printed;
    const own = { width, height, data: await this.files.rasterAt(from.url) };
    const after = from.others.length === 0 ? survey.inkAlpha : readInk(own, from.prep, [], true, plain).printed;
    this.files.keepOnly([from.url, ...from.others.map((other) => other.url)]);
    return findChanges(before, after, width, height, survey.lineWidthPx.median);
  }

  // --- flats ---------------------------------------------------------------------------------

  /** The groups of cells that hang together when openings hold from a confidence on. */
  contours(holdFrom: number): CellGroups {
    return contourGroups(this.opened().survey, holdFrom);
  }

  /**
   * What stands inside the outer contour of what a loop goes round.
   *
   * @param mayTake 1 for regions that may be taken; null for all.
   */
  silhouette(loop: readonly Point[], share: number, holdFrom: number, mayTake: Uint8Array | null): Silhouette {
    return silhouetteInLoop(this.opened().survey, holdFrom, loop, share, (region) => mayTake?.[region] !== 0);
  }

  /**
   * What marks come to: the edits that turn them into fills.
   *
   * @param panel corners of the panel it keeps to; null for the whole page.
   * @param preview the page stays divided as it is: what would come of the marks is shown, not done.
   */
  spreadMarks(
    document: Pick<PageDocument, 'marks' | 'fills' | 'rulings' | 'drawn'>,
    options: SpreadOptions,
    panel: readonly Point[] | null,
    preview: boolean,
  ): readonly RecordEdit[] {
    const page = this.opened();
    const within = panel === null ? null : insidePanel(panel, page.survey.width);
    const spread = (): { edits: readonly RecordEdit[]; changed: PixelBox | null } => {
      const solved = solveMarks(page, document, options, within);
      return { edits: editsOfSpread(document, solved, stampAfter(document)), changed: solved.changed };
    };
    if (preview) {
      const { done, changed } = page.trying(spread);
      this.changed = joinBoxes(this.changed, changed);
      return done.edits;
    }
    // The page is cut anew already: what comes next divides it by the same closures.
    const { edits, changed } = spread();
    this.takeChanged(changed);
    return edits;
  }

  /**
   * Lays a colour key over the page, where it is said or where it fits best, and reads it.
   *
   * @param stop one word that is no longer 0 when the answer is no longer wanted.
   * @param onStep share 0..1. @param onSeen is told what is known before all is.
   * @throws AbortError when it was stopped.
   */
  readGuide(
    guide: GuideRaster,
    place: GuidePlace | null,
    parts: readonly GuidePart[],
    stop: Int32Array,
    onStep: (share: number) => void,
    onSeen: (seen: GuideSeen) => void,
  ): GuideRead {
    const { survey } = this.opened();
    let told = 0;
    const tell = (share: number): void => {
      if (Atomics.load(stop, 0) !== 0) throw aborted();
      if (performance.now() < told + GUIDE_STEP_MS) return;
      told = performance.now();
      onStep(share);
    };
    tell(0);
    const found = registerGuide(survey, guide);
    const match = { ...found, place: place ?? found.place };
    for (const reading of readGuideInTurns(survey, guide, match.place, parts, tell)) {
      if (reading.isWhole) return { match, reading, splits: splitByGuide(survey, guide, match.place, parts) };
      onSeen({ match, reading });
    }
    throw new Error('The key could not be read.');
  }

  /** How long regions touch: `[a, b, px]` of each pair. */
  neighbours(): Int32Array {
    return moved(neighbourRegions(this.opened()));
  }

  /** Pairs of regions that touch. */
  touching(): Int32Array {
    return moved(findTouching(this.opened().survey));
  }

  /**
   * Parts for regions by those of other pages, and by this page's own where these are given.
   *
   * @param panels as the flatter has them, or null to find them. @param own parts of this page's regions that are
   * examples too; null for none.
   */
  proposeFromExamples(
    panels: readonly PagePanel[] | null,
    wanted: readonly number[],
    examples: readonly ExamplePage[],
    own: readonly (string | null)[] | null,
  ): readonly ExampleProposal[] {
    const { inkAlpha, width, height } = this.opened().survey;
    const traits = describeRegions(this.opened(), panels ?? findPanels(inkAlpha, width, height));
    const mine = own === null ? [] : [{ traits, parts: own }];
    const isWanted = new Set(wanted);
    return proposeFromExamples(traits, (region) => isWanted.has(region), [...examples, ...mine]);
  }

  // --- trap ----------------------------------------------------------------------------------

  /** What of the ink a trap asks for. */
  findTrapInk(of: Pick<RegionTrap, 'pinholePx2' | 'solidDepthPx'>): TrapInk {
    return findTrapInk(this.opened().survey, of);
  }

  /** Where fixed depths leave a halo or are cut short. @param partOfRegion part number of each region, -1 for none. */
  findTrapFaults(partOfRegion: Int32Array, trap: RegionTrap, ink: TrapInk): readonly TrapFault[] {
    const { survey } = this.opened();
    // The page was divided anew meanwhile: who asked will ask again.
    if (partOfRegion.length !== survey.regions.count) return [];
    return findTrapFaults(survey, partOfRegion, trap, ink);
  }

  /** The width of the widest line, solid blacks left out, in px. */
  widestLine(): number {
    return widestLine(this.opened().survey);
  }

  // --- colour holds --------------------------------------------------------------------------

  /** Divides the ink into lines where that is not done, and colours them. */
  colourLines(by: HoldsBy): ShownHolds {
    return this.lines.colour(this.opened(), by);
  }

  /** Pieces of line with most of their ink inside an outline. */
  linesWithin(points: readonly Point[]): readonly number[] {
    return this.lines.within(points);
  }

  /** What is wrong with the page as it is now. */
  checkPage(by: CheckBy): Finding[] {
    const page = this.opened();
    return checkPage({ ...by, survey: page.survey, neighbours: neighbourRegions(page) });
  }

  private opened(): WorkingPage {
    if (this.page === null) throw new Error('The page is not read yet.');
    return this.page;
  }
}

/** A table that is made for who asks: it is handed over, not copied. */
function moved(table: Int32Array): Int32Array {
  return transfer(table, [table.buffer]);
}

function insidePanel(points: readonly Point[], width: number): (anchor: number) => boolean {
  return (anchor) => panelOfPoints([{ points, framed: true }], Int32Array.of(anchor), width)[0] === 0;
}

/** What divides the page stays here: it is larger than all the rest. */
function shown({ graph: _, ...rest }: Survey): ShownSurvey {
  return rest;
}

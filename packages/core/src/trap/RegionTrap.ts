import { panelOfPoints } from '../layout/Panel.ts';
import type { CastPart } from '../model/CastSheet.ts';
import type { PageDocument } from '../model/PageDocument.ts';
import type { Point } from '../model/Point.ts';
import type { Survey } from '../model/Survey.ts';
import { DEFAULT_JOB_TRAP, type JobTrap, type SolidTrap, type TrapDepth, type TrapRule } from '../model/Trap.ts';
import { sameRule } from '../model/checkTrap.ts';
import { depthInPx } from './depthInPx.ts';

/** A rule of trap in px of the page. */
export interface PixelRule {
  /** How far a region's colour runs, in px from its paper; Infinity = to the middle. */
  readonly depthPx: number;
  /** The margin that the part in front leaves before other paper; null: it does not pass the middle. */
  readonly marginPx: number | null;
}

/** What a page says of trap, by its regions: a small table that can be sent and compared. */
export interface RegionTrap {
  readonly rules: readonly PixelRule[];
  /** Place in `rules` of each region. */
  readonly ruleOfRegion: Uint16Array;
  /** Place in the stacking of each region's part, the lowest in front; {@link NO_RANK} where nothing is printed. */
  readonly rankOfRegion: Uint16Array;
  /** Later ones count. */
  readonly areas: readonly { readonly points: readonly Point[]; readonly rule: number }[];
  /** Depth under solid blacks, in px: Infinity all the way, 0 under their soft edge alone; null as under lines. */
  readonly solidDepthPx: number | null;
  readonly pinholePx2: number;
}

/** No part, or one that prints nothing: behind all others. */
export const NO_RANK = 0xffff;

export interface TrapDecisions {
  readonly job: JobTrap;
  readonly page: Pick<PageDocument, 'trap' | 'areas' | 'panels'>;
  /** The parts of the cast sheet in their stacking, the first in front. */
  readonly parts: readonly Pick<CastPart, 'id' | 'empty' | 'trap'>[];
  /** Part of each region, null for none. */
  readonly partOfRegion: readonly (string | null)[];
  readonly dpi: number | null;
}

/** Colour to the middle of every line. */
export function middleTrap(regionCount: number): RegionTrap {
  const partOfRegion = Array<null>(regionCount).fill(null);
  const page = { trap: null, areas: new Map(), panels: null };
  const survey = { width: 1, crumbLimitPx2: 0, regions: { anchor: new Int32Array(0) } };
  return trapOfRegions(survey, { job: DEFAULT_JOB_TRAP, page, parts: [], partOfRegion, dpi: null });
}

/** The same rule everywhere. */
export function uniformTrap(regionCount: number, rule: TrapRule, dpi: number | null = null): RegionTrap {
  return { ...middleTrap(regionCount), rules: [pixelRule(rule, dpi)] };
}

/** Which rule every region has: its part's, else its panel's, else the page's, else the job's; areas lie over all. */
export function trapOfRegions(
  survey: {
    readonly width: number;
    readonly crumbLimitPx2: number;
    readonly regions: Pick<Survey['regions'], 'anchor'>;
  },
  { job, page, parts, partOfRegion, dpi }: TrapDecisions,
): RegionTrap {
  const rules: PixelRule[] = [];
  const said: TrapRule[] = [];
  const numberOf = (rule: TrapRule): number => {
    const known = said.findIndex((one) => sameRule(one, rule));
    if (known >= 0) return known;
    said.push(rule);
    rules.push(pixelRule(rule, dpi));
    return rules.length - 1;
  };
  const ofPage = numberOf(page.trap ?? job.rule);
  const ofPanel = (page.panels ?? []).map(({ trap }) => (trap === undefined ? ofPage : numberOf(trap)));
  const ofPart = new Map(parts.flatMap(({ id, trap }) => (trap === undefined ? [] : [[id, numberOf(trap)] as const])));
  const ranks = new Map(parts.map(({ id, empty }, k) => [id, empty ? NO_RANK : Math.min(k, NO_RANK - 1)]));
  const panelOfRegion = ofPanel.every((rule) => rule === ofPage)
    ? null
    : panelOfPoints(
        page.panels!.map(({ points }) => ({ points, framed: true })),
        survey.regions.anchor,
        survey.width,
      );
  const ruleOfRegion = new Uint16Array(partOfRegion.length);
  const rankOfRegion = new Uint16Array(partOfRegion.length);
  partOfRegion.forEach((part, region) => {
    const panel = panelOfRegion?.[region] ?? -1;
    const own = part === null ? undefined : ofPart.get(part);
    ruleOfRegion[region] = own ?? (panel < 0 ? ofPage : ofPanel[panel]!);
    rankOfRegion[region] = part === null ? NO_RANK : (ranks.get(part) ?? NO_RANK);
  });
  const areas = [...page.areas]
    .sort(([idA, a], [idB, b]) => a.stamp - b.stamp || (idA < idB ? -1 : 1))
    .map(([, { points, rule }]) => ({ points, rule: numberOf(rule) }));
  return {
    rules,
    ruleOfRegion,
    rankOfRegion,
    areas,
    solidDepthPx: solidDepth(job.solids, dpi),
    pinholePx2: job.pinholePx2 === 'auto' ? survey.crumbLimitPx2 : Math.min(job.pinholePx2, survey.crumbLimitPx2),
  };
}

/** A depth in mm on a page without a resolution cannot be told: colour runs to the middle, and the interface says so. */
function pixelRule(rule: TrapRule, dpi: number | null): PixelRule {
  if (rule.rule === 'max') return { depthPx: Infinity, marginPx: rule.marginPx };
  return { depthPx: rule.rule === 'middle' ? Infinity : (depthInPx(rule, dpi) ?? Infinity), marginPx: null };
}

function solidDepth(solids: SolidTrap, dpi: number | null): number | null {
  if (solids.rule === 'line') return null;
  if (solids.rule === 'all') return Infinity;
  return solids.rule === 'edge' ? 0 : (depthInPx(solids as TrapDepth, dpi) ?? Infinity);
}

/** Whether two tables say the same. */
export function sameTrap(a: RegionTrap, b: RegionTrap): boolean {
  if (a === b) return true;
  return (
    a.ruleOfRegion.length === b.ruleOfRegion.length &&
    a.solidDepthPx === b.solidDepthPx &&
    a.pinholePx2 === b.pinholePx2 &&
    textOf(a) === textOf(b) &&
    a.ruleOfRegion.every((rule, region) => rule === b.ruleOfRegion[region]) &&
    (a.rules.every(({ marginPx }) => marginPx === null) ||
      a.rankOfRegion.every((rank, region) => rank === b.rankOfRegion[region]))
  );
}

// JSON has no Infinity: it writes null, which no depth is.
const textOf = ({ rules, areas }: RegionTrap): string => JSON.stringify([rules, areas]);

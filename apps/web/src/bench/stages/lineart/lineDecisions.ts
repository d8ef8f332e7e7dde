import {
  degreesOfSlope,
  endsPerThousand,
  regionAt,
  type Change,
  type LineArtFacts,
  type PageDocument,
  type Skew,
} from '@jumble/core';
import type { PageView } from '@jumble/contracts';
import { areaText, countText } from '../../../measures.ts';
import type { ShownSurvey } from '../../engine/messages.ts';

/** Something about the line art that someone has to say yes or no to. */
export interface LineDecision {
  readonly key: string;
  readonly kind: 'skew' | 'specks' | 'panel' | 'balloon' | 'solid' | 'change';
  /** What it is about, in px: `[x0, y0, x1, y1]`. */
  readonly box: readonly [number, number, number, number];
  readonly title: string;
  readonly detail: string;
  /** What Enter and Backspace do, in words; null where there is nothing to refuse. */
  readonly yes: string;
  readonly no: string | null;
}

/** A page turned by less lies level, as far as anyone can see. */
const LEAST_DEGREES = 0.05;
/** Solid blacks smaller than this share of the page are not asked about. */
const SOLID_SHARE = 0.002;
/** Paper this even, this white and this quiet came from a program: its dots are drawn. */
const CLEAN_PAPER = 250;
const CLEAN_NOISE = 0.4;

export interface LineArtSources {
  readonly page: PageView;
  readonly survey: ShownSurvey;
  readonly document: PageDocument;
  readonly facts: LineArtFacts;
  readonly skew: Skew | null;
  readonly changes: readonly Change[] | null;
  /** Whether a region has a part already. */
  readonly hasPart: (region: number) => boolean;
}

/** The open decisions about a page's line art, in the order the work is done. */
export function lineDecisions(sources: LineArtSources): LineDecision[] {
  return [
    ...changeDecisions(sources),
    ...skewDecision(sources),
    ...speckDecision(sources),
    ...panelDecisions(sources),
    ...balloonDecisions(sources),
    ...solidDecisions(sources),
  ];
}

export function changeKey(page: PageView, { box }: Change): string {
  return `change/${page.greyHash.slice(0, 8)}/${box.join(',')}`;
}

function changeDecisions({ page, changes, document }: LineArtSources): LineDecision[] {
  return (changes ?? [])
    .filter((change) => !document.seen.has(changeKey(page, change)))
    .map((change) => ({
      key: changeKey(page, change),
      kind: 'change',
      box: change.box,
      title: 'Redrawn here',
      detail: `${countText(change.addedPx)} px of ink came, ${countText(change.removedPx)} px went`,
      yes: 'seen',
      no: null,
    }));
}

function skewDecision({ page, document, skew }: LineArtSources): LineDecision[] {
  if (document.prep.slopePpm !== null || skew === null) return [];
  const degrees = degreesOfSlope(skew.slopePpm);
  if (Math.abs(degrees) < LEAST_DEGREES) return [];
  return [
    {
      key: 'skew',
      kind: 'skew',
      box: [0, 0, page.width, page.height],
      title: `Turned by ${Math.abs(degrees).toFixed(2)}°`,
      detail: `${degrees > 0 ? 'clockwise' : 'anticlockwise'}, by the straight lines on it`,
      yes: 'straighten',
      no: 'leave',
    },
  ];
}

/** How many specks of up to a size there are. */
export function specksUpTo(facts: Pick<LineArtFacts, 'specks'>, limitPx2: number): number {
  let count = 0;
  for (let size = 1; size <= Math.min(limitPx2, facts.specks.length - 1); size++) count += facts.specks[size]!;
  return count;
}

function speckDecision({ page, survey, document, facts }: LineArtSources): LineDecision[] {
  if (document.prep.speckLimitPx2 !== null) return [];
  const { median, noise } = survey.paper;
  const count = specksUpTo(facts, facts.speckLimitPx2);
  if (count === 0 || (median >= CLEAN_PAPER && noise < CLEAN_NOISE)) return [];
  return [
    {
      key: 'specks',
      kind: 'specks',
      box: [0, 0, page.width, page.height],
      title: `${countText(count)} specks`,
      detail: `up to ${areaText(facts.speckLimitPx2, page.dpi)}, none touches a line`,
      yes: 'wipe out',
      no: 'keep',
    },
  ];
}

export function panelKey(points: readonly (readonly [number, number])[]): string {
  return `panel/${points[0]!.join(',')}`;
}

function panelDecisions({ facts, document }: LineArtSources): LineDecision[] {
  return facts.panels.flatMap((panel, k): LineDecision[] => {
    if (panel.verdict !== 'sketchy' || document.seen.has(panelKey(panel.points))) return [];
    const xs = panel.points.map(([x]) => x);
    const ys = panel.points.map(([, y]) => y);
    return [
      {
        key: panelKey(panel.points),
        kind: 'panel',
        box: [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)],
        title: `Panel ${k + 1} is too sketchy`,
        detail: `${endsPerThousand(panel.counts).toFixed(0)} loose ends on 1,000 line widths of stroke`,
        yes: 'seen',
        no: null,
      },
    ];
  });
}

function balloonDecisions({ survey, facts, document, hasPart }: LineArtSources): LineDecision[] {
  // A ruling holds for the region it stands in, however its letters are read later.
  const ruled = new Set(
    [...document.balloons.keys()].map((key) => {
      const [x, y] = key.split(',').map(Number) as [number, number];
      return regionAt(survey, x, y);
    }),
  );
  return facts.balloons
    .filter(({ at: [x, y] }) => {
      // Gaps ruled on since it was found give regions other numbers.
      const region = regionAt(survey, x, y);
      return region !== null && !ruled.has(region) && !hasPart(region);
    })
    .map((balloon) => ({
      key: balloon.at.join(),
      kind: 'balloon',
      box: balloon.box,
      title: 'Balloon or caption',
      detail: `${balloon.letters} letters in it`,
      yes: 'leave empty',
      no: 'it is drawing',
    }));
}

function solidDecisions({ page, facts, document }: LineArtSources): LineDecision[] {
  const least = SOLID_SHARE * page.width * page.height;
  return facts.solids
    .filter((solid) => solid.areaPx >= least && !document.solids.has(solid.at.join()))
    .map((solid) => ({
      key: solid.at.join(),
      kind: 'solid',
      box: solid.box,
      title: 'Solid black',
      detail: areaText(solid.areaPx, page.dpi),
      yes: 'a region of its own',
      no: 'shared by its neighbours',
    }));
}

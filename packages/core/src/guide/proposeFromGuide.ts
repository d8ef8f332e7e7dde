import { ciede2000 } from '../colour/ciede2000.ts';
import { labOf, type Lab } from '../colour/lab.ts';
import { exp, log } from '../exact/exactMath.ts';
import type { GuidePlace, GuideRaster } from './register/registerGuide.ts';
import { NormalEquations } from './unmix/NormalEquations.ts';
import type { Surroundings } from './settle/NeighbourPrior.ts';
import { ENOUGH_PX } from './unmix/guideBlur.ts';
import { nearestTwo } from './settle/nearestTwo.ts';
import { pointsOf, type RegionPoints } from './unmix/pointsOf.ts';
import { refinePlace } from './unmix/refinePlace.ts';
import { regionsAround } from './settle/regionsAround.ts';
import { SLACK } from './settle/GuideLayout.ts';
import { settleParts, type Effort, type SettledParts } from './settle/settleParts.ts';
import { coverOf, FINE_POINTS, type GuidedPage } from './unmix/coverOf.ts';
import { blurredAs, unmixGuide, type UnmixedGuide } from './unmix/unmixGuide.ts';

/** Taken out: looked up a million times. */
const { floor, max, min, round, ceil } = Math;

/** A part with the colour it has on this page, 0xRRGGBB. */
export interface GuidePart {
  readonly id: string;
  readonly rgb: number;
  /** Parts of one group lie near each other. @default alone */
  readonly group?: string;
}

export interface GuideProposal {
  readonly region: number;
  /** The part whose colour comes nearest. */
  readonly part: string;
  /** 0..1: how likely it is the right one. */
  readonly confidence: number;
  /** What the key shows there, 0xRRGGBB. */
  readonly rgb: number;
  /** CIEDE2000 from there to the part's colour. */
  readonly distance: number;
}

/** A colour of the key that no part comes near. */
export interface UnknownColour {
  readonly rgb: number;
  readonly regions: readonly number[];
}

export interface GuideReading {
  readonly proposals: readonly GuideProposal[];
  readonly unknown: readonly UnknownColour[];
}

/** Farther than this from every part, a colour is unknown; unknown ones nearer than that are one. */
const UNKNOWN_FROM = 14;
const ONE_COLOUR = 6;

/** What a confidence is made of; fitted by `bench/src/flats/fitKey.ts`. */
export const GUIDE_FEATURES = ['shown', 'margin', 'distance', 'deviation', 'mixed', 'certain', 'cover'] as const;
const GUIDE_WEIGHTS: readonly number[] = [1.46, 3.42, -0.66, -0.76, 0.5, 0.46, -0.35];

/** What one region says, before it is weighed. */
export interface GuideEvidence {
  readonly region: number;
  readonly part: string;
  readonly rgb: number;
  readonly distance: number;
  readonly terms: readonly number[];
}

/** What of a key is known so far. */
export interface GuideReadingSoFar extends GuideReading {
  /** Whether it is all that can be read: before that the parts are only settled where the key was first laid. */
  readonly isWhole: boolean;
}

/**
 * Reads a key that lies on a page: each region gets the part whose colour is nearest (CIEDE2000) to the
 * median of the key inside it, away from its borders, with a confidence.
 *
 * @param onStep is told what share is done, 0..1, every now and then; what it throws ends the reading.
 */
export function proposeFromGuide(
  survey: GuidedPage,
  guide: GuideRaster,
  place: GuidePlace,
  parts: readonly GuidePart[],
  onStep?: (share: number) => void,
): GuideReading {
  return lastOf(readGuideInTurns(survey, guide, place, parts, onStep));
}

/** As `proposeFromGuide`, with what is known sooner as well: on a page of crowds after a third of the time. The last one is whole. */
export function* readGuideInTurns(
  survey: GuidedPage,
  guide: GuideRaster,
  place: GuidePlace,
  parts: readonly GuidePart[],
  onStep?: (share: number) => void,
): Generator<GuideReadingSoFar> {
  for (const { evidence, isWhole } of evidenceInTurns(survey, guide, place, parts, onStep)) {
    const proposals = evidence.map(({ region, part, rgb, distance, terms }): GuideProposal => {
      const score = terms.reduce((sum, term, k) => sum + term * GUIDE_WEIGHTS[k]!, 0);
      return { region, part, rgb, distance, confidence: round(1000 / (1 + exp(-score))) / 1000 };
    });
    yield { proposals, unknown: unknownColours(evidence), isWhole };
  }
}

/** The part of every region with what speaks for it. */
export function guideEvidence(
  survey: GuidedPage,
  guide: GuideRaster,
  place: GuidePlace,
  parts: readonly GuidePart[],
): readonly GuideEvidence[] {
  return lastOf(evidenceInTurns(survey, guide, place, parts)).evidence;
}

function lastOf<T>(turns: Iterable<T>): T {
  let last: T | undefined;
  for (const one of turns) last = one;
  return last!;
}

/** What share is done when it is known what each region shows, and what it mixes. */
const STEPS = { seen: 0.1, unmixed: 0.3 };

/** How a key lies on a page's regions. */
type LaidGuide = Pick<UnmixedGuide, 'cover' | 'kernel' | 'footprints'>;

interface EvidenceSoFar {
  readonly evidence: readonly GuideEvidence[];
  readonly isWhole: boolean;
}

/** What the key says of each region when the parts are first settled, and when all is. */
function* evidenceInTurns(
  survey: GuidedPage,
  guide: GuideRaster,
  place: GuidePlace,
  parts: readonly GuidePart[],
  onStep: (share: number) => void = () => undefined,
): Generator<EvidenceSoFar> {
  if (parts.length === 0) {
    yield { evidence: [], isWhole: true };
    return;
  }
  const labs = parts.map((part) => labOf(part.rgb));
  const points = pointsOf(survey, place);
  const count = survey.regions.count;
  const start = new Float64Array(count * 3);
  const seen = points.map(({ at }) => coloursAt(at, survey.width, guide, place));
  const median = Int32Array.from(seen, (colours) => (colours.length === 0 ? 0x808080 : medianColour(colours)));
  median.forEach((rgb, region) => start.set(channelsOf(rgb), region * 3));
  // Most regions show one of a few colours plainly.
  const nearOf = new Map<number, ReturnType<typeof nearestTwo>>();
  const nearTo = (rgb: number): ReturnType<typeof nearestTwo> => {
    const known = nearOf.get(rgb) ?? nearestTwo(labOf(rgb), labs);
    nearOf.set(rgb, known);
    return known;
  };
  const nearMedian = points.map(({ inside }, region) => (inside ? nearTo(median[region]!) : null));
  onStep(STEPS.seen);
  // Where the key shows a region by itself, and plainly, it says more than any reckoning.
  const shows = Uint8Array.from(nearMedian, (known, region) =>
    known !== null && (points[region]!.at.length > MOST_DOUBTED || isPlain(known)) ? 1 : 0,
  );
  const unmixed = unmixGuide(survey, guide, place, start, shows);
  onStep(STEPS.unmixed);
  const rgbOf = Int32Array.from(median, (rgb, region) =>
    shows[region] === 1 ? rgb : wordOf(unmixed.rgb.subarray(region * 3, region * 3 + 3)),
  );
  const near = nearMedian.map((known, region) => (shows[region] === 1 ? known! : nearTo(rgbOf[region]!)));
  const colours = coloursInGuide(parts, median, shows, near);
  const surroundings = surroundingsOf(survey, parts, points, shows);
  const nearest = Int32Array.from(near, ({ best }) => best);
  const rounds = roundsFor(guide);
  const settled = (from: number, effort: Effort, before: SettledParts): SettledParts =>
    settleParts(guide, laid, colours, before.part, surroundings, {
      effort,
      held: before.margin,
      onStep: (share) => onStep(STEPS.unmixed + ((1 - STEPS.unmixed) * (from + share)) / (rounds + 1)),
    });
  // Where the key lies and how it is blurred is known better once it is known what it shows, and the other way round.
  let [lies, laid]: [GuidePlace, LaidGuide] = [place, unmixed];
  // What comes clearly out of the mixture is doubted only where something beside it changes.
  const margin = Float64Array.from(near, (colour) => (isClear(colour) ? SLACK : 0));
  let now = settled(0, rounds > 1 ? 'some' : 'glance', { part: nearest, margin });
  const evidenceOf = ({ part, margin }: SettledParts): GuideEvidence[] =>
    seen.flatMap((colours, region): GuideEvidence[] => {
      if (colours.length === 0) return [];
      const rgb = rgbOf[region]!;
      const lab = labOf(rgb);
      const own = part[region]!;
      const { first, second } = near[region]!;
      const distance = round(ciede2000(lab, labs[own]!) * 1e6) / 1e6;
      const terms =
        shows[region] === 1
          ? [1, log(1 + second - first), distance, deviationAround(colours, lab), 0, 0, 0]
          : [0, 0, 0, 0, 1, max(0, margin[region]!), log(0.02 + unmixed.coverPx[region]!)];
      return [{ region, part: parts[own]!.id, rgb, distance, terms }];
    });
  yield { evidence: evidenceOf(now), isWhole: false };
  // A glance does not tell what holds.
  if (rounds === 1) now = { part: now.part, margin };
  for (let round = 1; round <= rounds; round++) {
    const ofRegion = new Float64Array(count * 3);
    now.part.forEach((one, region) => ofRegion.set(colours.subarray(one * 3, one * 3 + 3), region * 3));
    lies = refinePlace(guide, lies, laid.cover, laid.kernel, ofRegion);
    const cover = coverOf(survey, guide, lies, FINE_POINTS, laid.cover);
    laid = { cover, ...blurredAs(ofRegion, guide, cover, shows, laid.kernel) };
    now = settled(round, round < rounds ? 'some' : rounds > 1 ? 'much' : 'all', now);
  }
  yield { evidence: evidenceOf(now), isWhole: true };
}

/** What a colour in the key means is plain when it is this near to a part's, or so much nearer than to others, or no part's at all. */
const AS_MIXED = 1.5;
const CLEARLY = 2;
/** With more points inside it than this a region is what it shows. */
const MOST_DOUBTED = 200;

function isPlain({ first, second }: { readonly first: number; readonly second: number }): boolean {
  return first <= AS_MIXED || second - first >= CLEARLY || first >= UNKNOWN_FROM;
}

/** What was unmixed is clear when it is this near to a part's colour, and so much nearer than to others. */
const CLEAR_DISTANCE = 8;
const CLEAR_MARGIN = 4;

function isClear({ first, second }: { readonly first: number; readonly second: number }): boolean {
  return first < CLEAR_DISTANCE && second - first > CLEAR_MARGIN;
}

/** Times a small key is laid anew; in a large one a fraction of a px matters less. */
const ROUNDS = 3;

function roundsFor({ width, height }: GuideRaster): number {
  return max(1, round(ROUNDS * min(1, ENOUGH_PX / (width * height))));
}

/** Farther than this from its part's colour a region does not say how the key mixes it. */
const SAME_MIX = 10;

/** Regions within this share of the page's longer side say what a region may be. */
const REACH = 0.05;
/** Points of a region that say where it lies, at most. */
const PLACES = 8;

function surroundingsOf(
  { width, height, regions: { areaPx } }: GuidedPage,
  parts: readonly GuidePart[],
  points: readonly RegionPoints[],
  known: Uint8Array,
): Surroundings {
  const numbers = new Map<string, number>();
  const groupOf = Int32Array.from(parts, ({ id, group = id }) => {
    if (!numbers.has(group)) numbers.set(group, numbers.size);
    return numbers.get(group)!;
  });
  const spots = points.map(({ at }) => {
    const every = ceil(at.length / PLACES);
    const places: number[] = [];
    for (let k = 0; k < at.length; k += every) places.push(at[k]! % width, floor(at[k]! / width));
    return places;
  });
  const places = { points: spots, areaPx, known };
  const around = regionsAround(places, REACH * max(width, height), (region) => known[region] === 0);
  return { groupOf, around };
}

/** Fewer parts than this do not say how a key changes colours. */
const LEAST_SEEN = 4;

/** The colour of each part as this key has it: of the regions that show it, else as the key changes those of the cast sheet. */
function coloursInGuide(
  parts: readonly GuidePart[],
  median: Int32Array,
  shows: Uint8Array,
  near: readonly { readonly best: number; readonly first: number }[],
): Float64Array {
  const seen: number[][] = parts.map(() => []);
  near.forEach(({ best, first }, region) => {
    if (shows[region] === 1 && first < SAME_MIX) seen[best]!.push(median[region]!);
  });
  const shown = seen.map((colours) => (colours.length === 0 ? null : channelsOf(medianColour(colours))));
  const rgb = new Float64Array(parts.length * 3);
  for (const channel of [0, 1, 2]) {
    const change = changeOf(
      parts.flatMap((part, k) => (shown[k] === null ? [] : [[channelsOf(part.rgb)[channel]!, shown[k]![channel]!]])),
    );
    parts.forEach((part, k) => {
      rgb[k * 3 + channel] = shown[k]?.[channel] ?? change(channelsOf(part.rgb)[channel]!);
    });
  }
  return rgb;
}

/** The straight line through pairs of values. */
function changeOf(pairs: readonly (readonly number[])[]): (value: number) => number {
  const equations = new NormalEquations(2);
  for (const [before, after] of pairs) equations.add([1, before!], after!, 1);
  const line = pairs.length < LEAST_SEEN ? null : equations.solve();
  return line === null ? (value) => value : (value) => line[0]! + line[1]! * value;
}

function channelsOf(rgb: number): readonly [number, number, number] {
  return [rgb >> 16, (rgb >> 8) & 255, rgb & 255];
}

function coloursAt(at: readonly number[], width: number, guide: GuideRaster, place: GuidePlace): number[] {
  const colours: number[] = [];
  for (const p of at) {
    const x = p % width;
    const y = (p - x) / width;
    const kx = floor((x + 0.5) * place.scaleX + place.shiftX);
    const ky = floor((y + 0.5) * place.scaleY + place.shiftY);
    if (kx < 0 || ky < 0 || kx >= guide.width || ky >= guide.height) continue;
    const k = (ky * guide.width + kx) * 3;
    colours.push((guide.rgb[k]! << 16) | (guide.rgb[k + 1]! << 8) | guide.rgb[k + 2]!);
  }
  return colours;
}

function wordOf(rgb: ArrayLike<number>): number {
  const byte = (k: number): number => max(0, min(255, round(rgb[k]!)));
  return (byte(0) << 16) | (byte(1) << 8) | byte(2);
}

/** A region shows its part plainly with so many points inside it, this near to the colour and so much nearer than to others. */
const PLAIN_POINTS = 12;
const PLAIN_DISTANCE = 9;
const PLAIN_MARGIN = 6;

/** The number of the part that each region shows plainly, -1 where it does not. @param wanted 1 for regions asked for. */
export function shownParts(
  survey: GuidedPage,
  guide: GuideRaster,
  place: GuidePlace,
  parts: readonly GuidePart[],
  wanted: Uint8Array,
): Int32Array {
  const labs = parts.map((part) => labOf(part.rgb));
  return Int32Array.from(pointsOf(survey, place, wanted), ({ at, inside }) => {
    if (!inside || at.length < PLAIN_POINTS) return -1;
    const colours = coloursAt(at, survey.width, guide, place);
    if (colours.length < PLAIN_POINTS) return -1;
    const { best, first, second } = nearestTwo(labOf(medianColour(colours)), labs);
    return first <= PLAIN_DISTANCE && second - first >= PLAIN_MARGIN ? best : -1;
  });
}

function medianColour(colours: readonly number[]): number {
  const channel = (shift: number): number => {
    const values = new Uint8Array(colours.length);
    for (let k = 0; k < values.length; k++) values[k] = (colours[k]! >> shift) & 255;
    values.sort();
    return values[values.length >> 1]!;
  };
  return (channel(16) << 16) | (channel(8) << 8) | channel(0);
}

/** Mean distance of the colours to their median. */
function deviationAround(colours: readonly number[], lab: Lab): number {
  const every = ceil(colours.length / 24);
  let sum = 0;
  let n = 0;
  for (let k = 0; k < colours.length; k += every, n++) sum += ciede2000(labOf(colours[k]!), lab);
  return round((1e4 * sum) / n) / 1e4;
}

/** Colours that no part comes near, the most frequent first. */
function unknownColours(evidence: readonly GuideEvidence[]): UnknownColour[] {
  const groups: { lab: Lab; rgb: number; regions: number[] }[] = [];
  for (const { region, rgb, distance, terms } of evidence) {
    // Colours at borders are mixtures.
    if (distance < UNKNOWN_FROM || terms[0] !== 1) continue;
    const lab = labOf(rgb);
    const group = groups.find((one) => ciede2000(one.lab, lab) < ONE_COLOUR);
    if (group === undefined) groups.push({ lab, rgb, regions: [region] });
    else group.regions.push(region);
  }
  return groups
    .sort((a, b) => b.regions.length - a.regions.length || a.rgb - b.rgb)
    .map(({ rgb, regions }) => ({ rgb, regions }));
}

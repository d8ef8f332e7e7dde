import { ColourSquares } from '../unmix/ColourSquares.ts';
import { FreeNeighbours } from './FreeNeighbours.ts';
import { leastOf } from './leastOf.ts';
import { NeighbourPrior, type Surroundings } from './NeighbourPrior.ts';
import type { GuideRaster } from '../register/registerGuide.ts';
import { RegionLook, type OtherPart } from '../unmix/RegionLook.ts';
import { UnderLines } from '../unmix/UnderLines.ts';
import type { Footprint } from '../unmix/FootprintProducts.ts';
import { restOf, type UnmixedGuide } from '../unmix/unmixGuide.ts';

/** Taken out: looked up a million times. */
const { abs, min } = Math;

/** What a region may be, and how well that goes with the key. */
export interface Choice {
  readonly part: number;
  /** How far the neighbours' colours reach under its lines: -1..1, below 0 its own reaches under theirs. */
  readonly mixing: number;
  /** How unlikely, in nats. */
  readonly cost: number;
}

/**
 * How far a px of the key is off what its regions' parts would give, in RGB, before it says little, and what it says
 * at most: what lies in a shape that has no region of its own may be anything (Geman and McClure 1985).
 */
const NOISE = 3;
const MOST_SAID = 1.6;
/** What it costs, in nats, that all under a region's lines is not its own. */
const MIXING_COST = 2;
const AGAINST_MIXING = (2 * MIXING_COST * NOISE * NOISE) / MOST_SAID;
/** Mixing coefficients nearer than this are the same. */
const SAME_MIXING = 0.002;
/** Parts that are so much less likely than the best, in nats, are no choice. */
export const SLACK = 12;
/** Parts looked at closely: those whose colour comes nearest by least squares, in which a px that is so many times the noise off says half. */
const LOOKS = 12;
const FAR = 6;
/** Least squares say more than what is not trusted beyond the noise. */
const BY_SQUARES = 0.5;
/** The same of a whole group of regions, many of whose px are off. */
const BY_SQUARES_OF_GROUP = 0.3;
/** Parts that are so much less likely than a region's own, in nats, are not tried because the neighbours might follow. */
const LESS_IF_FREE = 5;

/** How a region was before: enough to go back. */
interface Before {
  readonly region: number;
  readonly part: number;
  readonly lineMixing: LineMixing | undefined;
}

/** How much of what lies under a region's lines has its neighbours' colour. */
interface LineMixing {
  readonly mixing: number;
  /** Which look at what lies beyond the lines it comes of. */
  readonly look: number;
  /** RGB at each px of its footprint, as it was taken off what is left of the key. */
  readonly rgb: Float64Array;
}

/**
 * A key as it would be if each region had the part it is thought to have, against what it is: what is left of it,
 * px by px, and how much better or worse it becomes when a region is something else.
 */
export class GuideLayout {
  /** The part that each region is thought to have. */
  readonly own: Int32Array;
  readonly lines: UnderLines;
  readonly prior: NeighbourPrior;
  readonly footprints: readonly (Footprint | undefined)[];
  /** How many px were looked at in asking for choices. */
  lookedPx = 0;
  private readonly parts: number;
  private readonly free: FreeNeighbours;
  /** RGB of what is left of each px of the key. */
  private readonly rest: Float64Array;
  private readonly lineMixing: (LineMixing | undefined)[];
  /** What was changed since it was noted, the latest last. */
  private notes: Before[] = [];
  private readonly look = new RegionLook();
  private readonly rough: Float64Array;
  private readonly nearest: Int32Array;
  private readonly plain: Float64Array;

  /**
   * @param rgb of each part as the key has it, `parts * 3`. @param part where to start, by region.
   * @param mayGive whether what lies under a region's lines may be its neighbours'; else nobody looks there.
   */
  constructor(
    guide: GuideRaster,
    { cover, kernel, footprints }: Pick<UnmixedGuide, 'cover' | 'kernel' | 'footprints'>,
    private readonly rgb: Float64Array,
    part: Int32Array,
    surroundings: Surroundings,
    private readonly mayMix = true,
  ) {
    this.own = part.slice();
    this.footprints = footprints;
    this.parts = rgb.length / 3;
    const colours = new Float64Array(part.length * 3);
    part.forEach((one, region) => colours.set(rgb.subarray(one * 3, one * 3 + 3), region * 3));
    this.rest = restOf(guide, cover, kernel, colours);
    this.lineMixing = Array.from({ length: part.length });
    this.free = new FreeNeighbours(footprints, this.rest);
    this.lines = new UnderLines(guide, cover, kernel, rgb, this.own);
    this.prior = new NeighbourPrior(surroundings, this.own);
    this.rough = new Float64Array(this.parts);
    this.nearest = new Int32Array(min(this.parts, LOOKS));
    this.plain = new Float64Array(this.parts);
  }

  /** What a region may be, the likeliest first. @param coarser factor of what a px may be off, and of what it says. */
  choices(region: number, coarser = 1): Choice[] {
    const footprint = this.footprints[region]!;
    const { plain, nearest, own, lines, prior, look } = this;
    const now = own[region]!;
    const said = coarser * MOST_SAID;
    const noise = (coarser * NOISE) ** 2;
    this.lookedPx += footprint.at.length;
    prior.evaluateAt(region);
    look.take(region, footprint, this.rest, this.lineMixing[region]?.rgb);
    this.findNearest(region, coarser);
    let least = Infinity;
    for (const part of nearest) {
      const logPrior = prior.logPrior[part]!;
      const most = (least + SLACK + logPrior) / said;
      plain[part] = said * look.errorWith(this.other(now, part), noise, most) - logPrior;
      least = min(least, plain[part]!);
    }
    const found: Choice[] = [];
    if (!this.mayMix) {
      for (const part of nearest)
        if (plain[part]! <= least + SLACK) insert(found, { part, mixing: 0, cost: plain[part]! });
      return found;
    }
    lines.lookAt(region, footprint);
    let best = Infinity;
    for (const part of nearest) {
      if (plain[part]! > least + SLACK) continue;
      const logPrior = prior.logPrior[part]!;
      const other = this.other(now, part);
      const mixing = look.mixingOf(other, lines, AGAINST_MIXING);
      const most = (best + SLACK + logPrior) / said;
      const cost =
        said * look.errorMixing(other, lines, mixing, noise, most) + MIXING_COST * mixing * mixing - logPrior;
      best = min(best, cost);
      insert(found, { part, mixing, cost });
    }
    return found;
  }

  /** Gives a region one of its choices, which must have been the last asked for; by how much all becomes less likely, in nats. */
  choose(region: number, { part, mixing }: Choice): number {
    const now = this.lineMixing[region];
    if (!this.mayMix) {
      if (part === this.own[region]) return 0;
      this.notes.push({ region, part: this.own[region]!, lineMixing: now });
      return this.replace(region, part, now);
    }
    const { ink, rgb: beyond, looks } = this.lines;
    // Most regions stay what they are.
    if (part === this.own[region] && now?.look === looks && abs(mixing - now.mixing) < SAME_MIXING) return 0;
    this.notes.push({ region, part: this.own[region]!, lineMixing: now });
    const rgb = mixedRgb(mixing, beyond, ink, this.rgb, part);
    return this.replace(region, part, { mixing, look: looks, rgb });
  }

  /** Gives a region a part, whether or not that goes well; by how much all becomes less likely, in nats. */
  force(region: number, part: number): number {
    const footprint = this.footprints[region]!;
    this.lines.lookAt(region, footprint);
    this.look.take(region, footprint, this.rest, this.lineMixing[region]?.rgb);
    const mixing = this.look.mixingOf(this.other(this.own[region]!, part), this.lines, AGAINST_MIXING);
    return this.choose(region, { part, mixing, cost: 0 });
  }

  /** What else a region may be if those around it could have any colour, the likeliest first. */
  partsIfFree(region: number): number[] {
    const { own, rgb, prior } = this;
    const free = this.free.colourOf(region);
    if (free === null) return [];
    const now = own[region]!;
    const [red, green, blue] = free.change.map((change, channel) => rgb[now * 3 + channel]! + change);
    const by = (BY_SQUARES * MOST_SAID * free.squares) / (NOISE * NOISE);
    prior.evaluateAt(region);
    const cost = prior.logPrior.map((logPrior, part) => {
      const [r, g, b] = [rgb[part * 3]! - red!, rgb[part * 3 + 1]! - green!, rgb[part * 3 + 2]! - blue!];
      return by * (r * r + g * g + b * b) - logPrior;
    });
    return [...cost.keys()]
      .filter((part) => part !== now && cost[part]! < cost[now]! + LESS_IF_FREE)
      .sort((a, b) => cost[a]! - cost[b]! || a - b);
  }

  /** From here on what is changed can be taken back. */
  note(): void {
    this.notes = [];
  }

  /** The regions that became another part since. */
  changed(): number[] {
    const first = new Map<number, number>();
    for (const { region, part } of this.notes) if (!first.has(region)) first.set(region, part);
    return [...first.keys()].filter((region) => first.get(region) !== this.own[region]);
  }

  /** Takes back what was changed since. */
  goBack(): void {
    for (const { region, part, lineMixing } of this.notes.reverse()) this.replace(region, part, lineMixing);
    this.notes = [];
  }

  /** About how much less likely all is, in nats, when all of a group of regions of one part have each other one. */
  costOfGroup(group: readonly number[]): Float64Array {
    const { own, rgb, parts, footprints, prior } = this;
    const shares = new Map<number, number>();
    for (const region of group) {
      const { at, weight } = footprints[region]!;
      at.forEach((px, k) => shares.set(px, (shares.get(px) ?? 0) + weight[k]!));
    }
    const squares = new ColourSquares(FAR * NOISE);
    for (const [px, share] of shares)
      squares.add(share, this.rest[3 * px]!, this.rest[3 * px + 1]!, this.rest[3 * px + 2]!);
    const by = (BY_SQUARES_OF_GROUP * MOST_SAID) / (NOISE * NOISE);
    const cost = new Float64Array(parts);
    for (let part = 0; part < parts; part++) cost[part] = by * squares.change(rgb, own[group[0]!]!, part);
    for (const region of group) {
      prior.evaluateAt(region);
      for (let part = 0; part < parts; part++) cost[part] = cost[part]! - prior.logPrior[part]!;
    }
    return cost;
  }

  /** Puts into `nearest` the parts that come nearest by least squares and what is around, the best first. */
  private findNearest(region: number, coarser: number): void {
    const { own, rgb, parts, rough, prior } = this;
    const squares = this.look.squares(FAR * NOISE * coarser);
    const by = (BY_SQUARES * MOST_SAID) / (NOISE * NOISE * coarser);
    for (let part = 0; part < parts; part++)
      rough[part] = by * squares.change(rgb, own[region]!, part) - prior.logPrior[part]!;
    leastOf(rough, this.nearest);
  }

  private other(now: number, part: number): OtherPart {
    const { rgb } = this;
    const [red, green, blue] = [rgb[part * 3]!, rgb[part * 3 + 1]!, rgb[part * 3 + 2]!];
    return { red, green, blue, dr: red - rgb[now * 3]!, dg: green - rgb[now * 3 + 1]!, db: blue - rgb[now * 3 + 2]! };
  }

  private replace(region: number, part: number, lineMixing: LineMixing | undefined): number {
    const { own, rest } = this;
    const footprint = this.footprints[region]!;
    const old = this.lineMixing[region];
    const gain = this.prior.gainOf(region, part);
    const error = exchange(rest, footprint, this.other(own[region]!, part), old?.rgb, lineMixing?.rgb);
    this.lineMixing[region] = lineMixing;
    own[region] = part;
    const [mixedBefore, mixedNow] = [old?.mixing ?? 0, lineMixing?.mixing ?? 0];
    return MOST_SAID * error + MIXING_COST * (mixedNow * mixedNow - mixedBefore * mixedBefore) - gain;
  }
}

/** RGB that the mixing under a region's lines adds at each px of its footprint. @param colours RGB of each part. */
function mixedRgb(
  mixing: number,
  beyond: Float64Array,
  ink: Float64Array,
  colours: Float64Array,
  part: number,
): Float64Array {
  const rgb = new Float64Array(beyond.length);
  const red = colours[3 * part]!;
  const green = colours[3 * part + 1]!;
  const blue = colours[3 * part + 2]!;
  for (let k = 0; k < ink.length; k++) {
    rgb[3 * k] = mixing * (beyond[3 * k]! - red * ink[k]!);
    rgb[3 * k + 1] = mixing * (beyond[3 * k + 1]! - green * ink[k]!);
    rgb[3 * k + 2] = mixing * (beyond[3 * k + 2]! - blue * ink[k]!);
  }
  return rgb;
}

/** Makes what is left what it is with another part and other lines; by how much more the key is off then, in px. */
function exchange(
  rest: Float64Array,
  { at, weight }: Footprint,
  { dr, dg, db }: OtherPart,
  old: Float64Array | undefined,
  lineMixing: Float64Array | undefined,
): number {
  let error = 0;
  for (let k = 0; k < at.length; k++) {
    const px = 3 * at[k]!;
    const share = weight[k]!;
    let r = rest[px]!;
    let g = rest[px + 1]!;
    let b = rest[px + 2]!;
    const before = r * r + g * g + b * b;
    r -= dr * share;
    g -= dg * share;
    b -= db * share;
    if (old !== undefined) {
      r += old[3 * k]!;
      g += old[3 * k + 1]!;
      b += old[3 * k + 2]!;
    }
    if (lineMixing !== undefined) {
      r -= lineMixing[3 * k]!;
      g -= lineMixing[3 * k + 1]!;
      b -= lineMixing[3 * k + 2]!;
    }
    rest[px] = r;
    rest[px + 1] = g;
    rest[px + 2] = b;
    const after = r * r + g * g + b * b;
    error += after / (NOISE * NOISE + after) - before / (NOISE * NOISE + before);
  }
  return error;
}

/** Puts a choice among others, which are in order: the likeliest first, of equal ones that of the lower part. */
function insert(choices: Choice[], one: Choice): void {
  let place = choices.length;
  for (; place > 0; place--) {
    const before = choices[place - 1]!;
    if (before.cost < one.cost || (before.cost === one.cost && before.part < one.part)) break;
    choices[place] = before;
  }
  choices[place] = one;
}

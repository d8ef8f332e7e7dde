import { GuideLayout, SLACK } from './GuideLayout.ts';
import type { Surroundings } from './NeighbourPrior.ts';
import type { GuideRaster } from '../register/registerGuide.ts';
import type { UnmixedGuide } from '../unmix/unmixGuide.ts';

/** Taken out: looked up a million times. */
const { min } = Math;

/** Which part a region is, and how much worse the key would come out with the next best. */
export interface SettledParts {
  /** Number of the part of each region. */
  readonly part: Int32Array;
  /** By how much the next best part is less likely, in nats; no more than counts. */
  readonly margin: Float64Array;
}

export interface SettleOptions {
  /** How much to try; with `much` groups as well, and all again. @default much */
  readonly effort?: Effort;
  /** How firmly each region's part held when the key lay or was blurred a little otherwise, in nats: what held firmly is not doubted again by itself. */
  readonly held?: Float64Array;
  /** Is told what share is done, 0..1; what it throws ends it. */
  readonly onStep?: (share: number) => void;
}

/**
 * What differs much says more at first, by factors of both, so that the first guesses fall into place (Blake and
 * Zisserman 1987); so many times all regions are gone through, at most; so many px of footprints are looked at while
 * trying: on a page of crowds what is most in doubt is tried; and whether anybody asks what is under the lines. After a
 * `glance`, which does not, `all` is done.
 */
const EFFORTS = {
  glance: { coarser: [1], mostRounds: 3, triedPx: 0, mayMix: false },
  some: { coarser: [1], mostRounds: 8, triedPx: 200_000, mayMix: true },
  much: { coarser: [2, 1], mostRounds: 8, triedPx: 800_000, mayMix: true },
  all: { coarser: [4, 2, 1], mostRounds: 8, triedPx: 800_000, mayMix: true },
} as const;
/** What is so much likelier than anything else, in nats, stays what it is whatever one region around it becomes. */
const FIRM = 6;
/** The share of the work that is done when every region was looked at by itself. */
const SETTLED = 0.5;
/** Times that what does not hold firmly is tried otherwise. */
const SWEEPS = 2;
/** Other parts that are tried for one region: as its neighbours are, and if these could be anything; and for a group. */
const TRIES = 2;
const TRIES_IF_FREE = 6;
const TRIES_OF_GROUP = 4;
/** What is so much less likely than the best, in nats, is not tried. */
const MOST_UNLIKELY = 4;
/** Regions that may follow a changed one. */
const MOST_FOLLOW = 8;
/** Regions of one part are a group where one lies so much in the other's surroundings. */
const NEAR = 0.1;
/** When another part makes a group and all beside it so much less likely, in nats, they are not gone through again. */
const HOPELESS = 50;
export type Effort = keyof typeof EFFORTS;

/** What is less than this better, in nats, is no better. */
const LEAST_GAIN = 0.01;

/**
 * Regions too small or thin for the key to show by themselves: for each of them, in turn, the part with
 * which the page's regions, laid out and blurred, give the key best, until nothing changes (iterated
 * conditional modes, Besag 1986). That a part can only have its own colour says more than the mixture;
 * what little a small region shows is weighed against what the regions around it are.
 *
 * A shape and what it holds may look, blurred, like two others, and stripes that go in turn like one part between the
 * two; none of them alone can leave it. So single regions and whole groups are made something else, their neighbours
 * follow, and what makes the whole likelier is kept.
 *
 * @param rgb of each part as the key has it, `parts * 3`. @param part where to start, by region.
 */
export function settleParts(
  guide: GuideRaster,
  unmixed: Pick<UnmixedGuide, 'cover' | 'kernel' | 'footprints'>,
  rgb: Float64Array,
  part: Int32Array,
  surroundings: Surroundings,
  { effort = 'much', held, onStep = () => undefined }: SettleOptions = {},
): SettledParts {
  const { coarser, mostRounds, triedPx, mayMix } = EFFORTS[effort];
  const settling = new Settling(
    new GuideLayout(guide, unmixed, rgb, part, surroundings, mayMix),
    surroundings,
    mostRounds,
    onStep,
  );
  if (held !== undefined) settling.margin.set(held);
  const doubted = settling.doubted();
  coarser.forEach((factor, k) =>
    settling.settle(doubted, factor, (share) => onStep((SETTLED * (k + share)) / coarser.length)),
  );
  settling.tryUpTo(triedPx);
  if (effort === 'some') settling.tryRegions((region) => settling.ifFree(region));
  const sweeps = effort === 'much' || effort === 'all' ? SWEEPS : 0;
  for (let sweep = 0; sweep < sweeps; sweep++) {
    const renamed = settling.tryGroups();
    const retaken = settling.tryRegions(
      (region) => new Set([...settling.nextBest(region), ...settling.ifFree(region)]),
    );
    if (!renamed && !retaken) break;
  }
  return { part: settling.layout.own, margin: settling.margin };
}

class Settling {
  readonly margin: Float64Array;
  private readonly unknown: readonly number[];
  /** 1 for regions around which something changed since they were looked at. */
  private readonly stale: Uint8Array;
  /** The unknown regions beside each, once asked for. */
  private readonly beside: (readonly number[] | undefined)[];
  /** How many changes there were when each region became another part, and when a group was last tried. */
  private readonly changedAt: Int32Array;
  private readonly triedAt = new Map<string, number>();
  private changes = 0;
  private triedFrom = 0;
  private enoughPx = 0;

  constructor(
    readonly layout: GuideLayout,
    private readonly surroundings: Surroundings,
    private readonly mostRounds: number,
    private readonly onStep: (share: number) => void,
  ) {
    const { footprints } = layout;
    this.unknown = [...footprints.keys()].filter((region) => footprints[region] !== undefined);
    this.margin = new Float64Array(footprints.length);
    this.stale = new Uint8Array(footprints.length);
    this.beside = Array.from({ length: footprints.length });
    this.changedAt = new Int32Array(footprints.length);
  }

  /** Regions that do not hold firmly. */
  doubted(): readonly number[] {
    return this.unknown.filter((region) => this.margin[region]! < SLACK);
  }

  /** Regions in turn, then those around which something changed. @param onStep is told how far the first turn is. */
  settle(regions: readonly number[], coarser: number, onStep: (share: number) => void): void {
    for (const region of regions) this.stale[region] = 1;
    this.settleStale(coarser, onStep);
  }

  /** From here on so many px are looked at while trying, at most. */
  tryUpTo(px: number): void {
    this.triedFrom = this.layout.lookedPx;
    this.enoughPx = this.triedFrom + px;
  }

  /** Whether enough was tried; tells how far that is. */
  private isEnough(): boolean {
    const { triedFrom, enoughPx, layout } = this;
    const share = (layout.lookedPx - triedFrom) / (enoughPx - triedFrom);
    this.onStep(SETTLED + (1 - SETTLED) * min(1, share));
    return share >= 1;
  }

  /** Groups of regions with one part become another one together, and each of them and beside them what it is then. */
  tryGroups(): boolean {
    const { layout } = this;
    let moved = false;
    for (const group of this.groups()) {
      if (this.isEnough()) break;
      const follow = new Set(group);
      for (const region of group) for (const other of this.besides(region)) follow.add(other);
      if (this.isTried(group, follow)) continue;
      const cost = layout.costOfGroup(group);
      const others = [...cost.keys()].filter((part) => part !== layout.own[group[0]!]);
      others.sort((a, b) => cost[a]! - cost[b]!);
      const found = others.slice(0, TRIES_OF_GROUP).some((part) =>
        this.isBetter(() => {
          let change = 0;
          for (const region of group) change += layout.force(region, part);
          const again = new Set<number>();
          for (const region of follow) {
            const before = layout.own[region];
            change += this.retake(region);
            if (layout.own[region] !== before) for (const other of this.besides(region)) again.add(other);
          }
          if (change > HOPELESS) return change;
          for (const region of follow) if (again.has(region)) change += this.retake(region);
          return change;
        }),
      );
      if (found) moved = true;
    }
    this.settleStale(1);
    return moved;
  }

  /** Regions become something else, one after the other, and what lies beside them follows. */
  tryRegions(othersOf: (region: number) => Iterable<number>): boolean {
    const { layout, margin } = this;
    let moved = false;
    const doubtful = [...this.unknown].sort((a, b) => margin[a]! - margin[b]! || a - b);
    for (const region of doubtful) {
      if (this.isEnough()) break;
      if (this.isTried([region], [region, ...this.besides(region)])) continue;
      for (const part of othersOf(region)) {
        if (!this.isBetter(() => layout.force(region, part) + this.follow(region))) continue;
        moved = true;
        break;
      }
    }
    this.settleStale(1);
    return moved;
  }

  /** What a region is next likely to be, as its neighbours are. */
  nextBest(region: number): number[] {
    const { layout, margin } = this;
    if (margin[region]! >= SLACK) return [];
    const choices = layout.choices(region);
    return choices
      .filter(({ part, cost }) => part !== layout.own[region] && cost < choices[0]!.cost + MOST_UNLIKELY)
      .slice(0, TRIES)
      .map(({ part }) => part);
  }

  /** What a region is likely to be if its neighbours may be anything. */
  ifFree(region: number): number[] {
    return this.layout.partsIfFree(region).slice(0, TRIES_IF_FREE);
  }

  private settleStale(coarser: number, onStep: (share: number) => void = () => undefined): void {
    const { layout, stale, margin, unknown } = this;
    for (let round = 0, changed = true; round < this.mostRounds && changed; round++) {
      changed = false;
      for (const [k, region] of unknown.entries()) {
        if (stale[region] === 0) continue;
        onStep(round === 0 ? k / unknown.length : 1);
        stale[region] = 0;
        const before = layout.own[region]!;
        const [best, second] = layout.choices(region, coarser);
        margin[region] = second === undefined ? SLACK : min(SLACK, second.cost - best!.cost);
        layout.choose(region, best!);
        if (best!.part === before) continue;
        changed = true;
        this.hasChanged(region);
      }
      layout.note();
    }
  }

  private hasChanged(region: number): void {
    this.changedAt[region] = ++this.changes;
    const { stale, margin, layout } = this;
    for (const other of layout.prior.dependentsOf(region)) if (margin[other]! < FIRM) stale[other] = 1;
    for (const other of this.besides(region)) stale[other] = 1;
  }

  /** Whether a group was tried before, and nothing that would follow it changed since. */
  private isTried(group: readonly number[], follow: Iterable<number>): boolean {
    const guide = group.join();
    const then = this.triedAt.get(guide);
    this.triedAt.set(guide, this.changes);
    if (then === undefined) return false;
    for (const region of follow) if (this.changedAt[region]! > then) return false;
    return true;
  }

  /** The unknown regions of one part that lie near each other, those with a doubtful one among them first. */
  private groups(): number[][] {
    const { margin, unknown } = this;
    const { own } = this.layout;
    const left = new Set(unknown);
    const groups: number[][] = [];
    for (const first of unknown) {
      if (!left.delete(first)) continue;
      const group = [first];
      // It grows while it is gone through.
      for (const region of group) {
        const near = this.surroundings.around[region];
        near?.regions.forEach((other, k) => {
          if (near.presence[k]! > NEAR && own[other] === own[first] && left.delete(other)) group.push(other);
        });
      }
      if (group.length > 1) groups.push(group);
    }
    const doubt = new Map(
      groups.map((group) => [group, group.reduce((least, region) => min(least, margin[region]!), SLACK)]),
    );
    return groups.sort((a, b) => doubt.get(a)! - doubt.get(b)! || a[0]! - b[0]!);
  }

  /** Does something; it stays when it makes all likelier. */
  private isBetter(change: () => number): boolean {
    const { layout, stale } = this;
    layout.note();
    if (change() > -LEAST_GAIN) {
      layout.goBack();
      return false;
    }
    for (const region of layout.changed()) {
      stale[region] = 1;
      this.hasChanged(region);
    }
    return true;
  }

  /** What lies beside a changed region becomes what it is now likeliest to be, and so on. */
  private follow(region: number): number {
    const { own } = this.layout;
    const queue = [...this.besides(region)];
    const seen = new Set([region]);
    let change = 0;
    for (let k = 0; k < queue.length && k < MOST_FOLLOW; k++) {
      const next = queue[k]!;
      if (seen.has(next)) continue;
      seen.add(next);
      const before = own[next];
      change += this.retake(next);
      if (own[next] !== before) queue.push(...this.besides(next));
    }
    return change;
  }

  private retake(region: number): number {
    return this.layout.choose(region, this.layout.choices(region)[0]!);
  }

  /** The unknown regions beside one. */
  private besides(region: number): readonly number[] {
    const { lines, footprints } = this.layout;
    return (this.beside[region] ??= lines.beside(region).filter((other) => footprints[other] !== undefined));
  }
}

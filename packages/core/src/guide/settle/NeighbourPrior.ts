import { log } from '../../exact/exactMath.ts';
import type { RegionsAround } from './regionsAround.ts';

/** Taken out: looked up a million times. */
const { max } = Math;

/** What lies around each region that is to be settled, and which parts belong together. */
export interface Surroundings {
  /** Number of each part's group. */
  readonly groupOf: Int32Array;
  readonly around: readonly (RegionsAround | undefined)[];
}

/** How much what lies around a region counts beside what the key shows. */
const CONTEXT = 2;
/** A part of the same group says so much of what the part itself says. */
const SAME_GROUP = 0.1;
/** The support of a part that nothing around has. */
const FLOOR = 0.01;
const LOG_FLOOR = CONTEXT * log(FLOOR);

/** How likely each part is at a region by what the regions around it are. */
export class NeighbourPrior {
  /** Log prior of every part in nats, at the region that was evaluated last. */
  readonly logPrior: Float64Array;
  private readonly support: Float64Array;
  private readonly groupSupport: Float64Array;
  /** For each region those whose prior depends on it, and as the how many of their neighbours: `[region, k, region, k, ...]`. */
  private readonly dependents: number[][];

  /** @param own part of each region, as it is whenever one is evaluated. */
  constructor(
    private readonly surroundings: Surroundings,
    private readonly own: Int32Array,
  ) {
    const { groupOf, around } = surroundings;
    this.logPrior = new Float64Array(groupOf.length);
    this.support = new Float64Array(groupOf.length);
    this.groupSupport = new Float64Array(groupOf.reduce((most, group) => max(most, group + 1), 0));
    this.dependents = Array.from(own, () => []);
    around.forEach((near, region) => near?.regions.forEach((other, k) => this.dependents[other]!.push(region, k)));
  }

  /** The regions whose prior depends on what one is. */
  dependentsOf(region: number): readonly number[] {
    return this.dependents[region]!.filter((_, k) => k % 2 === 0);
  }

  /** Works out the log prior of every part at a region. */
  evaluateAt(region: number): void {
    this.gather(region);
    for (let part = 0; part < this.logPrior.length; part++) this.logPrior[part] = this.logPriorOf(part);
  }

  /** By how much all becomes likelier, in nats, when a region gets a part: it, and those whose prior depends on it. */
  gainOf(region: number, part: number): number {
    const { own } = this;
    const now = own[region]!;
    if (now === part) return 0;
    this.gather(region);
    let gain = this.logPriorOf(part) - this.logPriorOf(now);
    const { groupOf, around } = this.surroundings;
    const dependents = this.dependents[region]!;
    for (let j = 0; j < dependents.length; j += 2) {
      const other = dependents[j]!;
      const { likeness, presence } = around[other]!;
      const k = dependents[j + 1]!;
      const has = own[other]!;
      const sameGroup = (groupOf[has] === groupOf[part] ? 1 : 0) - (groupOf[has] === groupOf[now] ? 1 : 0);
      if (sameGroup === 0 && has !== part && has !== now) continue;
      this.gatherOnly(other, has);
      gain -= this.logPriorOf(has);
      this.support[has] = this.support[has]! + likeness[k]! * ((has === part ? 1 : 0) - (has === now ? 1 : 0));
      this.groupSupport[groupOf[has]!] = this.groupSupport[groupOf[has]!]! + sameGroup * presence[k]!;
      gain += this.logPriorOf(has);
    }
    return gain;
  }

  private gather(region: number): void {
    const { support, groupSupport, own } = this;
    const { groupOf, around } = this.surroundings;
    support.fill(0);
    groupSupport.fill(0);
    const near = around[region];
    if (near === undefined) return;
    const { regions, likeness, presence } = near;
    for (let k = 0; k < regions.length; k++) {
      const part = own[regions[k]!]!;
      const group = groupOf[part]!;
      support[part] = support[part]! + likeness[k]!;
      groupSupport[group] = groupSupport[group]! + presence[k]!;
    }
  }

  /** The same, for one part and its group alone. */
  private gatherOnly(region: number, part: number): void {
    const { own } = this;
    const { groupOf, around } = this.surroundings;
    const { regions, likeness, presence } = around[region]!;
    const group = groupOf[part]!;
    let [support, ofGroup] = [0, 0];
    for (let k = 0; k < regions.length; k++) {
      const other = own[regions[k]!]!;
      if (other === part) support += likeness[k]!;
      if (groupOf[other] === group) ofGroup += presence[k]!;
    }
    this.support[part] = support;
    this.groupSupport[group] = ofGroup;
  }

  private logPriorOf(part: number): number {
    const group = this.groupSupport[this.surroundings.groupOf[part]!]!;
    // Of thousands of parts a few are around a region.
    if (this.support[part] === 0 && group === 0) return LOG_FLOOR;
    return CONTEXT * log(FLOOR + this.support[part]! + SAME_GROUP * group);
  }
}

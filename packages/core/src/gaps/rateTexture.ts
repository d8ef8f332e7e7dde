import { log } from '../exact/exactMath.ts';
import { plantForest, rate, type Forest } from './forest.ts';
import type { InkedBorder } from './tallyBorders.ts';
import { TEXTURE_JOINS_FROM, TEXTURE_TREES } from './textureTrees.ts';

/** What is known of a group of cells as the space between strokes; lengths in px. */
export interface SpaceFacts {
  readonly areaPx: number;
  readonly radiusPx: number;
  /** Its inked border with all others, how much of it is hatching, and how much thinner than the page's lines. */
  readonly borderPx: number;
  readonly texturePx: number;
  readonly thinPx: number;
  /** Sum of the ink's widths along it, in line widths. */
  readonly widths: number;
  /** Sum of how many strokes stand in a row with those along it. */
  readonly rows: number;
  /** Groups beside it that may become one with it, by and by. */
  readonly neighbours: number;
  /** So many tiny groups hang together with it across thin ink. */
  readonly mesh: number;
  /** Hatching and thin ink inside it. */
  readonly innerPx: number;
  /** The most hatching it has in common with one of its neighbours. */
  readonly mostPx: number;
}

/** The inked border of two groups; lengths in px. */
export interface CommonBorder extends Readonly<InkedBorder> {
  /** Width of all closures between the two. */
  readonly openPx: number;
}

/** What decides whether ink between two groups bounds anything. */
export const TEXTURE_TERMS = [
  'base',
  'texture',
  'thin',
  'common',
  'commonShare',
  'ownTexture',
  'ownThin',
  'area',
  'radius',
  'compact',
  'otherArea',
  'otherRadius',
  'otherTexture',
  'width',
  'spread',
  'restWidth',
  'mesh',
  'neighbours',
  'rank',
  'open',
  'narrowest',
  'rows',
  'ownRows',
  'otherRows',
  'ownInner',
  'otherInner',
] as const;

function share(part: number, whole: number): number {
  return whole > 0 ? part / whole : 0;
}

/** @param own the smaller of the two. @param terms are written over. @returns `terms`. */
export function textureTerms(
  own: SpaceFacts,
  other: SpaceFacts,
  common: CommonBorder,
  lineWidthPx: number,
  terms = new Float64Array(TEXTURE_TERMS.length),
): Float64Array {
  const lineArea = lineWidthPx * lineWidthPx;
  const mean = share(common.widths, common.px);
  const variance = Math.max(0, share(common.squares, common.px) - mean * mean);
  const rest = own.borderPx - common.px;
  const r = Math.max(0.5, own.radiusPx);
  terms[0] = 1;
  terms[1] = share(common.texturePx, common.px);
  terms[2] = share(common.texturePx + common.thinPx, common.px);
  terms[3] = log((common.px + 1) / lineWidthPx);
  terms[4] = share(common.px, own.borderPx);
  terms[5] = share(own.texturePx, own.borderPx);
  terms[6] = share(own.texturePx + own.thinPx, own.borderPx);
  terms[7] = log(Math.max(1, own.areaPx) / lineArea);
  terms[8] = log(r / lineWidthPx);
  terms[9] = log(Math.max(1, own.areaPx) / (r * r));
  terms[10] = log(Math.max(1, other.areaPx) / lineArea);
  terms[11] = log(Math.max(0.5, other.radiusPx) / lineWidthPx);
  terms[12] = share(other.texturePx, other.borderPx);
  terms[13] = mean;
  terms[14] = Math.sqrt(variance) / (mean + 0.1);
  terms[15] = rest > 0 ? Math.max(0, own.widths - common.widths) / rest : mean;
  terms[16] = log(1 + own.mesh);
  terms[17] = log(Math.max(1, own.neighbours));
  terms[18] = share(common.texturePx + common.thinPx, own.mostPx);
  terms[19] = common.openPx / lineWidthPx;
  terms[20] = common.narrowest;
  terms[21] = share(common.rows, common.px);
  terms[22] = share(own.rows, own.borderPx);
  terms[23] = share(other.rows, other.borderPx);
  terms[24] = log(1 + own.innerPx / lineWidthPx);
  terms[25] = log(1 + other.innerPx / lineWidthPx);
  return terms;
}

/** What the decision is rated by, and the score from which on two groups are one. */
export interface TextureScoring {
  readonly rate: (terms: Float64Array) => number;
  readonly joinsFrom: number;
}

/** A space between strokes that are all known as hatching, or almost, is one whatever the trees say: they know no such thick ones. */
const [ALL_TEXTURE, MOST_TEXTURE] = [0.95, 0.9];
const PLAINLY_ONE = 3;
const [TEXTURE_TERM, OWN_TEXTURE_TERM] = [TEXTURE_TERMS.indexOf('texture'), TEXTURE_TERMS.indexOf('ownTexture')];

const FOREST: Forest = plantForest(TEXTURE_TREES);
export const OWN_TEXTURE_SCORING: TextureScoring = {
  rate: (terms) => {
    const score = rate(FOREST, terms);
    const isPlain = terms[TEXTURE_TERM]! >= ALL_TEXTURE && terms[OWN_TEXTURE_TERM]! >= MOST_TEXTURE;
    return isPlain ? Math.max(score, PLAINLY_ONE) : score;
  },
  joinsFrom: TEXTURE_JOINS_FROM,
};

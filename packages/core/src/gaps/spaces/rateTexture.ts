import { log } from '../../exact/exactMath.ts';
import { type Forest, compileForest, rate } from '../../trees/forest.ts';
import type { InkedBorder } from '../../model/CellGraph.ts';
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
export const TEXTURE_FEATURES = [
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

/** @param own the smaller of the two. @param features are written over. @returns `features`. */
export function textureTerms(
  own: SpaceFacts,
  other: SpaceFacts,
  common: CommonBorder,
  lineWidthPx: number,
  features = new Float64Array(TEXTURE_FEATURES.length),
): Float64Array {
  const lineArea = lineWidthPx * lineWidthPx;
  const mean = share(common.widths, common.px);
  const variance = Math.max(0, share(common.squares, common.px) - mean * mean);
  const rest = own.borderPx - common.px;
  const r = Math.max(0.5, own.radiusPx);
  features[0] = 1;
  features[1] = share(common.texturePx, common.px);
  features[2] = share(common.texturePx + common.thinPx, common.px);
  features[3] = log((common.px + 1) / lineWidthPx);
  features[4] = share(common.px, own.borderPx);
  features[5] = share(own.texturePx, own.borderPx);
  features[6] = share(own.texturePx + own.thinPx, own.borderPx);
  features[7] = log(Math.max(1, own.areaPx) / lineArea);
  features[8] = log(r / lineWidthPx);
  features[9] = log(Math.max(1, own.areaPx) / (r * r));
  features[10] = log(Math.max(1, other.areaPx) / lineArea);
  features[11] = log(Math.max(0.5, other.radiusPx) / lineWidthPx);
  features[12] = share(other.texturePx, other.borderPx);
  features[13] = mean;
  features[14] = Math.sqrt(variance) / (mean + 0.1);
  features[15] = rest > 0 ? Math.max(0, own.widths - common.widths) / rest : mean;
  features[16] = log(1 + own.mesh);
  features[17] = log(Math.max(1, own.neighbours));
  features[18] = share(common.texturePx + common.thinPx, own.mostPx);
  features[19] = common.openPx / lineWidthPx;
  features[20] = common.narrowest;
  features[21] = share(common.rows, common.px);
  features[22] = share(own.rows, own.borderPx);
  features[23] = share(other.rows, other.borderPx);
  features[24] = log(1 + own.innerPx / lineWidthPx);
  features[25] = log(1 + other.innerPx / lineWidthPx);
  return features;
}

/** What the decision is rated by, and the score from which on two groups are one. */
export interface TextureScoring {
  readonly rate: (features: Float64Array) => number;
  readonly joinsFrom: number;
}

/** A space between strokes that are all known as hatching, or almost, is one whatever the trees say: they know no such thick ones. */
const [ALL_TEXTURE, MOST_TEXTURE] = [0.95, 0.9];
const PLAINLY_ONE = 3;
const [TEXTURE_FEATURE, OWN_TEXTURE_FEATURE] = [
  TEXTURE_FEATURES.indexOf('texture'),
  TEXTURE_FEATURES.indexOf('ownTexture'),
];

const FOREST: Forest = compileForest(TEXTURE_TREES);
export const OWN_TEXTURE_SCORING: TextureScoring = {
  rate: (features) => {
    const score = rate(FOREST, features);
    const isPlain = features[TEXTURE_FEATURE]! >= ALL_TEXTURE && features[OWN_TEXTURE_FEATURE]! >= MOST_TEXTURE;
    return isPlain ? Math.max(score, PLAINLY_ONE) : score;
  },
  joinsFrom: TEXTURE_JOINS_FROM,
};

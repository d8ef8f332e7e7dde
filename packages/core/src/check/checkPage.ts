import { SURE_FROM } from '../gaps/cells/rateOpening.ts';
import type { Closure } from '../model/Regions.ts';
import { DEFAULT_CHECK_RULES, severityOf, type Finding, type FindingKind, type JobChecks } from '../model/Finding.ts';
import { renderPage, type RenderedFrom } from '../handoff/renderPage.ts';
import { checkFlats } from './checkFlats.ts';
import { wholeFileFindings } from './wholeFileFindings.ts';

/** A held line that comes too near to the colour beside it. */
export interface FaintLine {
  readonly at: readonly [number, number];
  readonly box: readonly [number, number, number, number];
  readonly difference: number;
}

/** A part as findings speak of it. */
interface NamedPart {
  readonly id: string;
  readonly name: string;
}

export interface PageCheckInput extends RenderedFrom {
  readonly checks: JobChecks;
  readonly names: readonly NamedPart[];
  /** 1 for regions that are to stay without colour. */
  readonly leftEmpty: Uint8Array;
  /** `[a, b, px]` for each pair of regions that touch under ink. */
  readonly neighbours: Int32Array;
  /** Regions that read like balloons, with a point in each. */
  readonly balloons: readonly { readonly region: number; readonly at: readonly [number, number] }[];
  readonly faintLines: readonly FaintLine[];
  readonly dpi: number | null;
  /** `[x0, y0, x1, y1]` where the page is cut, and as far as its art has to reach; null where nobody said. */
  readonly trim: { readonly cut: Box; readonly bleed: Box } | null;
  /** Parts that other pages use; null where nobody knows. */
  readonly usedElsewhere: ReadonlySet<string> | null;
}

/** So many unused parts are named; the others are counted. */
const NAMED = 3;

type Box = readonly [number, number, number, number];

/** Art that comes this near to where it has to reach is there, in px. */
const BLEED_SLACK_PX = 2;

/** Checks a page by its decisions: its flats as they are rendered, its parts, gaps, lines and edges. */
export function checkPage(input: PageCheckInput): Finding[] {
  const { survey, checks } = input;
  const { pinholes } = input.trapInk;
  const isWanted = (kind: FindingKind): boolean => severityOf(checks, kind) !== 'off';
  const { parts, rgbOfPart, partCount } = renderPage(input);
  const { width, height, data } = parts;
  const flats = { width, height, data, rgb: rgbOfPart, partOf: rgbOfPart.map((_, k) => k % partCount) };
  const rules = { ...DEFAULT_CHECK_RULES, ...checks };
  const found = [
    ...checkFlats({
      page: survey,
      flats,
      regionOfCell: survey.regions.ofCell,
      palette: new Set(rgbOfPart),
      leftEmpty: input.leftEmpty,
      ...(pinholes === null ? {} : { isPinhole: pinholes.isPinhole }),
      rules: { ...rules, off: ['register'] },
    }),
    ...lonePartsAndRegions(input),
    ...unruledGaps(input),
    ...input.faintLines.map(({ at, box, difference }) =>
      boxed('low-contrast', at, box, `a coloured line differs by ${difference.toFixed(1)} from what is beside it`),
    ),
    ...colouredBalloons(input),
    ...(input.trim === null ? [] : missingBleed(input.trim, coloured(parts.box), survey)),
    ...wholeFileFindings({ width, height, dpi: input.dpi, mode: 'RGB' }, rules),
  ];
  return found.filter(({ kind }) => isWanted(kind));
}

function boxed(kind: FindingKind, at: Finding['at'], [x0, y0, x1, y1]: Box, message: string): Finding {
  const [width, height] = [x1 - x0, y1 - y0];
  return { kind, at, x: x0, y: y0, width, height, areaPx: width * height, message, rgb: -1, expectedRgb: -1 };
}

function ofRegion({ survey }: PageCheckInput, kind: FindingKind, region: number, message: string): Finding {
  const { regions, width } = survey;
  const at = regions.anchor[region]!;
  const box = regions.box.subarray(region * 4, region * 4 + 4) as unknown as Box;
  const finding = boxed(kind, [at % width, Math.floor(at / width)], box, message);
  return { ...finding, areaPx: regions.areaPx[region]! };
}

const nameOf = ({ names }: Pick<PageCheckInput, 'names'>, id: string): string =>
  names.find((one) => one.id === id)?.name ?? id;

/** Parts that no other page has, and single regions among those of another part. */
function lonePartsAndRegions(input: PageCheckInput): Finding[] {
  const { partOfRegion, neighbours, usedElsewhere } = input;
  const regionsOf = new Map<string, number[]>();
  partOfRegion.forEach((part, region) => {
    if (part === null) return;
    const list = regionsOf.get(part);
    if (list === undefined) regionsOf.set(part, [region]);
    else list.push(region);
  });
  const around = new Map<number, Set<string | null>>();
  const beside = new Map<number, number>();
  for (let k = 0; k < neighbours.length; k += 3) {
    for (const [one, two] of [
      [neighbours[k]!, neighbours[k + 1]!],
      [neighbours[k + 1]!, neighbours[k]!],
    ] as const) {
      // prettier-ignore
      const parts = around.get(one) ?? new Set();
      around.set(one, parts.add(partOfRegion[two]!));
      beside.set(one, (beside.get(one) ?? 0) + 1);
    }
  }
  // While other pages are hardly begun, every part is alone.
  const shared = [...regionsOf.keys()].filter((part) => usedElsewhere?.has(part) === true).length;
  const othersAreDone = shared * 2 >= regionsOf.size;
  const found: Finding[] = [];
  for (const [part, regions] of regionsOf) {
    const [first] = regions;
    if (usedElsewhere !== null && othersAreDone && !usedElsewhere.has(part))
      found.push(ofRegion(input, 'lone-part', first!, `${nameOf(input, part)} is on this page alone`));
    if (regions.length !== 1 || (beside.get(first!) ?? 0) < 2) continue;
    const [other, ...others] = around.get(first!) ?? [];
    if (others.length === 0 && other !== null && other !== undefined && other !== part)
      found.push(ofRegion(input, 'lone-region', first!, `one region of ${nameOf(input, part)}, all around it ${nameOf(input, other)}`)); // prettier-ignore
  }
  const unused =
    usedElsewhere === null ? [] : input.names.filter(({ id }) => !regionsOf.has(id) && !usedElsewhere.has(id));
  if (unused.length > 0) {
    const first = unused.slice(0, NAMED).map(({ name }) => name);
    const more = unused.length - first.length;
    const names = more === 0 ? first.join(', ') : `${first.join(', ')} and ${more} more`;
    found.push(boxed('unused-part', [0, 0], [0, 0, 1, 1], `${names} ${unused.length === 1 ? 'is' : 'are'} on no page`));
  }
  return found;
}

/** Gaps that bound two parts without anybody having looked at them. */
function unruledGaps(input: PageCheckInput): Finding[] {
  const { survey, partOfRegion } = input;
  const isOpen = ({ accepted, ruling, kind, confidence, regions: [a, b] }: Closure): boolean =>
    accepted &&
    ruling === null &&
    kind !== 'hand' &&
    confidence < SURE_FROM &&
    a !== b &&
    partOfRegion[a] !== null &&
    partOfRegion[b] !== null &&
    partOfRegion[a] !== partOfRegion[b];
  return survey.closures.filter(isOpen).map(({ from, to, regions: [a, b] }) => {
    const [xs, ys] = [[from[0], to[0]].sort((p, q) => p - q), [from[1], to[1]].sort((p, q) => p - q)];
    const words = `a gap of ${Math.hypot(to[0] - from[0], to[1] - from[1]).toFixed(0)} px between ${nameOf(input, partOfRegion[a]!)} and ${nameOf(input, partOfRegion[b]!)} that nobody ruled on`;
    return boxed('open-gap', [Math.round(from[0]), Math.round(from[1])], [Math.floor(xs[0]!), Math.floor(ys[0]!), Math.ceil(xs[1]!) + 1, Math.ceil(ys[1]!) + 1], words); // prettier-ignore
  });
}

function colouredBalloons(input: PageCheckInput): Finding[] {
  const { balloons, partOfRegion, groups } = input;
  const parts = new Map(groups.flatMap((group) => group.parts).map((part) => [part.id, part]));
  return balloons.flatMap(({ region, at }) => {
    const part = partOfRegion[region];
    const planned = part === null || part === undefined ? undefined : parts.get(part);
    if (planned === undefined || planned.empty || planned.rgb === 0xffffff) return [];
    return [{ ...ofRegion(input, 'balloon', region, `a balloon has the colour of ${nameOf(input, part!)}`), at }];
  });
}

/** The box of all that is coloured; null for none. */
function coloured(boxes: Int32Array): Box | null {
  let box: Box | null = null;
  for (let k = 0; k < boxes.length; k += 4) {
    const [x0, y0, x1, y1] = boxes.subarray(k, k + 4) as unknown as Box;
    if (x1 === 0) continue;
    box = box === null ? [x0, y0, x1, y1] : [Math.min(box[0], x0), Math.min(box[1], y0), Math.max(box[2], x1), Math.max(box[3], y1)]; // prettier-ignore
  }
  return box;
}

/** Sides where colour goes over the cut, but not as far as the bleed. */
function missingBleed(
  { cut, bleed }: NonNullable<PageCheckInput['trim']>,
  art: Box | null,
  { width, height }: { readonly width: number; readonly height: number },
): Finding[] {
  if (art === null) return [];
  return (['left', 'top', 'right', 'bottom'] as const).flatMap((side, k) => {
    const sign = k < 2 ? 1 : -1;
    // Beyond the file there is nothing to reach.
    const wanted = Math.min(k % 2 === 0 ? width : height, Math.max(0, bleed[k]!));
    const missing = sign * (art[k]! - wanted);
    if (sign * (art[k]! - cut[k]!) > 0 || missing <= BLEED_SLACK_PX) return [];
    const strip: Box = k === 0 ? [0, 0, art[0], height] : k === 1 ? [0, 0, width, art[1]] : k === 2 ? [art[2], 0, width, height] : [0, art[3], width, height]; // prettier-ignore
    return [boxed('bleed', [strip[0], strip[1]], strip, `colour ends ${missing.toFixed(0)} px before the bleed on the ${side}`)]; // prettier-ignore
  });
}

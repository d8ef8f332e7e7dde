import type { GroupKind } from '../model/CastSheet.ts';
import type { HoldInput } from './paintHolds.ts';
import type { FlatsAround } from './meanAround.ts';
import type { LinePieces } from './LinePieces.ts';
import { partsOnSides, type PieceSides } from './PieceSides.ts';

/** A group of the cast, as much of it as lines need to know. */
export interface GroupOfLines {
  readonly id?: string;
  readonly kind?: GroupKind;
  readonly parts: readonly {
    readonly id: string;
    /** 0xRRGGBB, and in each of the further scenes the page shows. */
    readonly rgb: number;
    readonly furtherRgb?: readonly number[];
    readonly empty: boolean;
  }[];
}

export interface PageOfLines {
  readonly pieces: LinePieces;
  readonly sides: PieceSides;
  readonly groups: readonly GroupOfLines[];
  /** Part of each region, null for none. */
  readonly partOfRegion: readonly (string | null)[];
  /** The scenes the page shows, and the place of each region's among them. @default one */
  readonly scenes?: { readonly ids: readonly (string | null)[]; readonly ofRegion: Int32Array };
  readonly flats: () => FlatsAround;
}

/** What the rules of a page need to know of its lines and its cast. */
export function holdInputOf({ pieces, sides, groups, partOfRegion, scenes, flats }: PageOfLines): HoldInput {
  const parts = groups.flatMap((group) => group.parts);
  const groupOf = groups.flatMap((group, k) => group.parts.map(() => group.id ?? String(k)));
  const isGround = groups.flatMap((group) => group.parts.map(() => group.kind === 'set'));
  const numbers = new Map(parts.map(({ id }, k) => [id, k]));
  const ofRegion = Int32Array.from(partOfRegion, (part) => (part === null ? -1 : (numbers.get(part) ?? -1)));
  /** That of the region along most of the piece. */
  const sceneNumber = (piece: number): number => {
    const first = sides.start[piece]!;
    return first === sides.start[piece + 1]! ? 0 : (scenes?.ofRegion[sides.region[first]!] ?? 0);
  };
  return {
    pieces,
    sides: partsOnSides(sides, ofRegion),
    parts: { numberOf: (part) => numbers.get(part), groupOf, isGround },
    rgbOf: (part, piece) => {
      const { rgb, furtherRgb, empty } = parts[part]!;
      const scene = sceneNumber(piece);
      return empty ? null : scene === 0 ? rgb : (furtherRgb?.[scene - 1] ?? rgb);
    },
    sceneOf: (piece) => scenes?.ids[sceneNumber(piece)] ?? null,
    flats,
  };
}

import { labOf } from './lab.ts';

/** Below this CIELAB chroma a colour is a grey. */
const GREY_CHROMA = 9;
/** Hue names by the CIELAB hue angle they end at, in degrees; what comes after the last is red again. */
const HUES: readonly (readonly [until: number, name: string])[] = [
  [14, 'pink'],
  [48, 'red'],
  [76, 'orange'],
  [107, 'yellow'],
  [168, 'green'],
  [226, 'turquoise'],
  [307, 'blue'],
  [336, 'purple'],
  [360, 'pink'],
];

/**
 * What a person at the next desk would call a colour: "Dark red", "Pale blue", "Brown".
 *
 * @param rgb 0xrrggbb.
 */
export function colourName(rgb: number): string {
  const { l: lightness, a, b } = labOf(rgb);
  const chroma = Math.sqrt(a * a + b * b);
  if (lightness < 10 && chroma < 12) return 'Black';
  if (chroma < GREY_CHROMA) {
    if (lightness > 96) return 'White';
    return lightness < 35 ? 'Dark grey' : lightness > 75 ? 'Pale grey' : 'Grey';
  }
  const hue = ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360;
  // Dark oranges and yellows have names of their own.
  if (hue >= 35 && hue < 84 && lightness < 58 && chroma < 62) return lightness < 27 ? 'Dark brown' : 'Brown';
  if (hue >= 84 && hue < 118 && lightness < 62) return lightness < 30 ? 'Dark olive' : 'Olive';
  if (hue >= 40 && hue < 100 && lightness > 68 && chroma < 32) return 'Beige';
  const name = HUES.find(([until]) => hue < until)![1];
  // A pale red is a pink.
  if (name === 'red' && lightness > 66) return 'Pink';
  const said =
    lightness < 32 ? `dark ${name}` : lightness > 80 && chroma < 45 && name !== 'yellow' ? `pale ${name}` : name;
  return said[0]!.toUpperCase() + said.slice(1);
}

import { colord, extend } from 'colord';
import cmykPlugin from 'colord/plugins/cmyk';

extend([cmykPlugin]);

/**
 * Reads a colour in any of the ways people write them: `#a0b1c2`, `a0b1c2`, `160 177 194`, `rgb(...)`,
 * `hsl(...)`, `device-cmyk(...)` or `cmyk 20 5 0 10` in percent.
 *
 * @returns `#rrggbb`, or null when it is none.
 */
export function readColour(text: string): string | null {
  const plain = text.trim().toLowerCase();
  if (/^#?[0-9a-f]{6}$/.test(plain)) return `#${plain.replace('#', '')}`;
  const numbers =
    plain
      .replace(/^[a-z-]+/, '')
      .match(/\d+(?:\.\d+)?/g)
      ?.map(Number) ?? [];
  if (/^(?:device-)?cmyk/.test(plain)) {
    if (numbers.length !== 4 || numbers.some((n) => n > 100)) return null;
    const [c, m, y, k] = numbers as [number, number, number, number];
    return colord({ c, m, y, k }).toHex();
  }
  if (/^\d/.test(plain)) {
    return numbers.length === 3 && numbers.every((n) => n <= 255 && Number.isInteger(n))
      ? colord({ r: numbers[0]!, g: numbers[1]!, b: numbers[2]! }).toHex()
      : null;
  }
  const read = colord(plain);
  return read.isValid() ? read.toHex().slice(0, 7) : null;
}

/** The same colour in numbers: "63 111 107", "175 28% 34%", "43 0 4 56". */
export function colourNumbers(hex: string): { readonly rgb: string; readonly hsl: string; readonly cmyk: string } {
  const colour = colord(hex);
  const { r, g, b } = colour.toRgb();
  const { h, s, l } = colour.toHsl();
  const { c, m, y, k } = colour.toCmyk();
  return { rgb: `${r} ${g} ${b}`, hsl: `${h} ${s}% ${l}%`, cmyk: `${c} ${m} ${y} ${k}` };
}

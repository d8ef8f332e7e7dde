import { root } from '../exact/exactMath.ts';

/** CIE L*a*b* under D65. */
export interface Lab {
  readonly l: number;
  readonly a: number;
  readonly b: number;
}

const linear: Float64Array = linearTable();

/** The sRGB curve for each byte; x^2.4 is taken as x^2 times the square of the fifth root. */
function linearTable(): Float64Array {
  const table = new Float64Array(256);
  for (let v = 0; v < 256; v++) {
    const c = v / 255;
    if (c <= 0.04045) {
      table[v] = c / 12.92;
      continue;
    }
    const x = (c + 0.055) / 1.055;
    const fifth = root(x, 5);
    table[v] = x * x * fifth * fifth;
  }
  return table;
}

/** The linear value, 0..1, of a byte of sRGB. */
export const linearOf = (byte: number): number => linear[byte]!;

function compress(t: number): number {
  return t > 216 / 24389 ? root(t, 3) : ((24389 / 27) * t + 16) / 116;
}

/** sRGB 0xRRGGBB to L*a*b* (IEC 61966-2-1, CIE 15). */
export function labOf(rgb: number): Lab {
  const r = linear[rgb >>> 16]!;
  const g = linear[(rgb >>> 8) & 255]!;
  const b = linear[rgb & 255]!;
  const x = compress((0.4123907992659595 * r + 0.357584339383878 * g + 0.1804807884018343 * b) / 0.9504559270516716);
  const y = compress(0.21263900587151036 * r + 0.715168678767756 * g + 0.07219231536073371 * b);
  const z = compress((0.01933081871559185 * r + 0.11919477979462599 * g + 0.9505321522496606 * b) / 1.0890577507598784);
  return { l: 116 * y - 16, a: 500 * (x - y), b: 200 * (y - z) };
}

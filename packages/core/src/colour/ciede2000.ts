import { angleDegrees, cosDegrees, exp, sinDegrees } from '../exact/exactMath.ts';
import type { Lab } from './lab.ts';

const POWER_25_7 = 6103515625;

function power7(c: number): number {
  return c * c * c * c * c * c * c;
}

/** The colour difference CIEDE2000 with all weights 1 (Sharma, Wu and Dalal 2005). */
export function ciede2000(one: Lab, two: Lab): number {
  const c1 = Math.sqrt(one.a * one.a + one.b * one.b);
  const c2 = Math.sqrt(two.a * two.a + two.b * two.b);
  const mean7 = power7((c1 + c2) / 2);
  const stretch = 1.5 - 0.5 * Math.sqrt(mean7 / (mean7 + POWER_25_7));
  const a1 = one.a * stretch;
  const a2 = two.a * stretch;
  const chroma1 = Math.sqrt(a1 * a1 + one.b * one.b);
  const chroma2 = Math.sqrt(a2 * a2 + two.b * two.b);
  const hue1 = angleDegrees(one.b, a1);
  const hue2 = angleDegrees(two.b, a2);

  const deltaL = two.l - one.l;
  const deltaC = chroma2 - chroma1;
  const grey = chroma1 * chroma2 === 0;
  let deltaHue = 0;
  if (!grey) {
    deltaHue = hue2 - hue1;
    if (deltaHue > 180) deltaHue -= 360;
    else if (deltaHue < -180) deltaHue += 360;
  }
  const deltaH = 2 * Math.sqrt(chroma1 * chroma2) * sinDegrees(deltaHue / 2);

  const meanL = (one.l + two.l) / 2;
  const meanC = (chroma1 + chroma2) / 2;
  let meanH = hue1 + hue2;
  if (!grey) {
    if (Math.abs(hue1 - hue2) <= 180) meanH /= 2;
    else meanH = meanH < 360 ? (meanH + 360) / 2 : (meanH - 360) / 2;
  }
  const t =
    1 -
    0.17 * cosDegrees(meanH - 30) +
    0.24 * cosDegrees(2 * meanH) +
    0.32 * cosDegrees(3 * meanH + 6) -
    0.2 * cosDegrees(4 * meanH - 63);
  const off = (meanH - 275) / 25;
  const rotation = 2 * Math.sqrt(power7(meanC) / (power7(meanC) + POWER_25_7)) * sinDegrees(60 * exp(-off * off));
  const l50 = (meanL - 50) * (meanL - 50);
  const scaleL = 1 + (0.015 * l50) / Math.sqrt(20 + l50);
  const scaleC = 1 + 0.045 * meanC;
  const scaleH = 1 + 0.015 * meanC * t;
  const l = deltaL / scaleL;
  const c = deltaC / scaleC;
  const h = deltaH / scaleH;
  return Math.sqrt(Math.max(0, l * l + c * c + h * h - rotation * c * h));
}

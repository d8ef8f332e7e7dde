/**
 * Roots, angles and exponentials from + - * / and sqrt alone, so that every engine gives the same
 * bits. Accurate to about 1e-12 over the ranges that colour differences need.
 */

/** The n-th root of x >= 0 by Newton's method, n = 3 or 5. */
export function root(x: number, n: 3 | 5): number {
  if (x <= 0) return 0;
  let y = x > 1 ? x : (x + n - 1) / n;
  for (let k = 0; k < 60; k++) {
    const power = n === 3 ? y * y : y * y * y * y;
    const next = ((n - 1) * y + x / power) / n;
    if (next >= y && k > 0) break;
    y = next;
  }
  return y;
}

/** e to the x, for -700 <= x <= 700. */
export function exp(x: number): number {
  // e^x = (e^(x / 1024))^1024
  const small = x / 1024;
  let term = 1;
  let sum = 1;
  for (let k = 1; k < 14; k++) {
    term = (term * small) / k;
    sum += term;
  }
  for (let k = 0; k < 10; k++) sum *= sum;
  return sum;
}

const PI = 3.141592653589793;

/** The angle of (x, y) in degrees, 0 <= angle < 360; 0 for the origin. */
export function angleDegrees(y: number, x: number): number {
  if (x === 0 && y === 0) return 0;
  const ax = x < 0 ? -x : x;
  const ay = y < 0 ? -y : y;
  let angle = ax >= ay ? arcTan(ay / ax) : 90 - arcTan(ax / ay);
  if (x < 0) angle = 180 - angle;
  if (y < 0) angle = 360 - angle;
  return angle >= 360 ? angle - 360 : angle;
}

/** In degrees, for 0 <= t <= 1. */
function arcTan(t: number): number {
  // Two half-angle steps bring t below 0.2.
  let u = t / (1 + Math.sqrt(1 + t * t));
  u = u / (1 + Math.sqrt(1 + u * u));
  let sum = 0;
  let power = u;
  for (let k = 1; k < 40; k += 2) {
    sum += ((k & 2) === 0 ? power : -power) / k;
    power *= u * u;
  }
  return (sum * 4 * 180) / PI;
}

export function sinDegrees(degrees: number): number {
  let turn = degrees - Math.floor(degrees / 360) * 360;
  let sign = 1;
  if (turn >= 180) {
    turn -= 180;
    sign = -1;
  }
  if (turn > 90) turn = 180 - turn;
  const x = (turn * PI) / 180;
  let term = x;
  let sum = x;
  for (let k = 2; k < 26; k += 2) {
    term = (-term * x * x) / (k * (k + 1));
    sum += term;
  }
  return sign * sum;
}

export function cosDegrees(degrees: number): number {
  return sinDegrees(degrees + 90);
}

const LN_2 = 0.6931471805599453;

/** The natural logarithm of x > 0. */
export function log(x: number): number {
  let twos = 0;
  let m = x;
  while (m >= 2) {
    m /= 2;
    twos++;
  }
  while (m < 1) {
    m *= 2;
    twos--;
  }
  // ln m = 2 artanh((m - 1) / (m + 1))
  const t = (m - 1) / (m + 1);
  let power = t;
  let sum = 0;
  for (let k = 1; k < 40; k += 2) {
    sum += power / k;
    power *= t * t;
  }
  return 2 * sum + twos * LN_2;
}

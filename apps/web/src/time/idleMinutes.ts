const KEY = 'jumble.idleMinutes';
const [LEAST, MOST, USUAL] = [1, 30, 2] as const;

/** So many minutes without doing anything are still work. */
export function idleMinutes(): number {
  const kept = Number(globalThis.localStorage?.getItem(KEY) ?? USUAL);
  return Number.isFinite(kept) && kept >= LEAST && kept <= MOST ? kept : USUAL;
}

/** @returns whether it was taken. */
export function setIdleMinutes(minutes: number): boolean {
  if (!Number.isInteger(minutes) || minutes < LEAST || minutes > MOST) return false;
  globalThis.localStorage?.setItem(KEY, String(minutes));
  return true;
}

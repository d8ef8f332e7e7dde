const KEY = 'jumble.person';
/** Who works in a browser where nobody gave a name. */
const NOBODY = 'Me';

/** The name of who works in this browser. */
export function person(): string {
  return globalThis.localStorage?.getItem(KEY) ?? NOBODY;
}

export function setPerson(name: string): void {
  const clean = name.trim();
  if (clean === '') globalThis.localStorage?.removeItem(KEY);
  else globalThis.localStorage?.setItem(KEY, clean);
}

/** Tells the server who does something. */
export const personHeader = (): Record<string, string> => ({ 'X-Jumble-Person': encodeURIComponent(person()) });

import { AsyncLocalStorage } from 'node:async_hooks';
import { cleanName } from '@jumble/core';
import type { NextFunction, Request, Response } from 'express';

const people = new AsyncLocalStorage<string | null>();
/** Most characters of a name. */
export const MOST_PERSON = 60;

/** Remembers, for what a request does, the name that the browser was given. */
export function rememberPerson(request: Request, _response: Response, next: NextFunction): void {
  people.run(personOf(request.headers['x-jumble-person']), next);
}

/** Who asked for what is done now; null where nobody gave a name. */
export const currentPerson = (): string | null => people.getStore() ?? null;

/** Headers hold no other letters than these, so that a name comes with the others escaped. */
function personOf(header: string | string[] | undefined): string | null {
  if (typeof header !== 'string' || header.length > MOST_PERSON * 9) return null;
  try {
    return cleanName(decodeURIComponent(header)).slice(0, MOST_PERSON) || null;
  } catch {
    return null;
  }
}

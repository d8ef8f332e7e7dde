import type { NextFunction, Request, Response } from 'express';

const LOOPBACK = new Set(['127.0.0.1', 'localhost', '[::1]']);

/**
 * Lets through only requests that name this machine: a page of another site in the same browser
 * must neither read nor write here, whatever name it resolved to us.
 */
export function guardLoopback(request: Request, response: Response, next: NextFunction): void {
  const host = hostName(request.headers.host);
  if (host === null || !LOOPBACK.has(host)) {
    refuse(response, 'foreign-host', 'Jumble answers only on this machine: open it as http://127.0.0.1 with its port.');
    return;
  }
  const { origin } = request.headers;
  if ((origin !== undefined && origin !== `http://${request.headers.host}`) || comesFromElsewhere(request)) {
    refuse(
      response,
      'foreign-origin',
      'The request comes from another site and was refused. Open Jumble at its own address.',
    );
    return;
  }
  next();
}

/**
 * A browser says where a request comes from, also where it leaves out the origin (a form in a page without one).
 * From elsewhere a person may only follow a link to one of our pages.
 */
function comesFromElsewhere({ method, path, headers }: Request): boolean {
  const site = headers['sec-fetch-site'];
  if (site === undefined || site === 'same-origin' || site === 'none') return false;
  const isLink =
    method === 'GET' && headers['sec-fetch-mode'] === 'navigate' && headers['sec-fetch-dest'] === 'document';
  return !isLink || path.startsWith('/api');
}

function hostName(header: string | undefined): string | null {
  const match = /^(\[[0-9a-f:]+\]|[^:]+)(?::\d+)?$/i.exec(header ?? '');
  return match === null ? null : match[1]!.toLowerCase();
}

function refuse(response: Response, code: string, detail: string): void {
  response
    .status(403)
    .type('application/problem+json')
    .send(JSON.stringify({ type: `urn:jumble:${code}`, title: code.replaceAll('-', ' '), status: 403, detail, code }));
}

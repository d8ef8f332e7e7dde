/** A request in JSON may have this many bytes at most. */
const MAX_BODY_BYTES = 256 * 1024;
/** Steps and cast files may be larger. */
const MAX_DOCUMENT_BODY_BYTES = 24 * 1024 * 1024;
const DOCUMENT_PATHS = /^\/api\/(?:pages\/[^/]+\/edits|jobs\/[^/]+\/cast\/(?:edits|import))$/;

/** The sizes of requests that are read, and which they are for. */
export const BODY_LIMITS = [
  { limit: MAX_DOCUMENT_BODY_BYTES, isFor: (path: string): boolean => DOCUMENT_PATHS.test(path) },
  { limit: MAX_BODY_BYTES, isFor: (): boolean => true },
] as const;

/** "24 MB", "256 kB". */
export function sizeInWords(bytes: number): string {
  const megabytes = bytes / 1024 / 1024;
  return megabytes >= 1 ? `${Math.round(megabytes)} MB` : `${Math.round(bytes / 1024)} kB`;
}

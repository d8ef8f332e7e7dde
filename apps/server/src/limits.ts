/** A request in JSON may have this many bytes at most. */
export const MAX_BODY_BYTES = 24 * 1024 * 1024;

export const megabytes = (bytes: number): string => `${Math.round(bytes / 1024 / 1024)} MB`;

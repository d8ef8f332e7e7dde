/** An error as the server says it (HTTP problem document, RFC 9457). */
export interface Problem {
  readonly type: string;
  readonly title: string;
  readonly status: number;
  /** What happened, what was kept and what to do. */
  readonly detail: string;
  /** Stable, for programs. */
  readonly code: string;
}

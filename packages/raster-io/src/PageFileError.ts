/** Why a file cannot be a page; the message says what to do. */
export type PageFileFault =
  'missing' | 'empty' | 'too-large' | 'not-an-image' | 'damaged' | 'animation' | 'too-many-pixels';

export class PageFileError extends Error {
  constructor(
    readonly fault: PageFileFault,
    message: string,
  ) {
    super(message);
    this.name = 'PageFileError';
  }
}

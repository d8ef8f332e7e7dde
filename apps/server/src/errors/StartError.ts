/** Jumble cannot start; the message is one line that says why and what to do. */
export class StartError extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'StartError';
  }
}

/** An action with its key, as the list of keys shows it. */
export interface Shortcut {
  readonly keys: string;
  readonly words: string;
}

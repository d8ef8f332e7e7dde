/** An action with its key, as the list of keys shows it. */
export interface KeyAction {
  readonly keys: string;
  readonly words: string;
}

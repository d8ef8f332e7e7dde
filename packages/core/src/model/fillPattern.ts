const WORD = /\{([a-z]*)\}/g;

/** The words in braces of a pattern. */
function wordsOfPattern(pattern: string): string[] {
  return [...pattern.matchAll(WORD)].map(([, word]) => word!);
}

/** Puts values in the place of the words in braces; words without a value stay. */
export function fillPattern(pattern: string, values: Readonly<Record<string, string>>): string {
  return pattern.replace(WORD, (whole, word: string) => values[word] ?? whole);
}

/**
 * What is wrong with a pattern; null for nothing.
 *
 * @param words all it may name. @param telling those of which it must name one, so that names differ.
 */
export function patternProblem(pattern: string, words: readonly string[], telling: readonly string[]): string | null {
  const inBraces = (all: readonly string[]): string => all.map((word) => `{${word}}`).join(', ');
  const named = wordsOfPattern(pattern);
  if (!named.every((word) => words.includes(word))) return `knows only ${inBraces(words)}`;
  return named.some((word) => telling.includes(word)) ? null : `must hold one of ${inBraces(telling)}`;
}

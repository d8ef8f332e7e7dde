/** Most characters of a file's name, its ending not among them. */
const MOST_CHARACTERS = 120;

/** A file name for every system from whatever people call things: letters without marks, digits, `-` and `_`. */
export function plainFileName(text: string): string {
  const plain = text
    .normalize('NFKD')
    .replace(/[^\w -]+/g, '')
    .trim()
    .replace(/\s+/g, '-')
    .replace(/_{2,}/g, '_')
    .replace(/^[-_]+|[-_]+$/g, '')
    .toLowerCase()
    .slice(0, MOST_CHARACTERS);
  return plain || 'page';
}

/** Makes names unlike each other by a number at their end. @param taken names that were given, and gets this one. */
export function nameApart(name: string, taken: Set<string>): string {
  let candidate = name;
  for (let k = 2; taken.has(candidate); k++) candidate = `${name}-${k}`;
  taken.add(candidate);
  return candidate;
}

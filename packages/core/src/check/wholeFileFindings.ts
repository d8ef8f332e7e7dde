import type { CheckRules, Finding, FindingKind } from '../model/Finding.ts';

/** What is known of a file of flats as a whole. */
export interface FlatsFile {
  readonly width: number;
  readonly height: number;
  readonly dpi: number | null;
  /** "RGB", "CMYK", "grey", "indexed", with "+ transparency". */
  readonly mode: string;
}

/** Resolution and colour mode, where the rules ask for one. */
export function wholeFileFindings({ width, height, dpi, mode }: FlatsFile, rules: CheckRules): Finding[] {
  const about = (kind: FindingKind, message: string): Finding => ({
    kind,
    ...{ x: 0, y: 0, width, height, areaPx: width * height, at: [0, 0] as const },
    ...{ message, rgb: -1, expectedRgb: -1 },
  });
  const found: Finding[] = [];
  if (rules.minDpi !== null && (dpi ?? 0) < rules.minDpi)
    found.push(
      about('resolution', dpi === null ? `no resolution is stated; ${rules.minDpi} dpi are asked for` : `${Math.round(dpi)} dpi; ${rules.minDpi} are asked for`), // prettier-ignore
    );
  // A palette of colours is RGB as well.
  const has = mode.startsWith('CMYK') ? 'cmyk' : mode.startsWith('RGB') || mode.startsWith('indexed') ? 'rgb' : 'other';
  if (rules.mode !== null && has !== rules.mode)
    found.push(about('mode', `the file is ${mode}; ${rules.mode.toUpperCase()} is asked for`));
  return found.filter(({ kind }) => !rules.off.includes(kind));
}

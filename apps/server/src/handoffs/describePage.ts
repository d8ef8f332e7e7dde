import { KIND_WORDS, type DeliveryRule, type FindingKind, type PageDocument } from '@jumble/core';

/** What goes with a page in words: which state it is, whether it was certified, what may stay for what reason, its notes. */
export function describePage(
  { certificate, waivers, notes }: PageDocument,
  revision: number,
  rule: Pick<DeliveryRule, 'notes'>,
): string[] {
  return [
    `Revision ${revision}, ${new Date().toISOString().slice(0, 10)}`,
    certificate === null
      ? 'Not certified'
      : `Certified ${certificate.at.slice(0, 16).replace('T', ' ')} UTC for content ${certificate.content.slice(0, 12)}`,
    ...[...waivers].map(([key, { reason }]) => {
      const [kind, at] = key.split('/');
      return `${KIND_WORDS[kind as FindingKind]} at ${at!.replace(',', ', ')} px may stay: ${reason}`;
    }),
    ...(rule.notes && notes !== '' ? notes.split('\n').map((line) => `Note: ${line}`) : []),
  ];
}

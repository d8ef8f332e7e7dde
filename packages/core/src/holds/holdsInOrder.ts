import type { HoldRule, LineSelect } from '../model/Holds.ts';
import type { PageDocument } from '../model/PageDocument.ts';

/** The rules of a page in the order in which they count: later ones more. */
export function holdsInOrder({ holds }: Pick<PageDocument, 'holds'>): (HoldRule & { readonly id: string })[] {
  return [...holds].map(([id, rule]) => ({ ...rule, id })).sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1));
}

/** The same rule with the parts that those of the rule have become: merged ones go by the other's id. */
export function withPartsOf<Rule extends Pick<HoldRule, 'lines'>>(
  rule: Rule,
  partOf: (id: string) => string | null,
): Rule {
  const now = (id: string): string => partOf(id) ?? id;
  const { lines } = rule;
  let select: LineSelect = lines;
  if ('inside' in lines) select = { inside: now(lines.inside) };
  else if ('contour' in lines) select = { contour: now(lines.contour) };
  else if ('between' in lines) select = { between: [now(lines.between[0]), now(lines.between[1])] };
  return { ...rule, lines: select };
}

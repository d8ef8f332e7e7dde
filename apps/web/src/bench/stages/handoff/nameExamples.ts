import { FILE_ENDINGS, fillPattern, pageFileName, stackedGroups, stackedParts, type DeliveryRule } from '@jumble/core';
import type { BenchState } from '../../state/benchState.ts';

/** What the file of this page would be called now. */
export function fileExample({ page, cast, jobName, document, history }: BenchState, rule: DeliveryRule): string {
  if (page === null || cast === null) return '';
  const sceneId = rule.scene ?? document?.scene;
  const name = pageFileName(rule, {
    job: jobName,
    page: page.name,
    number: page.position + 1,
    scene: (cast.scenes.find(({ id }) => id === sceneId) ?? cast.scenes[0])?.name ?? '',
    revision: history.findLast(({ scope }) => scope === 'page')?.revision ?? page.revision,
    palette: cast.palette,
    date: new Date().toISOString().slice(0, 10),
  });
  return name + FILE_ENDINGS[rule.format];
}

/** Most layers that are named as examples. */
const MOST = 2;

/** What layers of this page would be called now: the first ones, in one line. */
export function layerExamples({ cast, regionsOfPart }: BenchState, rule: DeliveryRule): string {
  if (cast === null || rule.layers === 'panel' || rule.layers === 'single') return '';
  const used = stackedGroups(cast).flatMap((group) =>
    stackedParts(cast, group.id)
      .filter((part) => regionsOfPart.has(part.id) && !part.empty)
      .map((part) => ({ group: group.name, part: part.name })),
  );
  const names =
    rule.layers === 'group'
      ? [...new Set(used.map(({ group }) => group))].map((name) => ({ name, group: '' }))
      : used.map(({ group, part }) => ({ name: part, group }));
  if (rule.layers === 'colour') return '';
  return names
    .slice(0, MOST)
    .map((one, k) => fillPattern(rule.layerName, { ...one, number: String(k + 1).padStart(2, '0') }).trim())
    .join(', ');
}

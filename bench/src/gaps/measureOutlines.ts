import { DEFAULT_PREP, NO_GAPS_PREP, openSurvey, surveyPage, type Ruling } from '@jumble/core';
import type { Row } from '../printTable.ts';
import { generateOutline, OUTLINE_KINDS } from './generateOutline.ts';
import { range } from './lessons.ts';
import { scoreDivision, type DivisionScore } from './scoreDivision.ts';
import { closuresThatPart } from './truthOfCells.ts';

/** Seeds nothing was fitted on. */
const SEEDS = range(101, 125);

/** How well outlines that run out into the paper are closed: by themselves, and once a flatter has ruled on what is offered. */
export async function measureOutlines(): Promise<Row[]> {
  const rows: Row[] = [];
  for (const kind of OUTLINE_KINDS) {
    const byItself: DivisionScore[] = [];
    const ruledOn: DivisionScore[] = [];
    const without: DivisionScore[] = [];
    const count = { right: 0, wrong: 0, missed: 0 };
    for (const seed of SEEDS) {
      const { ink, shut: closed } = await generateOutline(seed, kind);
      const shut = surveyPage(closed, NO_GAPS_PREP);
      const page = openSurvey(ink, DEFAULT_PREP);
      const { survey } = page;
      byItself.push(scoreDivision(survey, shut));
      const parting = closuresThatPart(survey, shut);
      const offered = survey.closures.filter((one) => one.kind === 'outline');
      for (const { key, accepted } of offered) {
        if (accepted) count[parting.has(key) ? 'right' : 'wrong']++;
        else if (parting.has(key)) count.missed++;
      }
      const divide = (ruling: (key: string) => Ruling): DivisionScore => {
        const rulings = new Map(offered.map(({ key }): [string, Ruling] => [key, ruling(key)]));
        page.rule(survey.maxGapPx, rulings);
        return scoreDivision(page.survey, shut);
      };
      ruledOn.push(divide((key) => (parting.has(key) ? 'closed' : 'open')));
      without.push(divide(() => 'open'));
    }
    const mean = (scores: readonly DivisionScore[], read: (score: DivisionScore) => number): number =>
      scores.reduce((sum, score) => sum + read(score), 0) / scores.length;
    rows.push({
      what: `open outlines, ${kind}: accuracy`,
      value: mean(byItself, ({ accuracy }) => accuracy),
      unit: '',
      note: `ruled on ${mean(ruledOn, ({ accuracy }) => accuracy).toFixed(3)}, left open ${mean(without, ({ accuracy }) => accuracy).toFixed(3)}; closed ${count.right} right, ${count.wrong} wrong, ${count.missed} left to be closed on ${SEEDS.length} drawings`,
    });
    rows.push({
      what: `open outlines, ${kind}: regions recovered`,
      value: mean(byItself, ({ recovered }) => recovered),
      unit: '',
      note: `ruled on ${mean(ruledOn, ({ recovered }) => recovered).toFixed(3)}, left open ${mean(without, ({ recovered }) => recovered).toFixed(3)}; spurious a drawing ${mean(byItself, ({ spurious }) => spurious).toFixed(2)}`,
    });
  }
  return rows;
}

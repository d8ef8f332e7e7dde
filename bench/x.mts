import { openSurvey, DEFAULT_PREP, redrawSurvey, type SurveyStep } from '@jumble/core';
import { largePage } from './src/largePage.ts';
const grey = await largePage();
const best: Record<string, number> = {};
const mode = process.argv[2] ?? 'open';
for (let run = 0; run < (mode==='open'?5:2); run++) {
  let last = performance.now();
  const o = openSurvey(grey, DEFAULT_PREP, { onStep: (s: SurveyStep) => { const n = performance.now(); best[s] = Math.min(best[s] ?? 1e9, n - last); last = n; } });
  if (mode !== 'open') for (let k=0;k<10;k++) for (const key of ['2300,500-2300,900','0,60-4124,60']) {
    let s = performance.now(); const d = redrawSurvey(o, [key], o.survey.maxGapPx, new Map()); best[key] = Math.min(best[key] ?? 1e9, performance.now() - s);
    s = performance.now(); redrawSurvey(d, [], o.survey.maxGapPx, new Map()); best['-' + key] = Math.min(best['-' + key] ?? 1e9, performance.now() - s);
  }
}
console.log(best);

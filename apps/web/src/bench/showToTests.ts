import type { Bench } from './state/Bench.ts';
import { setView } from './page/look.ts';
import { goToPanel, panelsOf } from './page/panels.ts';
import { regionAtPoint } from './page/partColours.ts';
import { choosePart } from './page/parts.ts';
import { layGuide } from './stages/flats/colourGuide.ts';
import { setWay } from './stages/flats/flats.ts';
import { addMark, spreadMarks } from './stages/flats/marks.ts';

/** Puts the bench where the end-to-end tests and the benchmark find it, with the commands they ask for. */
export function showToTests(bench: Bench): void {
  const bound =
    <Rest extends unknown[], Out>(command: (of: Bench, ...rest: Rest) => Out) =>
    (...rest: Rest): Out =>
      command(bench, ...rest);
  const commands = {
    setView: bound(setView),
    goToPanel: bound(goToPanel),
    choosePart: bound(choosePart),
    setWay: bound(setWay),
    addMark: bound(addMark),
    spreadMarks: bound(spreadMarks),
    layGuide: bound(layGuide),
    panels: () => panelsOf(bench.state),
    regionAt: (x: number, y: number) => regionAtPoint(bench.state, x, y),
  };
  Object.assign(window, { jumbleBench: bench, jumbleCommands: commands });
}

import { measureChaos } from './chaos/measureChaos.ts';
import { measureLineArt } from './lineart/measureLineArt.ts';
import { measureDesk } from './desk/measureDesk.ts';
import { measureFlats } from './flats/measureFlats.ts';
import { measureSchools } from './flats/measureSchools.ts';
import { measureGaps } from './gaps/measureGaps.ts';
import { measureHandoff } from './handoff/measureHandoff.ts';
import { measureInterface } from './interface/measureInterface.ts';
import { measureKernels } from './measureKernels.ts';
import { printTable, type Row } from './printTable.ts';

/** `npm run bench [kernels|lineart|gaps|flats|schools|interface|handoff|desk|chaos]`: one part, or everything but chaos, which measures no speed. */
const parts: readonly [string, () => Promise<{ title: string; rows: Row[] }>][] = [
  ['kernels', measureKernels],
  ['lineart', measureLineArt],
  ['gaps', measureGaps],
  ['flats', measureFlats],
  ['schools', measureSchools],
  ['interface', measureInterface],
  ['handoff', measureHandoff],
  ['desk', measureDesk],
  ['chaos', measureChaos],
];
const wanted = process.argv[2];
if (wanted !== undefined && !parts.some(([name]) => name === wanted)) {
  process.stderr.write(`bench: there is no part "${wanted}"; parts are ${parts.map(([name]) => name).join(', ')}.\n`);
  process.exit(2);
}
let missed = 0;
for (const [name, measure] of parts) {
  if (wanted === undefined ? name === 'chaos' : wanted !== name) continue;
  const { title, rows } = await measure();
  missed += printTable(title, rows);
}
process.stdout.write(missed === 0 ? 'Every target is met.\n' : `${missed} of the targets are missed.\n`);

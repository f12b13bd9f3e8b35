// One case in a process of its own, so that its memory is its own: node traceCase.mjs FILE RUNS
import { readFileSync } from 'node:fs';
import runTask from '../../apps/server/dist/traceTask.js';

const [, , file, runs] = process.argv;
const bytes = new Uint8Array(readFileSync(file));
const times = [];
let verdicts = [];
for (let run = 0; run < Number(runs); run += 1) {
  const start = performance.now();
  const result = runTask({ name: 'trace', ask: { bytes, options: {} } });
  times.push(performance.now() - start);
  if (result.kind !== 'done') throw new Error(JSON.stringify(result.faults));
  verdicts = result.answer.channels.map(({ clipping }) => clipping.verdict);
}
console.log(JSON.stringify({ times, verdicts }));

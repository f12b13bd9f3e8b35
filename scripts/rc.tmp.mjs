// Evaluation of every tune of a file, as a change of its records makes it: node --import tsx runCase.mjs FILE
import { readFileSync } from 'node:fs';
import { newSituation, runOf } from '@yield/core';

const [, , file] = process.argv;
const RUNS = 200;

const cases = JSON.parse(readFileSync(file, 'utf8')).map((tune) => {
  const { chain, settings, readings, traces, marks, name } = tune;
  const times = [];
  for (let run = 0; run < RUNS; run += 1) {
    const start = performance.now();
    const steps = runOf(newSituation(chain.body, settings, { readings, traces, marks }));
    times.push(performance.now() - start);
    if (steps.length === 0) throw new Error(`${name} has no steps`);
  }
  return { name, first: times[0], warm: times.slice(RUNS / 2) };
});
console.log(JSON.stringify(cases));

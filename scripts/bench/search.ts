// Finding anything: an index of a shop with 200 tunes, gear, the guide and a tune at hand, then letter by letter.
import { readFileSync } from 'node:fs';
import { finderOf, type Found } from '../../apps/web/src/search/finder.ts';

const VEHICLES = ['Library bus', 'Driving-school car', 'Camper trailer', 'Puppet theatre van', 'Ice-cream cart'];
const of = (count: number, kind: string, title: (k: number) => string, words: (k: number) => string): Found[] =>
  Array.from({ length: count }, (_, k) => ({ id: `${kind}/${k}`, kind, title: title(k), words: words(k), to: '/' }));
const guide = readFileSync(new URL('../../docs/guide.md', import.meta.url), 'utf8').split(/^## /m);
const items: Found[] = [
  ...of(
    200,
    'tune',
    (k) => `${VEHICLES[k % 5]!} ${k}`,
    (k) => `${1 + (k % 9)} channels, 12 V`,
  ),
  ...of(
    150,
    'amplifier',
    (k) => `Four-channel, 4 × ${30 + k} W`,
    () => '',
  ),
  ...of(
    120,
    'step',
    (k) => `Gain: Channel ${k}`,
    (k) => `Amplifier ${k % 8}`,
  ),
  ...of(
    500,
    'reading',
    (k) => `${(5 + k / 40).toFixed(2)} V`,
    (k) => `Gain: Channel ${k % 40}`,
  ),
  ...of(
    guide.length,
    'guide',
    (k) => guide[k]!.split('\n')[0]!,
    (k) => guide[k]!,
  ),
];
const began = performance.now();
const find = finderOf(items);
const build = performance.now() - began;
const times = ['library bus 12', 'gain chan', 'crossover', '11.2', 'amplifier'].flatMap((text) =>
  Array.from(text, (_, k) => {
    const start = performance.now();
    find(text.slice(0, k + 1));
    return performance.now() - start;
  }),
);
console.log(JSON.stringify({ items: items.length, build, times }));

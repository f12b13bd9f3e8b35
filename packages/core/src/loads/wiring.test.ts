import { say } from '@yield/words';
import { describe, expect, it } from 'vitest';
import { coilsOf, type DriverSpec } from './drivers.ts';
import { judgeWiring } from './judgeWiring.ts';
import { parseNetwork } from './network.ts';
import { readWiring } from './readWiring.ts';
import { joinsOf, joinWords, type Join } from './wiring.ts';

const DUAL: DriverSpec[] = [
  { name: 'A', coils: 2, coilOhm: 4 },
  { name: 'B', coils: 2, coilOhm: 4 },
];
const COILS = coilsOf(DUAL);
const joins = (network: string, pairs: 1 | 2 = 1): Join[] => joinsOf(parseNetwork(network, new Set(COILS.map(({ name }) => name))), pairs);
const said = (wires: readonly Join[]): string =>
  judgeWiring(readWiring(COILS, wires), COILS)
    .map((finding) => `${finding.grade}: ${say(finding).text}`)
    .join('\n');

describe('the list of connections', () => {
  it('leads from plus to minus, one wire at a time', () => {
    const wires = joins('(A1+A2)|(B1+B2)');
    const { kinds } = readWiring(COILS, wires);
    expect(wires.map((wire, i) => joinWords(wire, kinds[i]!, COILS))).toEqual([
      'wire from amplifier plus to A coil 1 plus',
      'jumper from A coil 1 plus to B coil 1 plus',
      'jumper from A coil 1 minus to A coil 2 plus',
      'jumper from B coil 1 minus to B coil 2 plus',
      'jumper from A coil 2 minus to B coil 2 minus',
      'wire from B coil 2 minus to amplifier minus',
    ]);
    expect(kinds).toEqual(['feed', 'parallel', 'series', 'series', 'parallel', 'feed']);
  });
  it('feeds branches from both pairs of terminals, and a single chain from one', () => {
    expect(joins('(A1+A2)|(B1+B2)', 2).flat()).toEqual(expect.arrayContaining(['amp2+', 'amp2-']));
    expect(joins('A1+A2+B1+B2', 2).flat()).not.toContain('amp2+');
  });
  it('takes as few wires as there can be: terminals less nodes', () => {
    // 10 terminals; all in parallel leaves 2 nodes, all in series 5.
    expect(joins('A1|A2|B1|B2')).toHaveLength(8);
    expect(joins('A1+A2+B1+B2')).toHaveLength(5);
  });
});

describe('a drawn wiring is judged', () => {
  const series = joins('A1+A2+B1+B2');
  it.each<[string, readonly Join[], string]>([
    ['sound', joins('(A1|A2)+(B1|B2)'), 'good: Every coil is connected'],
    ['a dead short', [...series, ['amp+', 'amp-']], 'stop: Amplifier plus and minus are joined'],
    ['a shorted coil', [...series, ['A1+', 'A1-']], 'stop: A coil 1: plus and minus of the coil are joined'],
    ['a chain that is not closed', series.slice(0, -1), 'attention: No closed path'],
    ['coils of one driver against each other', joins('A1|-A2|B1|B2'), 'stop: The coils of A work against each other'],
    ['a driver turned round', joins('(-A1+-A2)|(B1+B2)'), 'attention: A is reversed against B'],
    ['everything turned round', joins('(-A1+-A2)|(-B1+-B2)'), 'attention: The whole load is reversed'],
    ['one of two coils left out', joins('A1|B1|B2'), 'attention: A coil 2 is not in the circuit: A takes only 50'],
    ['a driver left out', joins('A1|A2'), 'attention: B is not in the circuit'],
  ])('%s', (_, wires, words) => {
    expect(said(wires)).toContain(words);
  });
  it('calls unequal shares a note, not a fault', () => {
    const unlike = coilsOf([
      { name: 'A', coils: 1, coilOhm: 4 },
      { name: 'B', coils: 1, coilOhm: 8 },
    ]);
    const wires = joinsOf(parseNetwork('A1+B1', new Set(['A1', 'B1'])));
    expect(judgeWiring(readWiring(unlike, wires), unlike)).toMatchObject([{ grade: 'note', code: 'shares-unlike' }]);
  });
});

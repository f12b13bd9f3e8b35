import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Chain } from './chain.ts';
import { changesBetween, changesOnto, conflictsOf, inverseOf, withChanges } from './chainChanges.ts';

const CHAIN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [
    { id: 'a', name: 'Front', ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 100 }], minimumStereoOhm: 2 },
    { id: 'b', name: 'Bass', ratings: [] },
  ],
  channels: ['left', 'right'].map((id) => ({
    id,
    name: id,
    amplifierId: 'a',
    mode: 'stereo',
    terminals: id,
    band: 'full-range',
    loadOhm: 4,
    drivers: [{ id: `d-${id}`, name: 'Door', coils: 1, coilOhm: 4, ratedPowerWatt: 100 }],
  })),
};
const renamed = (chain: Chain, name: string): Chain => ({ ...chain, source: { ...chain.source, name } });
const withoutBass = (chain: Chain): Chain => ({ ...chain, amplifiers: chain.amplifiers.filter(({ id }) => id !== 'b') });

describe('the changes of a chain', () => {
  it.each<[string, Chain]>([
    ['a name', renamed(CHAIN, 'Other')],
    ['an amplifier taken out', withoutBass(CHAIN)],
    ['the first channel taken out', { ...CHAIN, channels: CHAIN.channels.slice(1) }],
    ['a field that was not there', { ...CHAIN, source: { ...CHAIN.source, outputVolt: 3 } }],
    ['a processor put in', { ...CHAIN, processor: { name: 'P', inputs: [], outputs: [], outputVolt: 4, hasClipLight: true } }],
    [
      'a driver’s figure',
      { ...CHAIN, channels: CHAIN.channels.map((c) => ({ ...c, drivers: c.drivers.map((d) => ({ ...d, coilOhm: 2 })) })) },
    ],
    ['nothing', structuredClone(CHAIN)],
  ])('lead there and back: %s', (_, after) => {
    const changes = changesBetween(CHAIN, after);
    expect(withChanges(CHAIN, changes)).toEqual(after);
    expect(withChanges(after, inverseOf(changes))).toEqual(CHAIN);
  });

  it('taken back leave what was edited in between', () => {
    const changes = changesBetween(CHAIN, withoutBass(CHAIN));
    const later = renamed(withoutBass(CHAIN), 'Edited in between');
    expect(withChanges(later, inverseOf(changes))).toEqual(renamed(CHAIN, 'Edited in between'));
  });

  it('made in two windows stand together where they touch different fields', () => {
    const mine = changesBetween(CHAIN, renamed(CHAIN, 'Mine'));
    const theirs = { ...CHAIN, channels: CHAIN.channels.map((c) => (c.id === 'left' ? { ...c, loadOhm: 2 } : c)) };
    expect(withChanges(theirs, mine)).toEqual(renamed(theirs, 'Mine'));
  });

  it('of something that is gone meanwhile are left out', () => {
    const louder = changesBetween(CHAIN, {
      ...CHAIN,
      amplifiers: CHAIN.amplifiers.map((a) => (a.id === 'b' ? { ...a, fuseAmpere: 40 } : a)),
    });
    expect(withChanges(withoutBass(CHAIN), louder)).toEqual(withoutBass(CHAIN));
  });
});

const quieter = (chain: Chain, id: string, loadOhm: number): Chain => ({
  ...chain,
  channels: chain.channels.map((c) => (c.id === id ? { ...c, loadOhm } : c)),
});

describe('changes that meet others', () => {
  const mine = changesBetween(CHAIN, quieter(CHAIN, 'left', 2));
  it.each<[string, Chain, number]>([
    ['nothing else changed', CHAIN, 0],
    ['another field', renamed(CHAIN, 'Other'), 0],
    ['another channel', quieter(CHAIN, 'right', 2), 0],
    ['the same field, to the same figure', quieter(CHAIN, 'left', 2), 0],
    ['the same field, to another figure', quieter(CHAIN, 'left', 8), 1],
    ['the channel is gone', { ...CHAIN, channels: CHAIN.channels.slice(1) }, 1],
  ])('are found: %s', (_, now, count) => {
    expect(conflictsOf(now, mine)).toHaveLength(count);
  });
  it('are found where something is taken out that was edited meanwhile', () => {
    const out = changesBetween(CHAIN, withoutBass(CHAIN));
    const edited = { ...CHAIN, amplifiers: CHAIN.amplifiers.map((a) => ({ ...a, fuseAmpere: 40 })) };
    expect(conflictsOf(edited, out)).toHaveLength(1);
    expect(conflictsOf(withoutBass(CHAIN), out)).toEqual([]);
  });
  it('are made over what stands there once the tuner has seen it, but never in a place that is gone', () => {
    const now = quieter(CHAIN, 'left', 8);
    const onto = changesOnto(now, mine);
    expect(conflictsOf(now, onto)).toEqual([]);
    expect(withChanges(now, onto)).toEqual(quieter(CHAIN, 'left', 2));
    expect(changesOnto({ ...CHAIN, channels: [] }, mine)).toEqual([]);
  });
});

/**
 * Two queues that were filled without a server, each on what its own device saw, and sent in any order between them: what
 * the door does with every one, and what both devices show once all is told.
 */
describe('two queues of edits, joined in any order', () => {
  const edit = fc.record({
    channel: fc.constantFrom('left', 'right'),
    field: fc.constantFrom('loadOhm', 'name', 'toneHz'),
    value: fc.integer({ min: 1, max: 6 }),
  });
  type Edit = { channel: string; field: string; value: number };
  const made = (chain: Chain, { channel, field, value }: Edit): Chain => ({
    ...chain,
    channels: chain.channels.map((c) => (c.id === channel ? { ...c, [field]: field === 'name' ? `n${value}` : value } : c)),
  });
  const queueOf = (edits: readonly Edit[]) => {
    let local = CHAIN;
    return edits.map((each) => {
      const next = made(local, each);
      const changes = changesBetween(local, next);
      local = next;
      return changes;
    });
  };
  it('come to one state: the first at a place stands, a later one that never saw it is told', () => {
    fc.assert(
      fc.property(
        fc.array(edit, { minLength: 300, maxLength: 300 }),
        fc.array(edit, { minLength: 300, maxLength: 300 }),
        fc.array(fc.boolean(), { minLength: 600, maxLength: 600 }),
        (one, other, turns) => {
          const queues = [queueOf(one), queueOf(other)];
          let stored = CHAIN;
          let [told, made] = [0, 0];
          // What each place holds, and whose edit was the last that was accepted there.
          const last = new Map<string, unknown>();
          for (const turn of [...turns, ...turns.map((each) => !each)]) {
            const which = turn ? 1 : 0;
            const changes = queues[which]!.shift();
            if (changes === undefined) continue;
            if (conflictsOf(stored, changes).length > 0) told += 1;
            else {
              stored = withChanges(stored, changes);
              made += 1;
              for (const { path, after } of changes) last.set(path.join('/'), after);
            }
          }
          // Every edit was either made or told of, and nothing was written over that its maker had not seen.
          expect(made + told).toBe(600);
          for (const { path, after } of changesBetween(CHAIN, stored)) expect(last.get(path.join('/'))).toEqual(after);
          for (const [path, after] of last) {
            const [, id, field] = path.split('/') as [string, string, 'name'];
            expect(stored.channels.find((channel) => `#${channel.id}` === id)![field]).toEqual(after);
          }
        },
      ),
      { seed: 4620, numRuns: 30 },
    );
  });
});

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blindWords, changedByEar, chanceOfGuessing, heardSetting, shortKey } from './heard.ts';
import type { Chain } from './chain.ts';

const CHAIN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ id: 'amp', name: 'Amp', ratings: [{ mode: 'mono', loadOhm: 4, powerWatt: 100 }] }],
  channels: [{ id: 'sub', name: 'Bass', amplifierId: 'amp', mode: 'mono', terminals: 'out', band: 'bass', loadOhm: 4, drivers: [] }],
};
const LINE = { id: 'a', at: '2026-11-26T10:00:00.000Z', passage: 'voice', words: 'to the left' };

describe('guessing', () => {
  // SciPy 1.10: scipy.stats.binomtest(right, trials, 0.5, alternative='greater').pvalue
  it.each([
    [5, 10, 0.623046875],
    [8, 10, 0.0546875],
    [9, 10, 0.0107421875],
    [12, 16, 0.038406372],
    [0, 10, 1],
  ])('%i of %i by guessing alone: %d', (right, trials, chance) => expect(chanceOfGuessing(right, trials)).toBeCloseTo(chance, 8));

  it('eight of ten tell nothing apart, nine do', () => {
    expect(blindWords(8, 10)).toContain('No difference is shown');
    expect(blindWords(9, 10)).toContain('a clear difference');
  });

  it('falls with every further right answer', () =>
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 60 }), (trials) => {
        for (let right = 1; right <= trials; right += 1)
          expect(chanceOfGuessing(right, trials)).toBeLessThan(chanceOfGuessing(right - 1, trials) + 1e-12);
      }),
    ));
});

describe('a change by ear', () => {
  const chain = CHAIN;
  const channelId = chain.channels[0]!.id;

  it('sets a level down, and writes down why', () => {
    const made = changedByEar(chain, { kind: 'level', channelId, byDb: -1.5 }, LINE);
    if ('fault' in made) throw new Error(made.fault);
    expect(made.chain.channels[0]!.blendDb).toBe(1.5);
    expect(made.chain.heard).toMatchObject([{ ...LINE, outcome: 'changed', setting: heardSetting(made.chain) }]);
    const back = changedByEar(made.chain, { kind: 'level', channelId, byDb: 1.5 }, { ...LINE, id: 'b' });
    expect('chain' in back && back.chain.channels[0]).toEqual(chain.channels[0]);
  });

  it('never raises a channel above what its amplifier gives clean', () =>
    expect(JSON.stringify(changedByEar(chain, { kind: 'level', channelId, byDb: 1 }, LINE))).toContain('turn the others down'));

  it('adds a band, and a delay beside the distance’s', () => {
    const band = changedByEar(chain, { kind: 'band', channelId, frequencyHz: 63, gainDb: -3, q: 2 }, LINE);
    expect('chain' in band && band.chain.channels[0]!.equaliser).toEqual([{ kind: 'peak', frequencyHz: 63, gainDb: -3, q: 2 }]);
    const late = changedByEar(chain, { kind: 'delay', channelId, bySecond: 0.0005 }, LINE);
    expect('chain' in late && late.chain.listening?.trimSecond).toEqual({ [channelId]: 0.0005 });
  });

  it('is refused for a channel that is gone', () =>
    expect(changedByEar(chain, { kind: 'level', channelId: 'gone', byDb: -1 }, LINE)).toHaveProperty('fault'));

  it('gives another setting, which a name does not', () => {
    const made = changedByEar(chain, { kind: 'level', channelId, byDb: -1 }, LINE);
    if ('fault' in made) throw new Error(made.fault);
    expect(heardSetting(made.chain)).not.toBe(heardSetting(chain));
    const renamed = { ...chain, channels: chain.channels.map((channel) => ({ ...channel, name: 'Other' })) };
    expect(heardSetting(renamed)).toBe(heardSetting(chain));
  });
});

it('the key is FNV-1a', () => {
  // From memory of the algorithm's published test vectors: "" and "foobar".
  expect(shortKey('')).toBe('cbf29ce484222325');
  expect(shortKey('foobar')).toBe('85944171f73967e8');
});

import { filterName, filtersOf, isProofWanted } from '../../../job/channelFilters.ts';
import type { LoadConditions } from '../../../job/conditions.ts';
import { channelsNow } from '../../frame/channels.ts';
import { channelWords } from '../../frame/channelSteps.ts';
import { loadConditions } from '../../frame/conditions.ts';
import { loadAtGain } from '../../frame/onset.ts';
import type { Situation } from '../../frame/situation.ts';
import { defineKind } from '../../frame/stepKind.ts';
import { isDead } from '../../../ways/filterProof.ts';
import { crossoverFigures, judgeCrossover, provedSettingNow, type CrossoverSubject } from './judge.ts';

/** One filter proved by voltages, right after it was set. */
export const crossover = defineKind({
  kind: 'crossover',
  stage: 'crossovers',
  title: 'Filter proof',
  part: 'its proof',
  help: 'what a filter really does, by voltages at a few tones or by a sweep',
  plays: 'load',
  intakes: [
    { type: 'reading', kind: 'filter-voltage', unit: 'V', at: 'load', words: 'volts' },
    { type: 'capture', at: 'line', judged: 'sweep' },
  ],
  // Voltages go with the setting that they were read at; another one makes them stale by itself.
  dependsOn: [],
  subjects: (now): CrossoverSubject[] =>
    channelsNow(now).flatMap((each) =>
      filtersOf(each.channel)
        .filter(isProofWanted)
        .map((filter) => ({ ...each, filter })),
    ),
  keyOf: ({ filter }) => filter.id,
  words: (subject) => ({ ...channelWords(subject), subject: `${subject.channel.name}, ${filterName(subject.channel, subject.filter)}` }),
  channelsOf: (subject) => [subject],
  checks: () => ({
    items: [
      { id: 'gain-low', words: 'gain at its lowest' },
      { id: 'drivers-off', words: 'drivers disconnected' },
    ],
  }),
  caution: () =>
    'Drivers off while a filter is measured: tones below a tweeter’s range destroy it. Connect nothing while a tone plays: sparks. The amplifier’s manual, local codes and licensed practice come first.',
  conditions: toneConditions,
  tonesHz: (step, now) => {
    const { proposedHz, tellingHz } = crossoverFigures(step, now);
    return [...proposedHz, ...(tellingHz === undefined ? [] : [tellingHz])];
  },
  judge: judgeCrossover,
});

/** The next tone of the row, in the series at hand. */
function toneConditions(step: CrossoverSubject, now: Situation): LoadConditions {
  const { proof, nextHz, proposedHz } = crossoverFigures(step, now);
  // Mended, a row begins anew at a tone that was read before: there the change shows.
  const againHz = isDead(proof) ? proof.points[0]?.frequencyHz : undefined;
  // Voltages that no filter gives, and no tone left to read: what shaped them is looked for, and then all are read anew.
  const isAnew = againHz === undefined && nextHz === undefined && proof.fit?.verdict === 'not-a-filter';
  return {
    ...loadConditions(step, now, loadAtGain(now.settings.rules)),
    toneHz: againHz ?? nextHz ?? proposedHz[0] ?? step.filter.cornerHz,
    filter: provedSettingNow(step.filter, isAnew ? proof.series + 1 : proof.series),
  };
}

import { channelsNow } from './frame/channels.ts';
import { channelWords } from './frame/channelSteps.ts';
import { loadConditions } from './frame/conditions.ts';
import { readingsAt } from './frame/situation.ts';
import { defineKind } from './frame/stepKind.ts';

/** A kind of step that nobody ships: it plays into a load, and does as little as a kind may do. */
export const madeUp = defineKind({
  kind: 'made-up',
  stage: 'proof',
  title: 'Made up',
  help: 'a step that only the tests know',
  plays: 'load',
  intakes: [{ type: 'reading', kind: 'made-up-voltage', unit: 'V', at: 'load', words: 'made up' }],
  dependsOn: ['volume'],
  subjects: channelsNow,
  keyOf: ({ channel }) => channel.id,
  words: channelWords,
  channelsOf: (subject) => [subject],
  conditions: (step, now) => loadConditions(step, now, 'on'),
  judge: (step, now) => ({
    status: readingsAt(now, step.id, 'made-up-voltage', 'load').length > 0 ? 'done' : 'open',
    figures: {},
    findings: [],
    action: { kind: 'read', reading: 'made-up-voltage', unit: 'V' },
  }),
});

import type { Finding } from '../../../findings.ts';
import { heardSetting, isKnownPassage, PASSAGES } from '../../../job/heard.ts';
import { basisOf } from '../../../job/basis.ts';
import { channelsNow, type ChannelNow } from '../../frame/channels.ts';
import { volumeCheck } from '../../frame/channelSteps.ts';
import { airConditions } from '../../frame/played.ts';
import type { HeardEntry } from '../../../job/heardEntry.ts';
import { gainsNow } from '../../frame/gainsNow.ts';
import type { Judgement } from '../../frame/judgement.ts';
import type { Situation } from '../../frame/situation.ts';
import { defineKind, type Step } from '../../frame/stepKind.ts';

export interface ListeningSubject {
  channels: ChannelNow[];
}

/** Where one passage stands by what was heard last. */
export interface PassageState {
  passage: string;
  state: 'unheard' | 'fine' | 'wrong' | 'other-setting';
  last?: HeardEntry;
}

export interface ListeningFigures {
  setting: string;
  /** how gains and levels were last read: a part of the setting */
  gains: string;
  passages: PassageState[];
}

/** Told with the conditions; music has every tone in it. */
const MUSIC_TONE_HZ = 1000;

/** The ear's last word: what is listened to, what was heard, and what was changed for it. */
export const listening = defineKind({
  kind: 'listening',
  stage: 'response',
  title: 'Listening',
  help: 'the ear’s last word: passages by what they test, what was heard, and what was changed for it',
  plays: 'air',
  isOptional: true,
  isBegun: (_step, now) => (now.chain.heard ?? []).length > 0,
  intakes: [],
  dependsOn: [],
  subjects: (now): ListeningSubject[] => {
    const channels = channelsNow(now);
    return channels.length === 0 ? [] : [{ channels }];
  },
  keyOf: () => 'all',
  words: () => ({ subject: 'all channels', where: 'at the listener’s place', rail: 'Listening' }),
  channelsOf: ({ channels }) => channels,
  checks: (_step, now) => ({
    items: [volumeCheck(now.chain.source, true)],
    basis: basisOf({ volume: now.chain.source.workingVolume }, `volume ${now.chain.source.workingVolume}`),
  }),
  conditions: (_step, now) => airConditions(now, MUSIC_TONE_HZ),
  caution: () =>
    'Ears tire, and louder sounds better: listen softly, rest between passages, and compare at equal level. Listen while the car stands. The equipment’s manual, local codes and licensed practice come first.',
  judge: judgeListening,
});

function judgeListening(_step: Step<'listening', ListeningSubject>, now: Situation): Judgement<ListeningFigures> {
  const gains = gainsNow(now);
  const setting = heardSetting(now.chain, gains);
  const heard = now.chain.heard ?? [];
  // Of a passage of the tuner's own that was only compared or changed for, no verdict is asked.
  const judged = heard.filter(({ outcome }) => outcome === 'fine' || outcome === 'wrong').map(({ passage }) => passage);
  const own = [...new Set(judged)].filter((passage) => !isKnownPassage(passage));
  const passages = [...PASSAGES, ...own].map((passage) => stateOf(passage, heard, setting));
  const findings = passages.flatMap((state) => findingOf(state));
  const has = (wanted: PassageState['state']): boolean => passages.some(({ state }) => state === wanted);
  const figures = { setting, gains, passages };
  if (has('wrong')) return { status: 'out-of-tolerance', figures, findings };
  if (has('other-setting')) return { status: 'stale', figures, findings };
  if (has('unheard')) return { status: 'open', figures, findings };
  const fine: Finding = {
    code: 'heard-fine',
    grade: 'good',
    figures: { passages: passages.length },
  };
  return { status: 'done', figures, findings: [fine, ...findings] };
}

/** By the newest line that says fine or wrong; a change alone says that it is to be heard again. */
function stateOf(passage: string, heard: readonly HeardEntry[], setting: string): PassageState {
  const last = heard.findLast((entry) => entry.passage === passage && (entry.outcome === 'fine' || entry.outcome === 'wrong'));
  if (last === undefined) return { passage, state: 'unheard' };
  const state = last.setting !== setting ? 'other-setting' : last.outcome === 'fine' ? 'fine' : 'wrong';
  return { passage, state, last };
}

function findingOf({ passage, state, last }: PassageState): Finding[] {
  if (state === 'wrong')
    return [
      {
        code: 'heard-wrong',
        grade: 'attention',
        figures: {
          passage,
          ...(last?.words === undefined ? {} : { said: last.words }),
        },
      },
    ];
  if (state === 'other-setting')
    return [
      {
        code: 'heard-before',
        grade: 'stale',
        figures: { passage, ...(last?.words === undefined ? {} : { said: last.words }) },
      },
    ];
  return [];
}

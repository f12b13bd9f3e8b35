import type { Finding } from '../../../findings.ts';
import { basisOf, type Basis } from '../../../job/basis.ts';
import type { Driver } from '../../../job/chain.ts';
import type { AirConditions } from '../../../job/conditions.ts';
import type { PulseChannel } from '../../../phase/pulsePolarity.ts';
import { channelsNow, type ChannelNow } from '../../frame/channels.ts';
import { airConditions } from '../../frame/played.ts';
import type { Judgement } from '../../frame/judgement.ts';
import { markAt, once, tracesAt, type Situation } from '../../frame/situation.ts';
import { defineKind, type Step } from '../../frame/stepKind.ts';

/** One driver of a channel: which way it moves first. */
export interface PolarityDriver extends ChannelNow {
  driver: Driver;
}

export const POLARITIES = ['right', 'reversed', 'unclear'] as const;
export type Polarity = (typeof POLARITIES)[number];

/** How it was found, under the same name in the values of the mark. */
export const POLARITY_WAYS = { touch: 'by touch', pulse: 'by a pulse', ear: 'by ear' } as const;
export type PolarityWay = keyof typeof POLARITY_WAYS;

/** Told with the conditions; a pulse has every tone in it. */
const PULSE_TONE_HZ = 1000;

export interface PolarityFigures {
  /** as it was found last, on the wires as they are now */
  found?: Polarity;
  way?: PolarityWay;
  /** the newest recorded pulse of this driver, channel by channel of the recording */
  pulses?: PulseChannel[];
}

const driversNow = once((now: Situation): PolarityDriver[] =>
  channelsNow(now).flatMap((channel) => channel.channel.drivers.map((driver) => ({ ...channel, driver }))),
);

/** Whether a driver pushes out on plus: each once, whichever way it is found. */
export const polarity = defineKind({
  kind: 'polarity',
  stage: 'phase',
  title: 'Polarity',
  help: 'every driver pushes the same way: by touch, by a pulse or by ear',
  plays: 'air',
  intakes: [{ type: 'capture', at: 'air', judged: 'pulse' }],
  dependsOn: [],
  subjects: driversNow,
  keyOf: ({ driver }) => driver.id,
  words: ({ channel, amplifier, driver }) => ({
    subject: channel.drivers.length > 1 ? `${channel.name}, ${driver.name}` : channel.name,
    where: `${driver.name}, on ${amplifier.name}, ${channel.terminals}`,
  }),
  channelsOf: (subject) => [subject],
  conditions: (step, now) => pulseConditions(step, now),
  caution: () =>
    'By touch: the amplifier off and its wires off this driver; one short touch of a small battery, never on a tweeter without its capacitor. By pulse or ear: begin softly, protect your ears. The equipment’s manual, local codes and licensed practice come first.',
  speaksOf: { 'polarity-reversed': 'polarity', 'polarity-unclear': 'polarity', 'pulse-contradicts': 'polarity' },
  judge: judgePolarity,
});

/** What was found stands for these wires on these terminals: others may be the other way round. */
export function polarityBasis({ channel, amplifier, driver }: PolarityDriver): Basis {
  const { terminals, mode, wiring, passive = [] } = channel;
  const reversedParts = passive.filter(({ driverId, isReversed }) => driverId === driver.id && isReversed === true).length;
  return basisOf(
    { driverId: driver.id, amplifierId: amplifier.id, terminals, mode, network: wiring?.network, joins: wiring?.joins, reversedParts },
    `${driver.name} on ${amplifier.name}, ${terminals}, as it is wired`,
  );
}

/** Under which its pulse is recorded now. */
export const pulseConditions = ({ channel }: PolarityDriver, now: Situation): AirConditions => ({
  ...airConditions(now, PULSE_TONE_HZ),
  channelId: channel.id,
  pulse: true,
});

function judgePolarity(step: Step<'polarity', PolarityDriver>, now: Situation): Judgement<PolarityFigures> {
  const mark = markAt(now, step.id);
  const basis = polarityBasis(step);
  const { driver } = step;
  const action = { kind: 'tick', checks: ['right'], basis: basis.key, basisWords: basis.words } as const;
  const found = POLARITIES.find((each) => mark?.checks.includes(each));
  const pulses = pulsesOf(step, now);
  const recorded = pulses.length === 0 ? {} : { pulses };
  if (mark === undefined || found === undefined) return { status: 'open', figures: recorded, findings: [], action };
  if (mark.basis !== undefined && mark.basis !== basis.key) {
    const stale: Finding = {
      code: 'polarity-stale',
      grade: 'stale',
      figures: { then: mark.basis, now: basis.key, driverName: driver.name },
    };
    return { status: 'stale', figures: recorded, findings: [stale], action };
  }
  const way = Object.keys(POLARITY_WAYS).find((each): each is PolarityWay => each === mark.values?.way);
  const figures: PolarityFigures = { found, ...(way === undefined ? {} : { way }), ...recorded };
  const contradiction = way === 'pulse' ? pulseContradicts(step, found, mark.values?.inverts === 'yes', pulses) : undefined;
  if (contradiction !== undefined) return { status: 'out-of-tolerance', figures, findings: [{ ...contradiction, action }] };
  if (found === 'right') {
    const good: Finding = {
      code: 'polarity-right',
      grade: 'good',
      figures: {
        way: way ?? '',
        ...(step.channel.isReversed === undefined ? {} : { isReversed: step.channel.isReversed }),
        driverName: driver.name,
        ...(way === undefined ? {} : { foundBy: way }),
      },
    };
    return { status: 'done', figures, findings: [good] };
  }
  const finding: Finding =
    found === 'reversed'
      ? {
          code: 'polarity-reversed',
          grade: 'attention',
          figures: { way: way ?? '', driverName: driver.name, ...(way === undefined ? {} : { foundBy: way }) },
          action,
        }
      : {
          code: 'polarity-unclear',
          grade: 'attention',
          figures: { way: way ?? '', driverName: driver.name, ...(way === undefined ? {} : { foundBy: way }) },
          action,
        };
  return { status: 'out-of-tolerance', figures, findings: [finding], action };
}

/** What the newest recording of this driver's pulse shows. */
function pulsesOf(step: Step<'polarity', PolarityDriver>, now: Situation): PulseChannel[] {
  const channels = tracesAt(now, step.id, 'air').at(-1)?.analysis.channels ?? [];
  return channels.flatMap(({ name, pulse }) => (pulse === undefined ? [] : [{ name, ...pulse }]));
}

/**
 * Which way a driver moves by its pulse: an input that inverts and a channel that is set reversed on purpose turn it over.
 *
 * @param inverts - the microphone or the input turns everything over
 */
export function polarityByPulse({ polarity }: Pick<PulseChannel, 'polarity'>, inverts: boolean, isSetReversed: boolean): Polarity {
  if (polarity === 'unclear') return 'unclear';
  return ((polarity === 'positive') !== inverts) !== isSetReversed ? 'right' : 'reversed';
}

/** What was written down by a pulse, and a pulse that shows the other way. */
function pulseContradicts(
  { driver, channel }: PolarityDriver,
  found: Polarity,
  inverts: boolean,
  pulses: readonly PulseChannel[],
): Finding | undefined {
  const only = pulses.length === 1 ? polarityByPulse(pulses[0]!, inverts, channel.isReversed === true) : undefined;
  if (only === undefined || only === 'unclear' || found === 'unclear' || only === found) return undefined;
  return {
    code: 'pulse-contradicts',
    grade: 'attention',
    figures: { found, byPulse: only, driverName: driver.name },
  };
}

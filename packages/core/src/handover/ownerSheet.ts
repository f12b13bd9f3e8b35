import type { Situation } from '../run/frame/situation.ts';
import { safeVolumes } from '../run/kinds/ceiling/caseLift.ts';
import { delayRows } from '../run/kinds/delay/kind.ts';
import { bandWords } from '../job/channelEqualiser.ts';
import { filtersOf, filterWords } from '../job/channelFilters.ts';
import type { RunStep } from '../run/run.ts';
import { tuneFindings } from '../run/tuneFindings.ts';
import { fixed, formatQuantity } from '../units/formatQuantity.ts';

/** What an owner takes home: how loud it may be played, what to leave alone, and what was done. */
export interface OwnerSheet {
  job: string;
  vehicle: string;
  madeAt: string;
  /** every step is done, and nothing is found fault with */
  isWhole: boolean;
  volumes: SheetVolume[];
  leaveAlone: { what: string; why: string }[];
  channels: SheetChannel[];
  open: string[];
}

export interface SheetVolume {
  name: string;
  /** the highest safe volume; left out where nobody measured it */
  step?: number;
  of: number;
  isAssumed: boolean;
}

export interface SheetChannel {
  name: string;
  drivers: string;
  set: string;
  delivered: string;
  filters: string;
  polarity: string;
  delay: string;
  /** its bands, where they were said to stand in the gear; else empty */
  equaliser: string;
  /** as its proof under load has it */
  clean: 'clean under load' | 'not proved';
}

/** Stands where nothing was measured. */
export const NOTHING = '–';

/**
 * The owner's sheet of a tune as it stands; it never says more than was measured: a volume without a ceiling is not given, and a channel is
 * clean only where its proof is done.
 */
export function ownerSheet(
  now: Situation,
  steps: readonly RunStep[],
  { job, vehicle, madeAt }: Pick<OwnerSheet, 'job' | 'vehicle' | 'madeAt'>,
): OwnerSheet {
  const { chain } = now;
  const counted = steps.filter(({ isCounted }) => isCounted);
  const stateOf = (kind: string, id: string): RunStep['state'] | undefined => steps.find((step) => step.id === `${kind}:${id}`)?.state;
  const findings = tuneFindings(steps);
  const left = counted.filter(({ isBehind }) => !isBehind);
  const delays = delayRows(now);
  const isDelayed = steps.some(({ kind, state }) => kind.kind === 'delay' && state.status === 'done');
  return {
    job,
    vehicle,
    madeAt,
    isWhole: findings.length === 0 && left.length === 0,
    volumes: safeVolumes(now).map(({ settingsCase: { name }, step, basis }) => ({
      name,
      ...(step === undefined ? {} : { step }),
      of: chain.source.volumeSteps,
      isAssumed: basis === 'assumed',
    })),
    leaveAlone: [
      ...chain.amplifiers
        .filter(({ isInSource }) => isInSource !== true)
        .map(({ name }) => ({
          what: `The gain of ${name}`,
          why: 'It is set to the highest clean level. Turned up it is not louder but clipped, and clipping burns drivers.',
        })),
      ...(chain.processor === undefined
        ? []
        : [
            {
              what: `Everything on ${chain.processor.name}`,
              why: 'Crossovers keep bass from small drivers; levels before the amplifiers are matched to their gains.',
            },
          ]),
      {
        what: 'Bass, loudness and equaliser of the source',
        why: 'What they lift is lifted before the amplifiers: then the volume above for that setting holds, and no other.',
      },
      ...chain.channels.flatMap(({ name, remoteAt }) =>
        remoteAt === undefined
          ? []
          : [
              {
                what: `The remote knob of ${name}`,
                why: `This one may be turned: that is what it is for. In everyday use it stands at ${remoteAt}.`,
              },
            ],
      ),
    ],
    channels: chain.channels.map((channel): SheetChannel => {
      const gain = stateOf('gain', channel.id);
      const proof = stateOf('proof', channel.id);
      const figures = (gain?.figures ?? {}) as { reading?: { value: number } };
      const proved = (proof?.figures ?? {}) as { fullScaleWatt?: number };
      const delay = delays.find(({ channelId }) => channelId === channel.id);
      const polarities = channel.drivers.map(({ id }) => stateOf('polarity', id)?.status);
      return {
        name: channel.name,
        drivers: channel.drivers.map(({ name }) => name).join(', '),
        set: gain?.status === 'done' && figures.reading !== undefined ? formatQuantity(figures.reading.value, 'V') : NOTHING,
        delivered: proof?.status === 'done' && proved.fullScaleWatt !== undefined ? formatQuantity(proved.fullScaleWatt, 'W') : NOTHING,
        filters: filtersOf(channel).map(filterWords).join('; ') || 'none',
        polarity: polarities.length > 0 && polarities.every((status) => status === 'done') ? 'right' : 'not looked at',
        delay: isDelayed && delay?.setSecond !== undefined ? `${fixed(delay.setSecond * 1000, 2)} ms` : NOTHING,
        equaliser: stateOf('response', channel.id)?.status === 'done' ? (channel.equaliser ?? []).map(bandWords).join('; ') : '',
        clean: proof?.status === 'done' ? 'clean under load' : 'not proved',
      };
    }),
    open: [
      ...findings.map(({ finding, steps: at }) => `${at[0]!.title}: ${finding.words}`),
      ...left
        .filter(({ state }) => state.findings.every(({ grade }) => grade === 'good' || grade === 'note'))
        .map(({ title }) => `${title}: not done yet.`),
    ],
  };
}

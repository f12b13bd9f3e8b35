import {
  bandWords,
  type Channel,
  delayRows,
  filtersOf,
  filterWords,
  fixed,
  formatQuantity,
  passiveWords,
  readingsAt,
  type ResponseFigures,
  type RunStep,
  safeVolumes,
  type Say,
  type Situation,
  SOURCE_CONTROLS,
  type SourceControl,
  sourceSettingsNow,
  stepId,
  tracesAt,
  type TraceVerdict,
  tuneFindings,
  voltageFactor,
} from '@yield/core';
import { sheetResponse, type SheetResponse } from './responsePicture.ts';
import { sheetReadings, type SheetReading } from './sheetReadings.ts';
import { sheetWiring, type SheetWiring } from './wiringPicture.ts';

/** What an owner takes home: how loud it may be played, what to leave alone, and what was done. */
export interface OwnerSheet {
  job: string;
  vehicle: string;
  madeAt: string;
  /** every step is done, and nothing is found fault with */
  isWhole: boolean;
  /** its figures may come from the simulated bench */
  isPractice?: true;
  /** where it comes from, of a tune or a sheet that was brought in */
  origin?: string;
  /** who stands for it, of a sheet that was signed */
  signature?: SheetSignature;
  /** the signal's way up to the amplifiers, and how it was set */
  system: { source: string; settings: string; processor: string; levels: { name: string; set: string }[] };
  volumes: SheetVolume[];
  leaveAlone: { what: string; why: string }[];
  channels: SheetChannel[];
  open: string[];
  /** left out on sheets of before they were kept */
  responses?: SheetResponse[];
  /** what all of it rests on */
  readings?: SheetReading[];
}

export interface SheetSignature {
  /** 1 for the first sheet of a tune that was signed */
  issue: number;
  by: string;
  /** ISO 8601 */
  at: string;
  /** what was left open, and why; empty where nothing was */
  leftOpen: string;
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
  amplifier: string;
  terminals: string;
  /** nominal, and what the ohmmeter read of it */
  load: string;
  drivers: string;
  set: string;
  delivered: string;
  /** what it delivered when it was first measured under load, and whether that was clean; empty where it was measured once */
  before: string;
  filters: string;
  polarity: string;
  delay: string;
  /** its bands, where they were said to stand in the gear; else empty */
  equaliser: string;
  /** left out where no wiring is known */
  wiring?: SheetWiring;
  /** as its proof under load has it */
  clean: 'clean under load' | 'not proved';
}

/** Stands where nothing was measured. */
export const NOTHING = '–';

export type SheetHeading = Pick<OwnerSheet, 'job' | 'vehicle' | 'madeAt' | 'origin'>;

/**
 * The owner's sheet of a tune as it stands; it never says more than was measured: a volume without a ceiling is not given, and a channel is
 * clean only where its proof and its bandwidth check are done.
 */
export function ownerSheet(
  now: Situation,
  steps: readonly RunStep[],
  { job, vehicle, madeAt, origin }: SheetHeading,
  say: Say,
): OwnerSheet {
  const { chain } = now;
  const counted = steps.filter(({ isCounted }) => isCounted);
  const stateOf = (kind: string, id: string): RunStep['state'] | undefined => steps.find((step) => step.id === `${kind}:${id}`)?.state;
  const findings = tuneFindings(steps);
  const left = counted.filter(({ isSettled }) => !isSettled);
  const delays = delayRows(now);
  const isDelayed = steps.some(({ kind, state }) => kind.kind === 'delay' && state.status === 'done');
  return {
    job,
    vehicle,
    madeAt,
    // What nobody described is not finished, however little is wrong with it.
    isWhole: findings.length === 0 && left.length === 0 && chain.channels.length > 0,
    ...(now.settings.isPractice === true ? { isPractice: true as const } : {}),
    ...(origin === undefined ? {} : { origin }),
    system: systemOf(now, steps),
    volumes: safeVolumes(now).map(({ settingsCase: { name }, step, basis }) => ({
      name,
      ...(step === undefined ? {} : { step }),
      of: chain.source.volumeSteps,
      isAssumed: basis === 'assumed',
    })),
    leaveAlone: [
      ...chain.amplifiers
        .filter(({ isInSource }) => isInSource !== true)
        .map(({ id, name }) => {
          const own = chain.channels.filter(({ amplifierId }) => amplifierId === id);
          const isSet = own.length > 0 && own.every((channel) => stateOf('gain', channel.id)?.status === 'done');
          return {
            what: `The gain of ${name}`,
            why: isSet
              ? 'It is set to the highest clean level. Turning it up adds distortion, not volume, and burns out speakers.'
              : 'It is not set yet. Keep the volume low until the tune is finished: a clipping amplifier burns out speakers.',
          };
        }),
      ...(chain.processor === undefined
        ? []
        : [
            {
              what: `Everything on ${chain.processor.name}`,
              why: 'Crossovers keep bass from small drivers; levels before the amplifiers are matched to their gains.',
            },
          ]),
      ...boostsOf(now).map((names) => ({
        what: `${names} of the source`,
        why: 'They boost the signal before the amplifiers. With one of them on, only the volume given above for that setting is safe.',
      })),
      ...chain.channels.flatMap(({ name, remoteAt }) =>
        remoteAt === undefined
          ? []
          : [
              {
                what: `The remote knob of ${name}`,
                why: `This one may be turned. Everyday position: ${remoteAt}.`,
              },
            ],
      ),
    ],
    channels: chain.channels.map((channel): SheetChannel => {
      const gain = stateOf('gain', channel.id);
      const proof = stateOf('proof', channel.id);
      // One tone proves no channel: where others are asked for, they are clean too.
      const range = stateOf('bandwidth', channel.id);
      const figures = (gain?.figures ?? {}) as { reading?: { value: number } };
      const proved = (proof?.figures ?? {}) as { fullScaleWatt?: number };
      const delay = delays.find(({ channelId }) => channelId === channel.id);
      const wiring = sheetWiring(channel);
      const polarities = channel.drivers.map(({ id }) => stateOf('polarity', id)?.status);
      return {
        name: channel.name,
        amplifier: chain.amplifiers.find(({ id }) => id === channel.amplifierId)?.name ?? NOTHING,
        terminals: channel.terminals,
        load: loadWords(now, channel),
        drivers: channel.drivers.map(({ name }) => name).join(', '),
        set: gain?.status === 'done' && figures.reading !== undefined ? formatQuantity(figures.reading.value, 'V') : NOTHING,
        delivered: proof?.status === 'done' && proved.fullScaleWatt !== undefined ? formatQuantity(proved.fullScaleWatt, 'W') : NOTHING,
        before: firstDelivered(now, channel),
        filters: [...filtersOf(channel).map(filterWords), ...(channel.passive ?? []).map(passiveWords)].join('; ') || 'none',
        polarity: polarities.length > 0 && polarities.every((status) => status === 'done') ? 'right' : 'not looked at',
        delay: isDelayed && delay?.setSecond !== undefined ? `${fixed(delay.setSecond * 1000, 2)} ms` : NOTHING,
        equaliser: stateOf('response', channel.id)?.status === 'done' ? (channel.equaliser ?? []).map(bandWords).join('; ') : '',
        ...(wiring === undefined ? {} : { wiring }),
        clean: proof?.status === 'done' && (range === undefined || range.status === 'done') ? 'clean under load' : 'not proved',
      };
    }),
    responses: chain.channels.flatMap(
      ({ id, name }) => sheetResponse(name, (stateOf('response', id)?.figures ?? { present: {} }) as ResponseFigures) ?? [],
    ),
    readings: sheetReadings(now, steps),
    open: [
      ...(chain.channels.length === 0 ? ['No channel is described yet.'] : []),
      ...findings.map(({ finding, steps: at }) => `${at[0]!.title}: ${say(finding).text}`),
      ...left
        .filter(({ state }) => state.findings.every(({ grade }) => grade === 'good' || grade === 'note'))
        .map(({ title }) => `${title}: not done yet.`),
    ],
  };
}

/** Of the controls that a source has, those that lift what leaves it: "Bass, Loudness and Equaliser"; none where it has none of them. */
function boostsOf({ chain: { source } }: Situation): string[] {
  const names = SOURCE_CONTROLS.filter(({ id }) => BOOSTING.includes(id) && (source.controls?.includes(id) ?? true)).map(({ name }) =>
    name.toLowerCase(),
  );
  const last = names.at(-1);
  if (last === undefined) return [];
  const all = names.length === 1 ? last : `${names.slice(0, -1).join(', ')} and ${last}`;
  return [`${all.charAt(0).toUpperCase()}${all.slice(1)}`];
}

const BOOSTING: readonly SourceControl[] = ['bass', 'treble', 'loudness', 'bass-boost', 'equaliser'];

function systemOf(now: Situation, steps: readonly RunStep[]): OwnerSheet['system'] {
  const { source, processor } = now.chain;
  const settings = Object.entries(sourceSettingsNow(now) ?? {}).map(
    ([id, value]) => `${SOURCE_CONTROLS.find((control) => control.id === id)?.name ?? id} ${value}`,
  );
  const levels = steps.flatMap(({ kind, state, words }) => {
    const volt = (state.figures as { reading?: { value: number } }).reading?.value;
    return kind.kind === 'output' && state.status === 'done' && volt !== undefined
      ? [{ name: words.subject, set: formatQuantity(volt, 'V') }]
      : [];
  });
  return { source: source.name, settings: settings.join(', '), processor: processor?.name ?? '', levels };
}

function loadWords(now: Situation, { id, loadOhm }: Channel): string {
  const read = readingsAt(now, stepId('whole', id), 'whole-resistance', 'ohm').at(-1);
  const nominal = formatQuantity(loadOhm, 'ohm');
  return read === undefined ? nominal : `${nominal}, metered ${formatQuantity(Math.max(0, read.value - read.conditions.leadOhm), 'ohm')}`;
}

/** Flat tops that were seen with it tell what the first figure was worth. */
const VERDICTS: Partial<Record<TraceVerdict, string>> = {
  clean: ', clean',
  onset: ', at its limit',
  clipped: ', clipped',
  distorted: ', distorted',
};

/** What a channel delivered at the first reading of its proof, where another one came after it. */
function firstDelivered(now: Situation, { id, loadOhm }: Channel): string {
  const proof = stepId('proof', id);
  const [first, ...later] = readingsAt(now, proof, 'loaded-voltage', 'load');
  if (first === undefined || later.length === 0) return '';
  const { toneLevelDbfs, filters } = first.conditions;
  // As the proof tells it: with a full-scale tone, where no filter takes anything off.
  const fullScaleVolt = first.value * voltageFactor(-toneLevelDbfs - (filters?.provedDb ?? filters?.setDb ?? 0));
  const watt = fullScaleVolt ** 2 / (first.conditions.loadOhm || loadOhm);
  const trace = tracesAt(now, proof, 'load').find(({ takenAt }) => takenAt < later[0]!.takenAt);
  const verdict = trace?.analysis.channels[trace.channelIndex]?.clipping.verdict;
  return `${formatQuantity(watt, 'W')}${verdict === undefined ? '' : (VERDICTS[verdict] ?? '')}`;
}

import { LEAST_FIT_POINTS, type CrossoverFit, type FittedFilter } from '../crossovers/crossoverFit.ts';
import { filterAt } from '../crossovers/crossoverResponse.ts';
import { nearestSetting, settingWords } from '../crossovers/dial.ts';
import { explainVoltages, type SuspectSetting } from '../crossovers/explainVoltages.ts';
import { FAMILY_NAMES, type Filter } from '../crossovers/filters.ts';
import { proofPoints, reads } from '../crossovers/proofPoints.ts';
import type { Finding } from '../findings.ts';
import { formatQuantity } from '../units/formatQuantity.ts';
import type { ActiveFilter, Chain, Channel } from './chain.ts';
import { crossoverFindings, isProtected } from './crossoverFindings.ts';
import { channelProofs, likeliest } from './filterProof.ts';
import type { ProvedSetting, StepMark, TuneSettings } from './records.ts';
import type { CrossoverFigures, FilterProof, ProofPoint, RunRecords, StepState } from './state.ts';
import type { ChannelStep, CrossoverStep } from './steps.ts';
import { channelVoices, filtersBasis, filtersOf, filterWords, gearOf, passiveWords, PLACE_NAMES, type Voice } from './voices.ts';

/** How far off a dial may be, in percent, where the house says nothing. Common practice, no source. */
export const USUAL_CORNER_TOLERANCE_PERCENT = 10;

export interface FilterCheck {
  id: string;
  words: string;
  /** where on the gear: the click and switch, or that a figure is typed */
  how?: string;
}

/** What is looked at before a channel's first tone: every filter of its own, or that there is none. */
export function filterChecks(channel: Channel, chain: Chain): FilterCheck[] {
  const active = filtersOf(channel).map((filter): FilterCheck => {
    const how = dialWords(chain, channel, filter);
    return {
      id: `filter-${filter.id}`,
      words: `${PLACE_NAMES[filter.place]}: ${filterWords(filter)}`,
      ...(how === undefined ? {} : { how }),
    };
  });
  const passive = (channel.passive ?? []).map((parts): FilterCheck => {
    const driver = channel.drivers.find(({ id }) => id === parts.driverId);
    return {
      id: `parts-${parts.id}`,
      words: `In the line of ${driver?.name ?? 'a driver'}: ${passiveWords(parts)}`,
      how: 'seen with your own eyes',
    };
  });
  const all = [...active, ...passive];
  return all.length > 0 ? all : [{ id: 'none', words: 'Every filter on its way is off: source, processor, amplifier' }];
}

/** Where a filter's dial stands, in words; undefined where it has none. */
export function dialWords(chain: Chain, channel: Channel, { place, dial, cornerHz }: ActiveFilter): string | undefined {
  const gear = dial === undefined ? undefined : gearOf(chain, channel, place)?.dials?.find(({ id }) => id === dial.id);
  const setting = gear === undefined ? undefined : nearestSetting(gear, cornerHz);
  return gear === undefined || setting === undefined ? undefined : `${gear.name}: ${settingWords(gear, setting)}`;
}

/** Whether somebody looked at a channel's filters as they are now. */
export function areFiltersConfirmed(channel: Channel, chain: Chain, marks: readonly StepMark[]): boolean {
  const mark = marks.find(({ stepId }) => stepId === `filters:${channel.id}`);
  const ticked = new Set(mark?.checks ?? []);
  return mark?.basis === filtersBasis(channel) && filterChecks(channel, chain).every(({ id }) => ticked.has(id));
}

/** A tweeter on this channel that nothing protects. */
export const bareTweeter = (channel: Channel): Voice | undefined =>
  channelVoices(channel).find((voice) => voice.role === 'tweeter' && !isProtected(voice));

/** Where setting a channel's filters stands. */
export function filtersState(step: ChannelStep, chain: Chain, { marks }: RunRecords): StepState {
  const { channel } = step;
  const mark = marks.find(({ stepId }) => stepId === step.id);
  const basis = filtersBasis(channel);
  const own = crossoverFindings(chain)
    .filter(({ channelIds }) => channelIds.includes(channel.id))
    .map(({ channelIds: _channels, ...finding }): Finding => finding);
  const isStop = own.some(({ grade }) => grade === 'stop');
  if (mark !== undefined && mark.checks.length > 0 && mark.basis !== basis) {
    return {
      status: isStop ? 'stop' : 'stale',
      findings: [
        {
          grade: 'stale',
          text: `This was ticked for: ${mark.basis ?? 'another setting'}. It is now: ${basis}.`,
          next: 'Set it on the gear, look again, tick again.',
        },
        ...own,
      ],
    };
  }
  if (isStop) return { status: 'stop', findings: own };
  if (!areFiltersConfirmed(channel, chain, marks)) return { status: 'open', findings: own };
  return { status: 'done', findings: [{ grade: 'good', text: 'Set and looked at: tones may play on this channel.' }, ...own] };
}

/** What the ticks of "take it as it is" stand for. */
export const acceptedBasis = ({ order, cornerHz }: Pick<Filter, 'order' | 'cornerHz'>): string =>
  `${formatQuantity(cornerHz, 'Hz')}, ${6 * order} dB per octave`;

/** The setting that a voltage or sweep taken now speaks of. */
export function provedSettingNow({ filter }: CrossoverStep, series: number): ProvedSetting {
  const { kind, family, order, cornerHz } = filter;
  return { kind, family, order, cornerHz, series };
}

/** Where proving one filter stands. */
export function crossoverState(step: CrossoverStep, chain: Chain, settings: TuneSettings, records: RunRecords): StepState {
  const { channel, filter } = step;
  const proofs = channelProofs(channel, settings, records);
  const proof = proofs.find((each) => each.filter.id === filter.id)!;
  const others = proofs
    .filter((each) => each !== proof)
    .map((each) =>
      each.fit === undefined || each.fit.verdict === 'not-a-filter' ? each.filter : { ...each.filter, ...likeliest(each.filter, each.fit) },
    );
  const plan = proofPoints(filter, others, settings.meter);
  const dial =
    filter.dial === undefined ? undefined : gearOf(chain, channel, filter.place)?.dials?.find(({ id }) => id === filter.dial?.id);
  const suspects = explainVoltages(filter, proof.fitPoints, {
    multiplier: filter.dial?.multiplier ?? 1,
    multipliers: dial?.multipliers ?? [1],
  });
  const tellingHz = tellingPoint(proof, settings);
  const read = new Set(proof.points.map(({ frequencyHz }) => frequencyHz));
  const nextHz = [...plan.proposedHz, ...(tellingHz === undefined ? [] : [tellingHz])].find((hertz) => !read.has(hertz));
  const crossover: CrossoverFigures = {
    ...plan,
    proof,
    suspects,
    ...(tellingHz === undefined ? {} : { tellingHz }),
    ...(nextHz === undefined ? {} : { nextHz }),
  };
  const words = [...leftOutFindings(proof.points, settings), ...bandFindings(crossover, settings)];
  const { fit } = proof;

  if (proof.outdated !== undefined) {
    return {
      status: 'stale',
      crossover,
      findings: [
        {
          grade: 'stale',
          text: `The voltages were read for ${filterWords(proof.outdated)}; it is now ${filterWords(filter)}.`,
          next: 'Read them again.',
        },
      ],
    };
  }
  if (proof.failedSweep !== undefined) {
    return { status: 'open', crossover, findings: [{ grade: 'attention', text: proof.failedSweep }] };
  }
  if (fit === undefined) {
    const missing = LEAST_FIT_POINTS - proof.fitPoints.length;
    const begun = proof.points.length > 0;
    return {
      status: 'open',
      crossover,
      findings: [
        ...(begun
          ? [
              {
                grade: 'note' as const,
                text: missing === 1 ? 'One more voltage is needed for a verdict.' : `${missing} more voltages are needed for a verdict.`,
              },
            ]
          : []),
        ...words,
      ],
    };
  }
  const judged = judge(step, fit, suspects, settings, dialAdvice(step, chain, fit));
  const mark = records.marks.find(({ stepId }) => stepId === step.id);
  const found = fit.verdict === 'not-a-filter' ? undefined : likeliest(filter, fit);
  if (
    judged.status === 'out-of-tolerance' &&
    found !== undefined &&
    mark?.checks.includes('accepted') === true &&
    mark.basis === acceptedBasis(found)
  ) {
    return {
      status: 'done',
      crossover,
      findings: [{ grade: 'good', text: `Taken as it is: ${acceptedBasis(found)}. What follows counts with that.` }, ...words],
    };
  }
  return { status: judged.status, crossover, findings: [...judged.findings, ...words] };
}

/** Where two filters that the voltages cannot tell apart differ most, within what can be read. */
function tellingPoint({ fit, points, filter: { kind } }: FilterProof, { meter }: TuneSettings): number | undefined {
  if (fit?.verdict !== 'ambiguous' || points.length >= MOST_POINTS) return undefined;
  const [first, second] = [fit, fit.alternatives[0]!];
  const level = (each: FittedFilter, hertz: number): number =>
    20 * Math.log10(each.passbandVoltage) + filterAt({ kind, family: each.family, order: each.order, cornerHz: each.cornerHz }, hertz).db;
  const apart = (hertz: number): number => Math.abs(level(first, hertz) - level(second, hertz));
  return Array.from({ length: 33 }, (_, i) => Number((first.cornerHz * 2 ** ((i - 16) / 8)).toPrecision(2)))
    .filter((hertz) => reads(meter, hertz) && points.every(({ frequencyHz }) => Math.abs(Math.log2(frequencyHz / hertz)) > 0.15))
    .sort((a, b) => apart(b) - apart(a))[0];
}

/** More voltages than this are not asked for. */
const MOST_POINTS = 12;

interface Judged {
  status: 'done' | 'out-of-tolerance';
  findings: Finding[];
}

function judge(
  step: CrossoverStep,
  fit: CrossoverFit,
  suspects: readonly SuspectSetting[],
  settings: TuneSettings,
  advice: string,
): Judged {
  const { filter } = step;
  const suspect = suspects[0];
  const suspicion: Finding[] =
    suspect === undefined
      ? []
      : [
          {
            grade: 'attention',
            text: `The voltages are what they would be if ${suspect.words}${suspects.length > 1 ? `, or if ${suspects[1]!.words}` : ''}.`,
            next: 'Look at the gear, put it right, and read the voltages again.',
          },
        ];
  if (fit.verdict === 'not-a-filter') {
    return {
      status: 'out-of-tolerance',
      findings: [
        {
          grade: 'attention',
          // With a likely cause named below, the general words of the fit say nothing more.
          text: suspect === undefined ? fit.reason : `${fit.reason.split(':')[0]}.`,
          ...(suspect === undefined ? { next: 'Check the probes, then read again around the corner.' } : {}),
        },
        ...suspicion,
      ],
    };
  }
  const found = likeliest(filter, fit);
  const tolerance = settings.rules.cornerTolerancePercent ?? USUAL_CORNER_TOLERANCE_PERCENT;
  const offPercent = 100 * (found.cornerHz / filter.cornerHz - 1);
  const candidates = fit.verdict === 'ambiguous' ? [fit, ...fit.alternatives] : [fit];
  const orders = [...new Set(candidates.map(({ order }) => order))];
  const really = `Set to ${formatQuantity(filter.cornerHz, 'Hz')}, really ${formatQuantity(found.cornerHz, 'Hz')}`;
  const isCornerRight = Math.abs(offPercent) <= tolerance;
  if (fit.verdict === 'ambiguous' && !candidates.some(({ order, family }) => order === filter.order && family === filter.family)) {
    return {
      status: 'out-of-tolerance',
      findings: [
        {
          grade: 'attention',
          text: `Ambiguous: ${candidates
            .slice(0, 3)
            .map((each) => `${FAMILY_NAMES[each.family]} ${acceptedBasis(each)}`)
            .join(' or ')} fit these voltages alike.`,
          next: 'Read one more, where they differ most.',
        },
        ...suspicion,
      ],
    };
  }
  const slope = `${6 * found.order} dB per octave`;
  const isSlopeRight = found.order === filter.order;
  const doubt: Finding[] =
    orders.length > 1 && isSlopeRight
      ? [
          {
            grade: 'note',
            text: `${orders.map((order) => 6 * order).join(' and ')} dB per octave fit alike; the one that was set is taken.`,
          },
        ]
      : fit.verdict === 'good' && found.family !== filter.family && isSlopeRight
        ? [
            {
              grade: 'note',
              text: `Its alignment is ${FAMILY_NAMES[found.family]}, not ${FAMILY_NAMES[filter.family]}: the phase where it meets its neighbour is another one.`,
            },
          ]
        : [];
  if (isCornerRight && isSlopeRight) return { status: 'done', findings: [{ grade: 'good', text: `${really}, ${slope}.` }, ...doubt] };
  if (suspect !== undefined && (suspect.cause === 'multiplier' || suspect.cause === 'other-slope')) {
    return { status: 'out-of-tolerance', findings: [{ grade: 'attention', text: `${really}, ${slope}.` }, ...suspicion] };
  }
  return {
    status: 'out-of-tolerance',
    findings: [
      {
        grade: 'attention',
        text: `${really}, ${slope}${isSlopeRight ? '' : ` instead of ${6 * filter.order}`}.`,
        next: isSlopeRight ? advice : 'Look at the slope switch; then read the voltages again.',
      },
      ...doubt,
    ],
  };
}

/** What to turn: the click that really gives the wished corner, going by how far off this one is. */
function dialAdvice({ filter, channel }: CrossoverStep, chain: Chain, fit: CrossoverFit): string {
  if (fit.verdict === 'not-a-filter') return '';
  const found = likeliest(filter, fit);
  const aimHz = filter.cornerHz * (filter.cornerHz / found.cornerHz);
  const dial =
    filter.dial === undefined ? undefined : gearOf(chain, channel, filter.place)?.dials?.find(({ id }) => id === filter.dial?.id);
  const setting = dial === undefined ? undefined : nearestSetting(dial, aimHz);
  const place = dial === undefined || setting === undefined ? `a setting of ${formatQuantity(aimHz, 'Hz')}` : settingWords(dial, setting);
  return `Try ${place}, and read the voltages again; or take it as it is.`;
}

const LEFT_OUT_WORDS: Record<NonNullable<ProofPoint['leftOut']>, string> = {
  meter: 'the meter is not good there',
  'other-filter': 'another filter of this channel takes too much there',
  nothing: 'nothing was read',
  'other-level': 'the volume or the tone’s level was another one',
};

function leftOutFindings(points: readonly ProofPoint[], { meter }: TuneSettings): Finding[] {
  const reasons = [...new Set(points.flatMap(({ leftOut }) => leftOut ?? []))];
  return reasons.map((reason): Finding => {
    const at = points.filter(({ leftOut }) => leftOut === reason).map(({ frequencyHz }) => formatQuantity(frequencyHz, 'Hz'));
    return {
      grade: 'note',
      text: `Left out: ${at.join(', ')}. ${LEFT_OUT_WORDS[reason].charAt(0).toUpperCase()}${LEFT_OUT_WORDS[reason].slice(1)}${reason === 'meter' ? `: its manual says ${meterBandWords(meter)}` : ''}.`,
    };
  });
}

const meterBandWords = ({ lowestHz, highestHz }: TuneSettings['meter']): string =>
  `${lowestHz === undefined ? 'up' : formatQuantity(lowestHz, 'Hz')} to ${formatQuantity(highestHz, 'Hz')}`;

/** A filter that a meter cannot see, such as a tweeter's. */
function bandFindings({ proposedHz, leftOut, proof }: CrossoverFigures, settings: TuneSettings): Finding[] {
  const byMeter = leftOut.filter(({ reason }) => reason === 'meter');
  if (byMeter.length === 0 || proof.from === 'sweep') return [];
  if (proposedHz.length < LEAST_FIT_POINTS || !proposedHz.some((hertz) => filterAt(proof.filter, hertz).db > PASSBAND_DB)) {
    return [
      {
        grade: 'note',
        text: `This meter is good ${meterBandWords(settings.meter)}: it does not see this filter’s passband.`,
        next: 'Capture a sweep at the terminals instead, or take a meter that goes higher.',
      },
    ];
  }
  return [
    { grade: 'note', text: `Frequencies that the meter cannot read (${meterBandWords(settings.meter)}) are left out of the proposal.` },
  ];
}

const PASSBAND_DB = -0.5;

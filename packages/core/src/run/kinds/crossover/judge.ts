import { MIN_FIT_POINTS, type CrossoverFit, type FittedFilter } from '../../../crossovers/crossoverFit.ts';
import { filterAt } from '../../../crossovers/crossoverResponse.ts';
import { nearestSetting, settingWords } from '../../../crossovers/dial.ts';
import { explainVoltages, type SuspectSetting } from '../../../crossovers/explainVoltages.ts';
import { FAMILY_NAMES, type Filter } from '../../../crossovers/filters.ts';
import { proofPoints, reads, type ProofPoints } from '../../../crossovers/proofPoints.ts';
import type { Action, Finding } from '../../../findings.ts';
import { basisOf, type Basis } from '../../../job/basis.ts';
import type { ActiveFilter, Channel } from '../../../job/chain.ts';
import { filterWords, KIND_NAMES } from '../../../job/channelFilters.ts';
import type { ProvedSetting } from '../../../job/conditions.ts';
import type { TuneSettings } from '../../../job/records.ts';
import { voltageRatioDb } from '../../../levels/decibels.ts';
import { lastResult } from '../../../numerics/lastResult.ts';
import { formatQuantity } from '../../../units/formatQuantity.ts';
import { isDead, likeliest, type FilterProof, type ProofPoint } from '../../../ways/filterProof.ts';
import { dialOfFilter } from '../../../ways/editFilters.ts';
import { proofsOf, wayChangedNow, type ChannelNow } from '../../frame/channels.ts';
import { staleFinding, type Judgement } from '../../frame/judgement.ts';
import { markAt, readingsAt, tracesAt, type Situation } from '../../frame/situation.ts';
import type { Step } from '../../frame/stepKind.ts';

/** One filter of a channel. */
export interface CrossoverSubject extends ChannelNow {
  filter: ActiveFilter;
}

type CrossoverStep = Step<'crossover', CrossoverSubject>;

/** Voltages of one filter over frequency, and what they say. */
export interface CrossoverFigures extends ProofPoints {
  proof: FilterProof;
  /** one more, where two filters fit alike: there they differ most */
  tellingHz?: number;
  /** the first of these that was not read yet */
  nextHz?: number;
  /** other settings that would explain the voltages */
  suspects: SuspectSetting[];
}

/** How far off a dial may be, in percent, where the house says nothing. Common practice, no source. */
export const USUAL_CORNER_TOLERANCE_PERCENT = 10;

/** A filter in short: "80.0 Hz, 24 dB per octave". */
const inShort = ({ order, cornerHz }: Pick<Filter, 'order' | 'cornerHz'>): string =>
  `${formatQuantity(cornerHz, 'Hz')}, ${6 * order} dB per octave`;

/** What the ticks of "take it as it is" stand for: the filter that was found, to three figures of its corner. */
export const acceptedBasis = ({ order, cornerHz }: Pick<Filter, 'order' | 'cornerHz'>): Basis =>
  basisOf({ cornerHz: Number(cornerHz.toPrecision(3)), order }, inShort({ order, cornerHz }));

/** The setting that a voltage or sweep taken now speaks of. */
export function provedSettingNow({ kind, family, order, cornerHz }: Filter, series: number): ProvedSetting {
  return { kind, family, order, cornerHz, series };
}

const READ: Action = { kind: 'read', reading: 'filter-voltage', unit: 'V' };

/** What was measured of a step's filter, which tones come next, and what would explain the voltages. */
export function crossoverFigures({ channel, filter }: Pick<CrossoverSubject, 'channel' | 'filter'>, now: Situation): CrossoverFigures {
  const proofs = proofsOf(now, channel);
  const proof = proofs.find((each) => each.filter.id === filter.id)!;
  return keptFigures(proof, '', [now.chain, now.settings.meter], () => figuresOf(channel, proof, proofs, now));
}

const keptFigures = lastResult<CrossoverFigures>();

function figuresOf(channel: Channel, proof: FilterProof, proofs: readonly FilterProof[], now: Situation): CrossoverFigures {
  const { settings } = now;
  const { filter } = proof;
  const others = proofs
    .filter((each) => each !== proof)
    .map((each) =>
      each.fit === undefined || each.fit.verdict === 'not-a-filter' ? each.filter : { ...each.filter, ...likeliest(each.filter, each.fit) },
    );
  const plan = proofPoints(filter, others, settings.meter);
  const suspects = explainVoltages(filter, proof.fitPoints, {
    multiplier: filter.dial?.multiplier ?? 1,
    multipliers: dialOfFilter(now.chain, channel, filter)?.multipliers ?? [1],
  });
  const tellingHz = tellingPoint(proof, settings);
  const read = new Set(proof.points.map(({ frequencyHz }) => frequencyHz));
  const nextHz = [...plan.proposedHz, ...(tellingHz === undefined ? [] : [tellingHz])].find((hertz) => !read.has(hertz));
  return {
    ...plan,
    proof,
    suspects,
    ...(tellingHz === undefined ? {} : { tellingHz }),
    ...(nextHz === undefined ? {} : { nextHz }),
  };
}

/** Where proving one filter stands. */
export function judgeCrossover(step: CrossoverStep, now: Situation): Judgement<CrossoverFigures> {
  const { filter } = step;
  const { settings } = now;
  const figures = crossoverFigures(step, now);
  const { proof, nextHz } = figures;
  const words = [...leftOutFindings(proof.points, settings), ...bandFindings(figures, settings)];
  const { fit } = proof;
  const more: Action = nextHz === undefined ? { kind: 'capture', judged: 'sweep' } : READ;

  if (proof.outdated !== undefined) {
    return {
      status: 'stale',
      figures,
      action: READ,
      findings: [
        {
          code: 'filter-changed',
          grade: 'stale',
          figures: {
            thenHz: proof.outdated.cornerHz,
            nowHz: filter.cornerHz,
            then: filterWords(proof.outdated),
            present: filterWords(filter),
          },
        },
      ],
    };
  }
  const changedAt = wayChangedNow(now, step.channel);
  const hasEarlier = readingsAt(now, step.id, 'filter-voltage', 'load').length > 0 || tracesAt(now, step.id, 'line').length > 0;
  if (changedAt !== undefined && proof.points.length === 0 && proof.failedSweep === undefined && hasEarlier) {
    const why = ['something that shapes the tone was switched since'];
    return { status: 'stale', figures, action: READ, findings: [staleFinding('What was measured of this filter', why, 'Read it again.')] };
  }
  if (proof.failedSweep !== undefined) {
    const action: Action = { kind: 'capture', judged: 'sweep' };
    return {
      status: 'open',
      figures,
      action,
      findings: [{ code: 'no-sweep', grade: 'attention', figures: { reason: proof.failedSweep }, action }],
    };
  }
  const dead = deadFinding(proof);
  if (dead !== undefined) return { status: 'out-of-tolerance', figures, findings: [dead], action: SEE_TO_STAGE };
  if (fit === undefined) return { status: 'open', figures, action: more, findings: [...missingFinding(proof), ...words] };
  const judged = judgeFit(step, figures, fit, now);
  const mark = markAt(now, step.id);
  const found = fit.verdict === 'not-a-filter' ? undefined : likeliest(filter, fit);
  if (judged.status === 'done') return { status: 'done', figures, findings: [...judged.findings, ...words] };
  if (found !== undefined && mark?.checks.includes('accepted') === true && mark.basis === acceptedBasis(found).key) {
    const taken: Finding = {
      code: 'corner-accepted',
      grade: 'good',
      figures: { cornerHz: found.cornerHz, order: found.order, filter: inShort(found) },
    };
    return { status: 'done', figures, findings: [taken, ...words] };
  }
  const action = judged.action ?? (nextHz === undefined ? (acceptAction(found) ?? SEE_TO_IT) : READ);
  return { status: judged.status, figures, findings: [...judged.findings, ...words], action };
}

const SEE_TO_STAGE: Action = { kind: 'describe', what: 'repair' };

function deadFinding(proof: FilterProof): Finding | undefined {
  if (!isDead(proof)) return undefined;
  const { points } = proof;
  const voltageRms = Math.max(...points.map((point) => point.voltageRms));
  return { code: 'reads-nothing', grade: 'attention', figures: { at: 'crossover', voltageRms }, action: SEE_TO_STAGE };
}

/** No filter of any kind follows these voltages: what else shapes the tone has to be found first. */
const SEE_TO_IT: Action = { kind: 'describe', what: 'tone-shaping' };

function acceptAction(found: FittedFilter | undefined): Action | undefined {
  if (found === undefined) return undefined;
  const basis = acceptedBasis(found);
  return { kind: 'tick', checks: ['accepted'], basis: basis.key, basisWords: basis.words };
}

function missingFinding({ points, fitPoints }: FilterProof): Finding[] {
  if (points.length === 0) return [];
  const missing = MIN_FIT_POINTS - fitPoints.length;
  return [
    {
      code: 'voltages-missing',
      grade: 'note',
      figures: { missing },
      action: READ,
    },
  ];
}

/** Where two filters that the voltages cannot tell apart differ most, within what can be read. */
function tellingPoint({ fit, points, filter: { kind } }: FilterProof, { meter }: TuneSettings): number | undefined {
  if (fit?.verdict !== 'ambiguous' || points.length >= MAX_POINTS) return undefined;
  const [first, second] = [fit, fit.alternatives[0]!];
  const level = (each: FittedFilter, hertz: number): number =>
    20 * Math.log10(each.passbandVoltage) + filterAt({ kind, family: each.family, order: each.order, cornerHz: each.cornerHz }, hertz).db;
  const apart = (hertz: number): number => Math.abs(level(first, hertz) - level(second, hertz));
  return Array.from({ length: 33 }, (_, i) => Number((first.cornerHz * 2 ** ((i - 16) / 8)).toPrecision(2)))
    .filter((hertz) => reads(meter, hertz) && points.every(({ frequencyHz }) => Math.abs(Math.log2(frequencyHz / hertz)) > 0.15))
    .sort((a, b) => apart(b) - apart(a))[0];
}

/** More voltages than this are not asked for. */
const MAX_POINTS = 12;

interface Judged {
  status: 'done' | 'out-of-tolerance';
  findings: Finding[];
  action?: Action;
}

/** The fit against the setting. */
function judgeFit(step: CrossoverStep, { proof, suspects }: CrossoverFigures, fit: CrossoverFit, now: Situation): Judged {
  const { filter } = step;
  const { settings } = now;
  const suspect = suspects[0];
  const suspicion: Finding[] =
    suspect === undefined
      ? []
      : [
          {
            code: 'setting-suspected',
            grade: 'attention',
            figures: { cause: suspect.cause, suspicions: [suspect.words, ...suspects.slice(1, 2).map(({ words }) => words)] },
          },
        ];
  if (fit.verdict === 'not-a-filter') {
    return {
      status: 'out-of-tolerance',
      findings: [
        {
          code: 'not-a-filter',
          grade: 'attention',
          // With a likely cause named below, the general words of the fit say nothing more.
          figures: {
            residualDb: fit.residualDb,
            reason: suspect === undefined ? fit.reason : unlikeWords(proof),
            isSuspected: suspect !== undefined,
          },
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
  const isCornerRight = Math.abs(offPercent) <= tolerance;
  if (fit.verdict === 'ambiguous' && !candidates.some(({ order, family }) => order === filter.order && family === filter.family)) {
    return {
      status: 'out-of-tolerance',
      findings: [
        {
          code: 'filter-ambiguous',
          grade: 'attention',
          figures: {
            candidates: candidates.length,
            filters: candidates.slice(0, 3).map((each) => `${FAMILY_NAMES[each.family]} ${inShort(each)}`),
          },
        },
        ...suspicion,
      ],
    };
  }
  const isSlopeRight = found.order === filter.order;
  const doubt: Finding[] =
    orders.length > 1 && isSlopeRight
      ? [
          {
            code: 'slopes-alike',
            grade: 'note' as const,
            figures: { order: found.order, orders: orders.map((order) => 6 * order) },
          },
        ]
      : fit.verdict === 'good' && found.family !== filter.family && isSlopeRight
        ? [
            {
              code: 'other-family',
              grade: 'note' as const,
              figures: { family: found.family, setFamily: filter.family },
            },
          ]
        : [];
  const figures = { setHz: filter.cornerHz, cornerHz: found.cornerHz, offPercent, order: found.order, setOrder: filter.order };
  if (isCornerRight && isSlopeRight) {
    return { status: 'done', findings: [{ code: 'corner-right', grade: 'good', figures }, ...doubt] };
  }
  if (suspect !== undefined && (suspect.cause === 'multiplier' || suspect.cause === 'other-slope')) {
    return {
      status: 'out-of-tolerance',
      // The likely cause names a corner of its own: two figures for one would quarrel.
      findings: suspicion.length > 0 ? suspicion : [{ code: 'corner-off', grade: 'attention', figures }],
    };
  }
  return {
    status: 'out-of-tolerance',
    findings: [
      isSlopeRight
        ? { code: 'corner-off', grade: 'attention', figures: { ...figures, tryAt: settingToTry(step, found, now) } }
        : { code: 'slope-off', grade: 'attention', figures },
      ...doubt,
    ],
  };
}

/** What to turn: the click that really gives the wished corner, going by how far off this one is. */
function settingToTry(step: CrossoverStep, found: FittedFilter, now: Situation): string {
  const { filter } = step;
  const aimHz = filter.cornerHz * (filter.cornerHz / found.cornerHz);
  const dial = dialOfFilter(now.chain, step.channel, filter);
  const setting = dial === undefined ? undefined : nearestSetting(dial, aimHz);
  return dial === undefined || setting === undefined ? `a setting of ${formatQuantity(aimHz, 'Hz')}` : settingWords(dial, setting);
}

function leftOutFindings(points: readonly ProofPoint[], { meter }: TuneSettings): Finding[] {
  const reasons = [...new Set(points.flatMap(({ leftOut }) => leftOut ?? []))];
  return reasons.map((reason): Finding => {
    const at = points.filter(({ leftOut }) => leftOut === reason).map(({ frequencyHz }) => formatQuantity(frequencyHz, 'Hz'));
    return {
      code: `left-out-${reason}`,
      grade: 'note',
      figures: { points: at.length, tones: at, meterBand: meterBandWords(meter) },
    };
  });
}

const meterBandWords = ({ lowestHz, highestHz }: TuneSettings['meter']): string =>
  `${lowestHz === undefined ? 'up' : formatQuantity(lowestHz, 'Hz')} to ${formatQuantity(highestHz, 'Hz')}`;

/** A filter that a meter cannot see, such as a tweeter's. */
function bandFindings({ proposedHz, leftOut, proof }: CrossoverFigures, settings: TuneSettings): Finding[] {
  const byMeter = leftOut.filter(({ reason }) => reason === 'meter');
  if (byMeter.length === 0 || proof.from === 'sweep') return [];
  if (proposedHz.length < MIN_FIT_POINTS || !proposedHz.some((hertz) => filterAt(proof.filter, hertz).db > PASSBAND_DB)) {
    return [
      {
        code: 'passband-out-of-reach',
        grade: 'note',
        figures: { highestHz: settings.meter.highestHz, meterBand: meterBandWords(settings.meter) },
      },
    ];
  }
  return [
    {
      code: 'tones-left-out',
      grade: 'note',
      figures: { tones: byMeter.length, meterBand: meterBandWords(settings.meter) },
    },
  ];
}

const PASSBAND_DB = -0.5;

/** What the voltages are, where they are no filter's and a cause is named besides. */
function unlikeWords({ filter, fitPoints }: FilterProof): string {
  const volts = fitPoints.map(({ voltageRms }) => voltageRms);
  const isFlat = voltageRatioDb(Math.max(...volts), Math.min(...volts)) < SAME_DB;
  return isFlat ? 'The voltage is the same at every frequency.' : `No ${KIND_NAMES[filter.kind].toLowerCase()} follows these voltages.`;
}

/** Voltages within this are one and the same. */
const SAME_DB = 1;

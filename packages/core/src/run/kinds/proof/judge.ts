import type { Action, Finding } from '../../../findings.ts';
import { deliveredPower } from '../../../gain/deliveredPower.ts';
import { sag, type Sag } from '../../../gain/sag.ts';
import { connectedLoadOhm } from '../../../job/chain.ts';
import type { LoadReading, LoadTrace } from '../../../job/records.ts';
import { powerRatioDb, voltageFactor, voltageRatioDb } from '../../../levels/decibels.ts';
import type { ChannelNow } from '../../frame/channels.ts';
import { loadConditions } from '../../frame/conditions.ts';
import type { LoadTaken } from '../../../impedance/channelImpedance.ts';
import { staleFinding, type Judgement } from '../../frame/judgement.ts';
import { INSTRUMENTS_APART_DB, isSeenTwice } from '../../frame/onset.ts';
import { readingsAt, tracesAt, type Situation } from '../../frame/situation.ts';
import { pairFindings, pairNow, type PairRule } from '../../frame/pairs.ts';
import { staleReasons, type ConditionKey } from '../../frame/staleness.ts';
import { traceFinding } from '../../frame/traceFinding.ts';
import { upstreamFindings } from '../../frame/upstreamFindings.ts';
import { belowPeakDb } from '../../../ways/filterLoss.ts';
import type { Step } from '../../frame/stepKind.ts';
import { gainReadings, isBeyondMeter, loadedReadings } from '../../frame/gainReadings.ts';
import { LOAD_STANDS_ON } from '../gain/judge.ts';
import { dummyFindings } from './dummyFindings.ts';
import { impedanceFindings, takenAtTone } from './impedanceFindings.ts';
import { otherSupplies, supplyFindings, type OtherSupply, type SupplyRead } from './supplyFindings.ts';

export interface ProofFigures {
  loadedVolt?: number;
  /** at the load, with the tone as played */
  powerWatt?: number;
  /** with a full-scale tone at this gain */
  fullScaleWatt?: number;
  impedanceOhm?: number;
  impedanceRiseRatio?: number;
  sag?: Sag;
  trace?: LoadTrace;
  /** at the amplifier's terminals, with nothing playing and while the tone plays */
  supply?: SupplyRead;
  /** the highest clean voltage at other supplies, where it can be told */
  otherSupplies?: OtherSupply[];
  /** what the load takes at the tone, by the impedance that was entered for it */
  taken?: LoadTaken;
}

/** What is measured under load stands on the very wires that were on. */
export const PROOF_STANDS_ON: readonly ConditionKey[] = [...LOAD_STANDS_ON, 'wiring'];

/** A loaded voltage that misses the unloaded one by more than this is worth a word: a tenth of the power. Common practice, no source. */
const NOTABLE_SAG_DB = 0.5;

/** Where a proof stands: voltage and capture under load, against the ratings. */
export function judgeProof(step: Step<'proof', ChannelNow>, now: Situation): Judgement<ProofFigures> {
  const loaded = loadedReadings(now, step.channel.id).at(-1);
  const newestClamp = readingsAt(now, step.id, 'clamp-current', 'load').at(-1);
  const trace = tracesAt(now, step.id, 'load').at(-1);
  const gainReading = gainReadings(now, step.channel.id).at(-1);
  const read: Action = isBeyondMeter(step.toneHz, now)
    ? { kind: 'capture', judged: 'tone' }
    : { kind: 'read', reading: 'loaded-voltage', unit: 'V' };
  const capture: Action = { kind: 'capture', judged: 'tone' };
  if (loaded === undefined && trace === undefined && newestClamp === undefined)
    return { status: 'open', figures: {}, findings: [], action: read };

  const present = loadConditions(step, now, 'on');
  const measured = [loaded, trace].filter((item) => item !== undefined);
  const isOlder = (item: { takenAt: string }): boolean => gainReading !== undefined && gainReading.takenAt > item.takenAt;
  const reasons = [
    ...new Set(measured.flatMap(({ conditions }) => staleReasons(PROOF_STANDS_ON, conditions, present))),
    ...(measured.some(isOlder) ? ['the gain was read again after this proof'] : []),
  ];
  // A current that was read at another gain or load belongs to another power.
  const clamp =
    newestClamp === undefined || isOlder(newestClamp) || staleReasons(PROOF_STANDS_ON, newestClamp.conditions, present).length > 0
      ? undefined
      : newestClamp;
  const figures: ProofFigures = {
    ...powerFigures(step, loaded, clamp, gainReading),
    ...(trace === undefined ? {} : { trace }),
    ...supplyFigures(step, now),
  };
  const others = otherSupplies(step, figures.supply, fullScaleVolt(step, loaded));
  if (others.length > 0) figures.otherSupplies = others;
  if (reasons.length > 0) {
    const isLoadedOld = loaded === undefined || isOlder(loaded) || staleReasons(PROOF_STANDS_ON, loaded.conditions, present).length > 0;
    return {
      status: 'stale',
      figures,
      action: isLoadedOld ? read : capture,
      findings: [staleFinding('The proof', reasons, 'Read the voltage under load and capture the trace again.')],
    };
  }
  const findings: Finding[] = [
    ...upstreamFindings(step.channel, now),
    trace === undefined
      ? {
          code: 'no-capture',
          grade: 'note',
          figures: {},
          action: capture,
        }
      : (foundAgain(trace, step, now) ?? traceFinding(trace)),
    ...(loaded === undefined
      ? [
          {
            code: 'no-voltage' as const,
            grade: 'note' as const,
            figures: {},
            action: read,
          },
        ]
      : []),
    ...(loaded === undefined || gainReading === undefined ? [] : raisedFinding(loaded, gainReading)),
    ...(loaded === undefined || trace === undefined ? [] : sameLevelFinding(loaded, trace)),
    ...(loaded === undefined ? [] : besidePair(step, loaded, now)),
    ...powerFindings(step, figures),
    ...impedanceFindings(step, figures.taken),
    ...supplyFindings(step, figures.supply, fullScaleVolt(step, loaded)),
    ...clampFindings(step, figures, clamp),
    ...dummyFindings(step, loaded?.value, clamp?.value),
  ];
  const worst = findings.find(({ grade }) => grade === 'stop') ?? findings.find(({ grade }) => grade === 'attention');
  if (worst !== undefined) {
    const status = worst.grade === 'stop' ? 'stop' : 'out-of-tolerance';
    // Before the capture nobody knows what a voltage is worth: it comes first, whatever is off.
    const isCapturedFirst = trace === undefined && worst.grade !== 'stop' && worst.code !== 'loaded-above-unloaded';
    return { status, figures, findings, action: isCapturedFirst ? capture : (worst.action ?? capture) };
  }
  if (trace === undefined || loaded === undefined)
    return { status: 'open', figures, findings, action: loaded === undefined ? read : capture };
  return { status: 'done', figures, findings };
}

/** What is seen again at the ceiling, told as clean: gain and proof do not chase each other over it. */
function foundAgain(trace: LoadTrace, step: Step<'proof', ChannelNow>, now: Situation): Finding | undefined {
  const present = loadConditions(step, now, 'on');
  const own = tracesAt(now, step.id, 'load').filter(({ conditions }) => staleReasons(PROOF_STANDS_ON, conditions, present).length === 0);
  if (!isSeenTwice(trace, own)) return undefined;
  const thdPercent = trace.analysis.channels[trace.channelIndex]?.thdPercent;
  return { code: 'capture-clean', grade: 'good', figures: { verdict: 'onset', ...(thdPercent === undefined ? {} : { thdPercent }) } };
}

/** What a full-scale tone would read at this gain, under load. */
const fullScaleVolt = (step: ChannelNow, loaded: LoadReading | undefined): number | undefined =>
  loaded === undefined ? undefined : loaded.value * voltageFactor(-step.toneLevelDbfs - belowPeakDb(step.loss));

function powerFigures(
  step: ChannelNow,
  loaded: LoadReading | undefined,
  clamp: LoadReading | undefined,
  gainReading: LoadReading | undefined,
): ProofFigures {
  if (loaded === undefined || loaded.value <= 0) return {};
  const { loadOhm } = step.channel;
  const taken = takenAtTone(step, loaded.value);
  const delivered =
    clamp === undefined || clamp.value <= 0 || step.channel.dummyOhm !== undefined
      ? deliveredPower({ voltageRms: loaded.value, loadOhm: step.plannedOhm, nominalOhm: loadOhm })
      : deliveredPower({ voltageRms: loaded.value, currentRms: clamp.value, nominalOhm: loadOhm });
  const comparable = gainReading !== undefined && gainReading.conditions.load === 'off' && gainReading.value >= loaded.value;
  return {
    loadedVolt: loaded.value,
    powerWatt: delivered.powerWatt,
    fullScaleWatt: delivered.powerWatt * voltageFactor(-step.toneLevelDbfs - belowPeakDb(step.loss)) ** 2,
    impedanceOhm: delivered.impedanceOhm,
    ...(taken === undefined ? {} : { taken }),
    ...(clamp === undefined || step.channel.dummyOhm !== undefined || delivered.impedanceRiseRatio === undefined
      ? {}
      : { impedanceRiseRatio: delivered.impedanceRiseRatio }),
    ...(comparable
      ? {
          sag: sag({
            unloadedVoltage: gainReading.value,
            loadedVoltage: loaded.value,
            loadOhm: connectedLoadOhm(step.channel),
            predictLoadsOhm: [4, 2, 1].filter((ohm) => ohm !== loadOhm),
          }),
        }
      : {}),
  };
}

function supplyFigures(step: Step<'proof', ChannelNow>, now: Situation): Pick<ProofFigures, 'supply'> {
  const newest = (kind: string): number | undefined =>
    readingsAt(now, step.id, kind, 'load')
      .filter(({ conditions }) => conditions.amplifierId === step.amplifier.id)
      .at(-1)?.value;
  const [restVolt, loadedVolt] = [newest('supply-rest'), newest('supply-loaded')];
  if (restVolt === undefined && loadedVolt === undefined) return {};
  return { supply: { ...(restVolt === undefined ? {} : { restVolt }), ...(loadedVolt === undefined ? {} : { loadedVolt }) } };
}

/** A load never lifts the voltage: more of it under load means that the knob was turned in between. */
function raisedFinding(loaded: LoadReading, gainReading: LoadReading): Finding[] {
  if (gainReading.conditions.load === 'on' || loaded.value <= gainReading.value * voltageFactor(0.1)) return [];
  return [
    {
      code: 'loaded-above-unloaded',
      grade: 'attention',
      figures: {
        at: 'proof',
        loadedVolt: loaded.value,
        unloadedVolt: gainReading.value,
        differenceDb: voltageRatioDb(loaded.value, gainReading.value),
      },
      action: { kind: 'go', to: gainReading.stepId },
    },
  ];
}

/** What probes divide by, and what a scope that is set for another one makes of it. */
const PROBE_FACTORS: readonly number[] = [10, 100, 0.1, 0.01];

/** One pair of terminals has one voltage: a capture of another level shows another tone, or was read with a wrong probe factor. */
export function sameLevelFinding(loaded: LoadReading, trace: LoadTrace): Finding[] {
  const channel = trace.analysis.channels[trace.channelIndex];
  if (channel === undefined || channel.fit === undefined || loaded.value <= 0 || channel.voltageRms <= 0) return [];
  const again: Action = { kind: 'capture', judged: 'tone' };
  if (channel.warnings.includes('uncalibrated')) {
    return [
      {
        code: 'capture-uncalibrated',
        grade: 'note',
        figures: {},
      },
    ];
  }
  const apartDb = voltageRatioDb(channel.voltageRms, loaded.value);
  if (Math.abs(apartDb) <= INSTRUMENTS_APART_DB) return [];
  const factor = PROBE_FACTORS.find(
    (each) => Math.abs(voltageRatioDb(channel.voltageRms * each, loaded.value)) <= 2 * INSTRUMENTS_APART_DB,
  );
  const figures = { captureVolt: channel.voltageRms, meterVolt: loaded.value, apartDb };
  return [
    {
      code: 'capture-level-apart',
      grade: 'attention',
      figures: factor === undefined ? figures : { ...figures, probeFactor: factor },
      action: again,
    },
  ];
}

/** Two loads of one kind draw a little differently, and the supply with them. Common practice, no source. */
const LOADED_PAIR: PairRule = {
  toleranceDb: 0.5,
  at: 'proof',
  mend: () => ({ kind: 'read', reading: 'loaded-voltage', unit: 'V' }),
};

/** The other side of the pair under its load. */
function besidePair(step: Step<'proof', ChannelNow>, loaded: LoadReading, now: Situation): Finding[] {
  const pair = pairNow(now, step);
  if (pair === undefined) return [];
  const theirs = loadedReadings(now, pair.channel.id).at(-1);
  const counts = theirs !== undefined && staleReasons(PROOF_STANDS_ON, theirs.conditions, loadConditions(pair, now, 'on')).length === 0;
  return pairFindings(step, pair, loaded, counts ? theirs : undefined, now, LOADED_PAIR);
}

/** At a resonance a load has some ten times its nominal impedance, at no frequency less than its copper. Common practice, no source. */
const MAX_IMPEDANCE_RATIO = 12;
const MIN_IMPEDANCE_RATIO = 0.5;

/** Voltage over current is the load that hangs there, or the clamp is not around its wire. */
function clampFindings(
  { channel: { loadOhm } }: ChannelNow,
  { impedanceOhm, impedanceRiseRatio }: ProofFigures,
  clamp: LoadReading | undefined,
): Finding[] {
  if (clamp === undefined || impedanceOhm === undefined || impedanceRiseRatio === undefined) return [];
  const isHigh = impedanceOhm > MAX_IMPEDANCE_RATIO * loadOhm;
  if (!isHigh && impedanceOhm >= MIN_IMPEDANCE_RATIO * loadOhm) return [];
  return [
    {
      code: 'clamp-implausible',
      grade: 'attention',
      figures: { foundOhm: impedanceOhm, loadOhm, isHigh },
      action: { kind: 'read', reading: 'clamp-current', unit: 'A' },
    },
  ];
}

function powerFindings(step: ChannelNow, figures: ProofFigures): Finding[] {
  const { powerWatt, fullScaleWatt, sag: drop } = figures;
  if (powerWatt === undefined || fullScaleWatt === undefined || step.power.kind === 'unknown') return [];
  const { driversWatt } = step.power;
  const findings: Finding[] = [];
  // Ratings are rounded figures: 5 % over is no news.
  if (fullScaleWatt > 1.05 * driversWatt) {
    findings.push({
      code: 'drivers-overdriven',
      grade: 'attention',
      figures: { fullScaleWatt, driversWatt },
      action: { kind: 'turn-gain', byDb: powerRatioDb(driversWatt, fullScaleWatt) },
    });
  } else {
    findings.push({
      code: 'power-fits',
      grade: 'good',
      figures: { fullScaleWatt, driversWatt },
    });
  }
  // Headroom, a wish and a blend are meant: short is what misses the figure that it was set for.
  const setForWatt = step.target === undefined ? step.power.powerWatt : step.target.fullScaleVoltage ** 2 / step.plannedOhm;
  if (fullScaleWatt < 0.7 * setForWatt) {
    const shortDb = powerRatioDb(setForWatt, fullScaleWatt);
    findings.push({ code: 'power-short', grade: 'note', figures: { fullScaleWatt, setForWatt, shortDb } });
  }
  if (drop !== undefined && drop.dropDb > NOTABLE_SAG_DB) {
    findings.push({
      code: 'sags',
      grade: 'note',
      figures: { dropDb: drop.dropDb, sourceOhm: drop.sourceOhm },
    });
  }
  return findings;
}

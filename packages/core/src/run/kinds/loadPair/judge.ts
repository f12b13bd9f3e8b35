import type { Action, Finding } from '../../../findings.ts';
import { compareFigures } from '../../../gain/meter.ts';
import { sag, type Sag } from '../../../gain/sag.ts';
import type { LoadConditions } from '../../../job/conditions.ts';
import { connectedLoadOhm } from '../../../job/chain.ts';
import { voltageFactor, voltageRatioDb } from '../../../levels/decibels.ts';
import type { LoadReading } from '../../../job/records.ts';
import { hookupOf } from '../../../loads/planLoads.ts';
import type { ChannelNow } from '../../frame/channels.ts';
import { loadConditions } from '../../frame/conditions.ts';
import { staleFinding, type Judgement } from '../../frame/judgement.ts';
import { readingsAt, type Situation } from '../../frame/situation.ts';
import { staleReasons } from '../../frame/staleness.ts';
import type { Step } from '../../frame/stepKind.ts';
import { gainReadings } from '../../frame/gainReadings.ts';
import { PROOF_STANDS_ON, sameLevelFinding } from '../proof/judge.ts';
import { captureFindings, pairCaptures, type PairCaptures } from './captures.ts';

type PairStep = Step<'load-pair', ChannelNow>;

export interface LoadPairFigures {
  unloaded?: LoadReading;
  loaded?: LoadReading;
  /** captures at the same knob, where there are any */
  captures?: PairCaptures;
  /** output resistance, drop, and the voltage and power that other loads would get */
  sag?: Sag;
  /** what hung on the terminals, in ohm: the drivers, or a dummy load */
  connectedLoadOhm: number;
}

/** Loads that one asks after. */
const USUAL_LOADS_OHM = [8, 4, 2, 1];

/** A drop beyond this is told; beyond the other it is half the power gone, and no longer a supply that gives (common practice, no source). */
const NOTABLE_DROP_DB = 0.5;
const CREDIBLE_DROP_DB = 3;

const newestOf = (step: PairStep, now: Situation, kind: 'pair-unloaded' | 'pair-loaded'): LoadReading | undefined =>
  readingsAt(now, step.id, kind, 'load').at(-1);

/** The voltage with load of the newest pair: one read before the voltage without it belongs to another knob, maybe. */
function pairedLoad(step: PairStep, now: Situation): LoadReading | undefined {
  const [unloaded, loaded] = [newestOf(step, now, 'pair-unloaded'), newestOf(step, now, 'pair-loaded')];
  return unloaded !== undefined && loaded !== undefined && loaded.takenAt < unloaded.takenAt ? undefined : loaded;
}

/** The reading that comes next: without load first, where nothing is hot yet. */
const nextReading = (step: PairStep, now: Situation): 'pair-unloaded' | 'pair-loaded' =>
  newestOf(step, now, 'pair-unloaded') === undefined ? 'pair-unloaded' : 'pair-loaded';

/** @param reading - which of the two is to be taken; the next one where nothing is said */
export const pairConditions = (step: PairStep, now: Situation, reading = nextReading(step, now)): LoadConditions =>
  loadConditions(step, now, reading === 'pair-loaded' ? 'on' : 'off');

/** Two voltages at one knob: what the load takes off, and what other loads would get. */
export function judgeLoadPair(step: PairStep, now: Situation): Judgement<LoadPairFigures> {
  const [unloaded, loaded] = [newestOf(step, now, 'pair-unloaded'), pairedLoad(step, now)];
  const readings = [unloaded, loaded].filter((reading) => reading !== undefined);
  const captures = pairCaptures(step, now);
  const loadOhm = connectedLoadOhm(step.channel);
  const figures: LoadPairFigures = {
    connectedLoadOhm: loadOhm,
    ...(unloaded === undefined ? {} : { unloaded }),
    ...(loaded === undefined ? {} : { loaded }),
    ...(Object.keys(captures).length === 0 ? {} : { captures }),
  };
  const read = (reading: 'pair-unloaded' | 'pair-loaded'): Action => ({ kind: 'read', reading, unit: 'V' });
  const gainReading = gainReadings(now, step.channel.id).at(-1);
  const reasons = [
    ...new Set(readings.flatMap(({ conditions }) => staleReasons(PROOF_STANDS_ON, conditions, loadConditions(step, now, conditions.load)))),
    ...(readings.some(({ takenAt }) => gainReading !== undefined && gainReading.takenAt > takenAt)
      ? ['the gain was read again after it']
      : []),
  ];
  if (reasons.length > 0) {
    const next = 'Read both voltages again, the knob untouched between them.';
    return { status: 'stale', figures, action: read('pair-unloaded'), findings: [staleFinding('The pair', reasons, next)] };
  }
  const seen = captureFindings(captures);
  if (unloaded === undefined || loaded === undefined) {
    return { status: 'open', figures, findings: seen, action: read(nextReading(step, now)) };
  }
  const silent = readings.find(({ value }) => value <= 0);
  if (silent !== undefined) {
    const action = read(silent === unloaded ? 'pair-unloaded' : 'pair-loaded');
    const nothing: Finding = { code: 'reads-nothing', grade: 'attention', figures: { at: 'load-pair' }, action };
    return { status: 'out-of-tolerance', figures, findings: [nothing], action };
  }
  if (loaded.value > unloaded.value) return judgeRise(step, now, unloaded, loaded, figures);
  // A capture of another level is clean or flat for reasons of its own.
  const apart = [
    ...(captures.off === undefined ? [] : sameLevelFinding(unloaded, captures.off)),
    ...(captures.on === undefined ? [] : sameLevelFinding(loaded, captures.on)),
  ].find(({ grade }) => grade === 'attention');
  if (apart !== undefined) return { status: 'out-of-tolerance', figures, findings: [apart], action: { kind: 'capture', judged: 'tone' } };
  const flat = seen.find(({ grade }) => grade === 'attention');
  if (flat !== undefined) return { status: 'out-of-tolerance', figures, findings: seen, action: flat.action ?? read('pair-unloaded') };
  // What the amplifier must not be given is not promised either.
  const isAllowed = (ohm: number): boolean => hookupOf({ ...step.amplifier, mode: step.channel.mode }, ohm).verdict !== 'below-minimum';
  const untold = untoldDrop(step, now, unloaded, loaded);
  if (untold !== undefined) return { status: 'done', figures, findings: [untold, ...seen] };
  const pair = sag({
    unloadedVoltage: unloaded.value,
    loadedVoltage: loaded.value,
    loadOhm,
    predictLoadsOhm: [...new Set([...USUAL_LOADS_OHM, step.channel.loadOhm])].filter((ohm) => ohm !== loadOhm && isAllowed(ohm)),
  });
  if (pair.dropDb > CREDIBLE_DROP_DB) return judgeFall(pair, figures);
  return { status: 'done', figures: { ...figures, sag: pair }, findings: [pairFinding(pair), ...seen] };
}

/** A drop below what the meter can tell is none that a load could be predicted from; it is also what a load that hangs nowhere shows. */
function untoldDrop(
  { channel }: PairStep,
  { settings: { meter } }: Situation,
  unloaded: LoadReading,
  loaded: LoadReading,
): Finding | undefined {
  const shown = ({ value, resolution }: LoadReading) => ({ value, resolution, meter });
  const { same } = compareFigures(shown(unloaded), shown(loaded), true);
  const apartDb = voltageRatioDb(unloaded.value, loaded.value);
  if (!same || apartDb > UNTOLD_DB) return undefined;
  const mostOhm = connectedLoadOhm(channel) * (voltageFactor(UNTOLD_DB) - 1);
  return { code: 'no-drop', grade: 'note', figures: { unloadedVolt: unloaded.value, loadedVolt: loaded.value, mostOhm } };
}
/** Two readings of one meter on one range, digits and all. */
const UNTOLD_DB = 0.05;

/** Half the power gone is more than a supply gives: something was turned, or something is wrong. */
function judgeFall({ dropDb, sourceOhm }: Sag, figures: LoadPairFigures): Judgement<LoadPairFigures> {
  const action: Action = { kind: 'read', reading: 'pair-unloaded', unit: 'V' };
  const finding: Finding = {
    code: 'drops-too-far',
    grade: 'attention',
    figures: { dropDb, sourceOhm },
    action,
  };
  return { status: 'out-of-tolerance', figures, findings: [finding], action };
}

function pairFinding({ dropDb, sourceOhm }: Sag): Finding {
  return {
    code: 'pair-read',
    grade: dropDb > NOTABLE_DROP_DB ? 'note' : 'good',
    figures: { dropDb, sourceOhm },
  };
}

/** A load never lifts the voltage. Within what the meter can tell it is no drop at all; beyond, the knob was turned in between. */
function judgeRise(
  { channel }: PairStep,
  { settings: { meter } }: Situation,
  unloaded: LoadReading,
  loaded: LoadReading,
  known: LoadPairFigures,
): Judgement<LoadPairFigures> {
  const shown = ({ value, resolution }: LoadReading) => ({ value, resolution, meter });
  const { same, differenceDb } = compareFigures(shown(unloaded), shown(loaded), true);
  const figures = { unloadedVolt: unloaded.value, loadedVolt: loaded.value };
  if (same) {
    const mostOhm = connectedLoadOhm(channel) * (voltageFactor(UNTOLD_DB) - 1);
    return { status: 'done', figures: known, findings: [{ code: 'no-drop', grade: 'note', figures: { ...figures, mostOhm } }] };
  }
  const action: Action = { kind: 'read', reading: 'pair-unloaded', unit: 'V' };
  const finding: Finding = {
    code: 'loaded-above-unloaded',
    grade: 'attention',
    figures: { at: 'load-pair', ...figures, differenceDb, loadOhm: connectedLoadOhm(channel) },
    action,
  };
  return { status: 'out-of-tolerance', figures: known, findings: [finding], action };
}

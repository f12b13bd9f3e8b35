import { deliveredPower } from '../gain/deliveredPower.ts';
import { judgeGain, knobTurns, turnsInWords, type GainAdvice } from '../gain/meter.ts';
import { sag, type Sag } from '../gain/sag.ts';
import { voltageFactor, voltageRatioDb } from '../levels/decibels.ts';
import { formatQuantity, signedDb } from '../units/formatQuantity.ts';
import type { Chain } from './chain.ts';
import type { Reading, StepMark, TraceRecord, TuneSettings } from './records.ts';
import { staleReasons } from './staleness.ts';
import { conditionsNow, stepId, type Step } from './steps.ts';

export type StepStatus = 'open' | 'done' | 'stale' | 'out-of-tolerance' | 'stop' | 'skipped';

/** A judgement computed from readings: how grave, in one sentence, and what to do next. */
export interface Finding {
  grade: 'good' | 'attention' | 'stop' | 'stale' | 'note';
  text: string;
  next?: string;
}

export interface StepState {
  status: StepStatus;
  findings: Finding[];
  /** the newest valid reading of each kind */
  gain?: { reading: Reading; advice?: GainAdvice };
  proof?: ProofFigures;
}

export interface ProofFigures {
  loadedVolt?: number;
  /** at the load, with the tone as played */
  powerWatt?: number;
  /** with a full-scale tone at this gain */
  fullScaleWatt?: number;
  impedanceOhm?: number;
  impedanceRiseRatio?: number;
  sag?: Sag;
  trace?: TraceRecord;
}

export interface RunRecords {
  readings: readonly Reading[];
  traces: readonly TraceRecord[];
  marks: readonly StepMark[];
}

/** A loaded voltage that misses the unloaded one by more than this is worth a word: a tenth of the power. Common practice, no source. */
const NOTABLE_SAG_DB = 0.5;

/** Where a step stands, from the chain as it is now and everything that was read. */
export function stepState(step: Step, chain: Chain, settings: TuneSettings, records: RunRecords): StepState {
  const mark = records.marks.find((m) => m.stepId === step.id);
  const state = step.kind === 'gain' ? gainState(step, chain, settings, records) : proofState(step, chain, settings, records);
  if (step.hookup.verdict === 'below-minimum') {
    return {
      ...state,
      status: 'stop',
      findings: [{ grade: 'stop', text: step.hookup.note, next: 'Choose another wiring in the chain first.' }, ...state.findings],
    };
  }
  if (mark?.skippedReason !== undefined && (state.status === 'open' || state.status === 'stale')) {
    return { ...state, status: 'skipped', findings: [{ grade: 'note', text: `Skipped: ${mark.skippedReason}` }, ...state.findings] };
  }
  return state;
}

function newest<T extends { takenAt: string; voidedReason?: string }>(items: readonly T[], keep: (item: T) => boolean): T | undefined {
  return items
    .filter((item) => item.voidedReason === undefined && keep(item))
    .reduce<T | undefined>((best, item) => (best === undefined || item.takenAt >= best.takenAt ? item : best), undefined);
}

function gainState(step: Step, chain: Chain, settings: TuneSettings, { readings }: RunRecords): StepState {
  if (step.power.kind === 'unknown') return { status: 'open', findings: [{ grade: 'attention', text: step.power.reason }] };
  const own = readings.filter((r) => r.stepId === step.id && r.kind === 'gain-voltage' && r.voidedReason === undefined);
  const reading = newest(own, () => true);
  const target = step.target?.settingVoltage;
  if (reading === undefined || target === undefined) return { status: 'open', findings: meterFindings(step, settings) };

  const reasons = staleReasons(reading.conditions, conditionsNow(step, chain, settings.rules));
  if (reasons.length > 0) {
    return {
      status: 'stale',
      gain: { reading },
      findings: [{ grade: 'stale', text: `The last reading no longer counts: ${reasons.join('; ')}.`, next: 'Read the voltage again.' }],
    };
  }
  if (reading.value <= 0) {
    return {
      status: 'out-of-tolerance',
      gain: { reading },
      findings: [
        {
          grade: 'attention',
          text: 'The meter reads nothing.',
          next: 'Check that the tone plays, the meter is on AC volts, and the probes sit on this channel’s terminals.',
        },
      ],
    };
  }
  const advice = judgeGain(reading.value, reading.resolution, target, settings.rules.toleranceDb, settings.meter);
  const findings = [gainFinding(step, advice), ...stuckFinding(own, advice), ...meterFindings(step, settings)];
  return { status: advice.verdict === 'on-target' ? 'done' : 'out-of-tolerance', gain: { reading, advice }, findings };
}

function gainFinding(step: Step, advice: GainAdvice): Finding {
  const { verdict, differenceDb, withinMeterOnly } = advice;
  if (verdict === 'on-target') {
    return {
      grade: 'good',
      text: withinMeterOnly
        ? `On target: ${signedDb(differenceDb)} is less than this meter can tell apart.`
        : `On target: ${signedDb(differenceDb)} from the figure.`,
    };
  }
  const { inputMinVolt, inputMaxVolt } = step.amplifier;
  const turn =
    inputMinVolt !== undefined && inputMaxVolt !== undefined && inputMaxVolt > inputMinVolt
      ? `, ${turnsInWords(knobTurns(Math.abs(differenceDb), inputMinVolt, inputMaxVolt))}`
      : '';
  const size = signedDb(Math.abs(differenceDb)).replace('+', '');
  return verdict === 'up'
    ? { grade: 'attention', text: `${size} too low.`, next: `Turn the gain up ${size}${turn}, then read again.` }
    : { grade: 'attention', text: `${size} too high.`, next: `Turn the gain down ${size}${turn}, then read again.` };
}

/** Three readings below the target that no longer rise: the amplifier has run out of voltage before the target. */
function stuckFinding(own: readonly Reading[], advice: GainAdvice): Finding[] {
  if (advice.verdict !== 'up') return [];
  const lastThree = [...own].sort((a, b) => a.takenAt.localeCompare(b.takenAt)).slice(-3);
  const volts = lastThree.map(({ value }) => value);
  const last = volts.at(-1);
  if (last === undefined || volts.length < 3 || Math.max(...volts) > Math.min(...volts) * voltageFactor(0.15)) return [];
  return [
    {
      grade: 'attention',
      text: `Three readings stand still at ${formatQuantity(last, 'V')}: if the gain went up in between, the amplifier is clipping or limiting before the target.`,
      next: 'Stop turning. Look at the output with the scope, and check the supply voltage and the source.',
    },
  ];
}

function meterFindings(step: Step, { meter }: TuneSettings): Finding[] {
  if (step.toneHz <= meter.highestHz) return [];
  return [
    {
      grade: 'attention',
      text: `The meter is good to ${formatQuantity(meter.highestHz, 'Hz')} and the tone is ${formatQuantity(step.toneHz, 'Hz')}: it may read low.`,
      next: 'Take a lower tone in the house rules, or use the scope.',
    },
  ];
}

function proofState(step: Step, chain: Chain, settings: TuneSettings, records: RunRecords): StepState {
  const now = conditionsNow(step, chain, settings.rules);
  const { readings, traces } = records;
  const loaded = newest(readings, (r) => r.stepId === step.id && r.kind === 'loaded-voltage');
  const clamp = newest(readings, (r) => r.stepId === step.id && r.kind === 'clamp-current');
  const trace = newest(traces, (t) => t.stepId === step.id);
  const gainReading = newest(readings, (r) => r.stepId === stepId('gain', step.channel.id) && r.kind === 'gain-voltage');
  if (loaded === undefined && trace === undefined && clamp === undefined) return { status: 'open', findings: [] };

  const reasons = [
    ...new Set([loaded, trace].flatMap((item) => (item === undefined ? [] : staleReasons(item.conditions, now)))),
    ...(gainReading !== undefined && [loaded, trace].some((item) => item !== undefined && gainReading.takenAt > item.takenAt)
      ? ['the gain was read again after this proof']
      : []),
  ];
  const figures: ProofFigures = { ...powerFigures(step, settings, loaded, clamp, gainReading), ...(trace === undefined ? {} : { trace }) };
  if (reasons.length > 0) {
    return {
      status: 'stale',
      proof: figures,
      findings: [
        {
          grade: 'stale',
          text: `The proof no longer counts: ${reasons.join('; ')}.`,
          next: 'Read the voltage under load and capture the trace again.',
        },
      ],
    };
  }
  const findings = [
    ...(trace === undefined
      ? [
          {
            grade: 'note',
            text: 'No capture yet: a voltage alone does not show clipping.',
            next: 'Drop a capture of the output under load.',
          } as const,
        ]
      : [traceFinding(trace)]),
    ...(loaded === undefined
      ? [{ grade: 'note', text: 'No voltage under load yet.', next: 'Read the meter with the load on.' } as const]
      : []),
    ...(loaded === undefined || gainReading === undefined ? [] : raisedFinding(loaded, gainReading)),
    ...powerFindings(step, figures),
  ];
  const worst = findings.some((f) => f.grade === 'stop')
    ? 'stop'
    : findings.some((f) => f.grade === 'attention')
      ? 'out-of-tolerance'
      : 'done';
  const complete = trace !== undefined && loaded !== undefined;
  return { status: worst === 'done' && !complete ? 'open' : worst, proof: figures, findings };
}

function powerFigures(
  step: Step,
  settings: TuneSettings,
  loaded: Reading | undefined,
  clamp: Reading | undefined,
  gainReading: Reading | undefined,
): ProofFigures {
  if (loaded === undefined || loaded.value <= 0) return {};
  const { loadOhm } = step.channel;
  const delivered =
    clamp === undefined || clamp.value <= 0
      ? deliveredPower({ voltageRms: loaded.value, loadOhm, nominalOhm: loadOhm })
      : deliveredPower({ voltageRms: loaded.value, currentRms: clamp.value, nominalOhm: loadOhm });
  const comparable = gainReading !== undefined && gainReading.conditions.load === 'off' && gainReading.value >= loaded.value;
  return {
    loadedVolt: loaded.value,
    powerWatt: delivered.powerWatt,
    fullScaleWatt: delivered.powerWatt * voltageFactor(-settings.rules.toneLevelDbfs) ** 2,
    impedanceOhm: delivered.impedanceOhm,
    ...(clamp === undefined || delivered.impedanceRiseRatio === undefined ? {} : { impedanceRiseRatio: delivered.impedanceRiseRatio }),
    ...(comparable
      ? {
          sag: sag({
            unloadedVoltage: gainReading.value,
            loadedVoltage: loaded.value,
            loadOhm,
            predictLoadsOhm: [4, 2, 1].filter((ohm) => ohm !== loadOhm),
          }),
        }
      : {}),
  };
}

/** A load never lifts the voltage: more of it under load means that the knob was turned in between. */
function raisedFinding(loaded: Reading, gainReading: Reading): Finding[] {
  if (gainReading.conditions.load === 'on' || loaded.value <= gainReading.value * voltageFactor(0.1)) return [];
  const rise = formatQuantity(voltageRatioDb(loaded.value, gainReading.value), 'dB');
  return [
    {
      grade: 'attention',
      text: `The voltage under load is ${rise} above the ${formatQuantity(gainReading.value, 'V')} that was set without it: the gain or the volume was turned up in between.`,
      next: 'Set the gain again, then repeat the proof.',
    },
  ];
}

function traceFinding(trace: TraceRecord): Finding {
  const channel = trace.analysis.channels[trace.channelIndex];
  if (channel === undefined) return { grade: 'attention', text: 'The capture holds no such channel.' };
  const { verdict, estimatedOverdriveDb } = channel.clipping;
  const thd = channel.thdPercent === undefined ? '' : ` (distortion ${formatQuantity(channel.thdPercent, '%')})`;
  const overdrive = estimatedOverdriveDb === undefined ? 1 : Math.max(0.5, estimatedOverdriveDb);
  switch (verdict) {
    case 'clean':
      return { grade: 'good', text: `The output is clean under load${thd}.` };
    case 'onset':
      return {
        grade: 'attention',
        text: `The tops just begin to flatten${thd}.`,
        next: 'Turn the gain down half a decibel and capture again.',
      };
    case 'clipped':
      return {
        grade: 'attention',
        text: `The output is clipped under load${thd}, driven about ${formatQuantity(overdrive, 'dB')} too far.`,
        next: `Turn the gain down ${formatQuantity(overdrive, 'dB')} or more, read the voltage again, then capture again.`,
      };
    case 'distorted':
      return {
        grade: 'attention',
        text: `The output is distorted without flat tops${thd}.`,
        next: 'Look upstream: the source’s own ceiling, its tone controls, a faulty output stage.',
      };
    case 'over-range':
      return {
        grade: 'attention',
        text: 'The capture hit its own rails: it says nothing of the amplifier.',
        next: 'Choose a larger range or a ten-to-one probe and capture again.',
      };
    case 'unusable':
      return {
        grade: 'attention',
        text: 'The capture cannot be judged: it is too short, too coarse or holds no tone.',
        next: 'Capture five cycles or more while the tone plays.',
      };
  }
}

function powerFindings(step: Step, figures: ProofFigures): Finding[] {
  const { powerWatt, fullScaleWatt, sag: drop } = figures;
  if (powerWatt === undefined || fullScaleWatt === undefined || step.power.kind === 'unknown') return [];
  const { driversWatt, amplifierWatt } = step.power;
  const findings: Finding[] = [];
  // Ratings are rounded figures: 5 % over is no news.
  if (fullScaleWatt > 1.05 * driversWatt) {
    findings.push({
      grade: 'attention',
      text: `A full-scale tone puts ${formatQuantity(fullScaleWatt, 'W')} into drivers rated ${formatQuantity(driversWatt, 'W')}.`,
      next: 'Turn the gain down, or add headroom in the house rules.',
    });
  } else {
    findings.push({
      grade: 'good',
      text: `${formatQuantity(fullScaleWatt, 'W')} at full scale, within the drivers’ ${formatQuantity(driversWatt, 'W')}.`,
    });
  }
  if (fullScaleWatt < 0.7 * Math.min(amplifierWatt, driversWatt)) {
    findings.push({
      grade: 'note',
      text: `That is ${formatQuantity((100 * fullScaleWatt) / Math.min(amplifierWatt, driversWatt), '%')} of what this channel was set for.`,
      next: 'Check supply voltage and wiring under load, or accept it: 1.5 dB is hardly heard.',
    });
  }
  if (drop !== undefined && drop.dropDb > NOTABLE_SAG_DB) {
    findings.push({
      grade: 'note',
      text: `The load pulls the output down ${formatQuantity(drop.dropDb, 'dB')}, as ${formatQuantity(drop.sourceOhm, 'ohm')} in the amplifier and its supply would.`,
    });
  }
  return findings;
}

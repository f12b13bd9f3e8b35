import type { Finding } from '../findings.ts';
import { deliveredPower } from '../gain/deliveredPower.ts';
import { sag } from '../gain/sag.ts';
import { voltageFactor, voltageRatioDb } from '../levels/decibels.ts';
import { formatQuantity } from '../units/formatQuantity.ts';
import type { Chain } from './chain.ts';
import { isLoadTrace, isToneReading, type ToneReading, type TraceRecord, type TuneSettings } from './records.ts';
import { staleReasons } from './staleness.ts';
import { newest, type ProofFigures, type RunRecords, type StepState } from './state.ts';
import { conditionsNow, stepId, type ChannelStep } from './steps.ts';

/** A loaded voltage that misses the unloaded one by more than this is worth a word: a tenth of the power. Common practice, no source. */
const NOTABLE_SAG_DB = 0.5;

/** Where a proof stands: voltage and capture under load, against the ratings. */
export function proofState(step: ChannelStep, chain: Chain, settings: TuneSettings, records: RunRecords): StepState {
  const now = conditionsNow(step, chain, settings.rules, records.marks);
  const readings = records.readings.filter(isToneReading);
  const traces = records.traces.filter(isLoadTrace);
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
  step: ChannelStep,
  settings: TuneSettings,
  loaded: ToneReading | undefined,
  clamp: ToneReading | undefined,
  gainReading: ToneReading | undefined,
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
    fullScaleWatt: delivered.powerWatt * voltageFactor(-settings.rules.toneLevelDbfs - step.loss.db) ** 2,
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
function raisedFinding(loaded: ToneReading, gainReading: ToneReading): Finding[] {
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

function powerFindings(step: ChannelStep, figures: ProofFigures): Finding[] {
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

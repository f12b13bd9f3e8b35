import type { FindingCode } from '../../../findings/codes.ts';
import type { QuantityKind } from '../../../job/quantityKind.ts';
import type { Finding, Grade } from '../../../findings.ts';
import type { Channel } from '../../../job/chain.ts';
import { channelCoils, channelDrivers, channelNetwork } from '../../../job/channelWiring.ts';
import type { OhmConditions } from '../../../job/conditions.ts';
import type { OhmReading } from '../../../job/records.ts';
import { sensibleWiring } from '../../../job/sensibleWiring.ts';
import type { LoadCoil } from '../../../loads/drivers.ts';
import { TYPICAL_DC_RATIO } from '../../../loads/coilResistance.ts';
import { USUAL_OHM } from '../../../loads/judgeCoil.ts';
import { MAX_DRIVERS } from '../../../loads/loadOptions.ts';
import { diagnoseReading, otherWirings, type Cause, type ReadingDiagnosis } from '../../../loads/meterDiagnosis.ts';
import { networkText, type Network } from '../../../loads/network.ts';
import { lastResult } from '../../../numerics/lastResult.ts';
import type { ChannelNow } from '../../frame/channels.ts';
import { wiringConditions } from '../../frame/conditions.ts';
import { staleFinding, type Judgement } from '../../frame/judgement.ts';
import { readingsAt, type Situation } from '../../frame/situation.ts';
import { staleReasons } from '../../frame/staleness.ts';
import type { Step } from '../../frame/stepKind.ts';
import { meteredCoils } from '../coils/judge.ts';

export interface WholeFigures {
  reading?: OhmReading;
  diagnosis?: ReadingDiagnosis;
}

/** What the meter sees across a channel's wiring: its coils with their own figures, a series resistor counted in. */
function meteredCircuit(
  channel: Channel,
  network: Network,
  now: Situation,
): { coils: LoadCoil[]; network: Network; others: () => Network[] } {
  const measured = new Map(meteredCoils(now, channel).map((coil) => [coil.name, coil]));
  const coils = channelCoils(channel).map((coil): LoadCoil => {
    const judgement = measured.get(coil.name)?.judgement;
    return judgement?.verdict === 'sound' ? { ...coil, dcOhm: judgement.coilOhm } : coil;
  });
  const others = (): Network[] => (channel.drivers.length > MAX_DRIVERS ? [] : otherWirings(channelDrivers(channel)));
  const resistorOhm = channel.wiring?.seriesResistorOhm;
  if (resistorOhm === undefined) return { coils, network, others };
  const resistor: LoadCoil = { name: 'resistor', driver: 'the series resistor', nominalOhm: resistorOhm, dcOhm: resistorOhm };
  const inRow = (inner: Network): Network => ({ kind: 'series', parts: [{ kind: 'coil', coil: resistor.name, reversed: false }, inner] });
  return { coils: [...coils, resistor], network: inRow(network), others: () => others().map(inRow) };
}

/**
 * What an ohmmeter is to read across a channel's whole wiring, and what a figure means; undefined where the wiring is not known.
 *
 * @param meterOhm - as read, leads and all
 */
export function wholeDiagnosis(
  channel: Channel,
  now: Situation,
  meterOhm: number,
  { leadOhm, meterPercent, meterDigitsOhm }: Pick<OhmConditions, 'leadOhm' | 'meterPercent' | 'meterDigitsOhm'>,
): ReadingDiagnosis | undefined {
  const network = channelNetwork(channel);
  if (network === undefined) return undefined;
  const circuit = meteredCircuit(channel, network, now);
  return diagnoseReading({
    coils: circuit.coils,
    intendedNetwork: networkText(circuit.network),
    meterOhm,
    leadOhm,
    meterPercent,
    meterDigitsOhm,
    otherWirings: circuit.others,
  });
}

const keptDiagnosis = lastResult<ReadingDiagnosis | undefined>();

/** Where the metering of a channel's whole wiring stands. */
export function judgeWhole(step: Step<'whole', ChannelNow>, now: Situation): Judgement<WholeFigures> {
  const { channel, amplifier } = step;
  if (channelNetwork(channel) === undefined) {
    const wiring = sensibleWiring(channel, amplifier);
    const action = { kind: 'rewire', channelId: channel.id, ...(wiring === undefined ? {} : { channel: wiring }) } as const;
    return {
      status: 'open',
      figures: {},
      action,
      findings: [
        {
          code: 'wiring-unknown',
          grade: 'attention',
          figures: { channelId: channel.id, channelName: channel.name },
          action,
        },
      ],
    };
  }
  const action = { kind: 'read', reading: 'whole-resistance', unit: 'ohm' } as const;
  const readings = readingsAt(now, step.id, 'whole-resistance', 'ohm');
  const reading = readings.at(-1);
  if (reading === undefined) return { status: 'open', figures: {}, findings: [], action };
  const reasons = staleReasons(['wiring'], reading.conditions, wiringConditions(step, now));
  if (reasons.length > 0) {
    return {
      status: 'stale',
      figures: { reading },
      action,
      findings: [staleFinding('The last reading', reasons, 'Meter the wiring again.')],
    };
  }
  const measured = meteredCoils(now, channel).map((coil) => coil.reading);
  const diagnosis = keptDiagnosis(channel, '', [reading, ...measured], () =>
    wholeDiagnosis(channel, now, reading.value, reading.conditions),
  );
  if (diagnosis === undefined) return { status: 'open', figures: {}, findings: [], action };
  const figures = { reading, diagnosis };
  if (diagnosis.verdict === 'matches') {
    return {
      status: 'done',
      figures,
      findings: [
        {
          code: 'whole-as-intended',
          grade: 'good',
          figures: {
            meterOhm: reading.value,
            ...(diagnosis.causes[0]?.note === undefined ? {} : { note: diagnosis.causes[0].note }),
            ...(diagnosis.notes[0] === undefined ? {} : { leadNote: diagnosis.notes[0] }),
          },
        },
      ],
    };
  }
  const unexplained = diagnosis.isUnexplained === true ? unexplainedFinding(channel, now, readings, diagnosis) : undefined;
  if (unexplained !== undefined)
    return {
      status: 'out-of-tolerance',
      figures,
      action: unexplained.action ?? action,
      findings: [unexplained, ...diagnosis.causes.slice(0, 3).map((cause) => wholeCause(cause, 'note')), ...leadFinding(now)],
    };
  const isShort = diagnosis.verdict === 'short';
  return {
    status: isShort ? 'stop' : 'out-of-tolerance',
    figures,
    action,
    findings: [
      ...diagnosis.causes.slice(0, 4).map((cause, i) => wholeCause(cause, i > 0 ? 'note' : isShort ? 'stop' : 'attention')),
      ...leadFinding(now),
    ],
  };
}

/**
 * No one mistake explains the figure. A single coil of another nominal impedance than was entered would: read twice alike, it is offered as
 * measured; once, it may be a bad contact.
 */
function unexplainedFinding(channel: Channel, now: Situation, readings: readonly OhmReading[], diagnosis: ReadingDiagnosis): Finding {
  const { low, high } = diagnosis.expectedOhm;
  const figures = { coilsOhm: diagnosis.coilsOhm, low, high };
  const [reading, before] = [readings.at(-1)!, readings.at(-2)];
  const other = otherNominal(channel, now, reading);
  if (other === undefined) return { code: 'whole-unexplained', grade: 'attention', figures };
  const isAlike = before !== undefined && Math.abs(before.value / reading.value - 1) <= READ_ALIKE;
  return {
    code: 'whole-other-nominal',
    grade: 'attention',
    figures: { ...figures, nominalOhm: channel.drivers[0]!.coilOhm, likelyOhm: other.drivers[0]!.coilOhm, isReadTwice: isAlike },
    action: isAlike
      ? { kind: 'take-winding', channelId: channel.id, channel: other }
      : { kind: 'read', reading: 'whole-resistance', unit: 'ohm' },
  };
}

/** Two readings of one coil lie this near each other, a bad contact's do not. Common practice, no source. */
const READ_ALIKE = 0.05;

/** Driver and load of a channel of one coil, of the usual nominal impedance that the figure fits best; undefined where none does. */
function otherNominal(
  channel: Channel,
  now: Situation,
  { value, conditions }: OhmReading,
): Pick<Channel, 'drivers' | 'loadOhm'> | undefined {
  const [driver, ...others] = channel.drivers;
  // Of several coils, jumpers and joins would read so as well.
  if (driver === undefined || others.length > 0 || driver.coils > 1) return undefined;
  const { coilDcOhm: _winding, ...rest } = driver;
  const resistorOhm = channel.wiring?.seriesResistorOhm ?? 0;
  const ratioOf = (ohm: number): number => Math.abs(Math.log(value / (TYPICAL_DC_RATIO * ohm + resistorOhm)));
  return USUAL_OHM.filter((ohm) => ohm !== driver.coilOhm)
    .map((coilOhm) => ({ drivers: [{ ...rest, coilOhm }], loadOhm: coilOhm + resistorOhm }))
    .filter((other) => wholeDiagnosis({ ...channel, ...other }, now, value, conditions)?.verdict === 'matches')
    .sort((a, b) => ratioOf(a.drivers[0]!.coilOhm) - ratioOf(b.drivers[0]!.coilOhm))[0];
}

/** A cause as a finding; the first one carries the grade. */
export const wholeCause = ({ kind, expectedOhm, note }: Cause, grade: Grade): Finding => ({
  code: `whole-${kind}`,
  grade,
  figures: { expectedOhm, note },
});

/** What is missing where the leads were never metered. */
export function leadFinding({ settings: { meter } }: Situation): Finding[] {
  return meter.leadOhm === undefined
    ? [
        {
          code: 'leads-unknown',
          grade: 'note',
          figures: {},
        },
      ]
    : [];
}

/** What a reading across a wiring denies, whatever its cause. */
export const WIRING_DENIED = {
  'whole-open': 'load',
  'whole-short': 'load',
  'whole-other-wiring': 'load',
  'whole-one-coil-only': 'load',
  'whole-driver-missing': 'load',
  'whole-coil-open': 'load',
  'whole-leads-not-subtracted': 'load',
  'whole-unexplained': 'load',
  'whole-other-nominal': 'load',
} as const satisfies Partial<Record<FindingCode, QuantityKind>>;

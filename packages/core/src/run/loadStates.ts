import type { Finding } from '../findings.ts';
import { coilWords, driverLetter, type LoadCoil } from '../loads/drivers.ts';
import { judgeCoil } from '../loads/judgeCoil.ts';
import { MOST_DRIVERS } from '../loads/loadOptions.ts';
import { diagnoseReading, otherWirings, type Cause, type MeterDiagnosis } from '../loads/meterDiagnosis.ts';
import { canonicalText, networkText, parseNetwork, type Network } from '../loads/network.ts';
import { formatQuantity, plainFigure } from '../units/formatQuantity.ts';
import type { Channel } from './chain.ts';
import { channelCoils, channelDrivers, channelNetwork } from './channelWiring.ts';
import { isOhmReading, ohmAccuracy, type OhmConditions, type OhmReading, type TuneSettings } from './records.ts';
import { newest, type MeteredCoil, type RunRecords, type StepState } from './state.ts';
import { stepId, type ChannelStep } from './steps.ts';

/** Two coils of one driver are wound alike: further apart than this, one of them is damaged or joined to something. Common practice, no source. */
const MOST_COIL_DIFFERENCE = 0.1;

/** Every coil of a channel with its newest reading that still counts: same driver, same nominal impedance. */
export function meteredCoils(channel: Channel, { readings }: Pick<RunRecords, 'readings'>): MeteredCoil[] {
  const own = readings.filter(isOhmReading).filter((r) => r.kind === 'coil-resistance' && r.stepId === stepId('coils', channel.id));
  const coils = channelCoils(channel);
  return channel.drivers.flatMap((driver, d) => {
    const letterCoils = coils.filter((coil) => coil.driver === driverLetter(d));
    return letterCoils.map((coil, i): MeteredCoil => {
      const reading = newest(
        own,
        ({ conditions }) => conditions.driverId === driver.id && conditions.coil === i + 1 && conditions.nominalOhm === coil.nominalOhm,
      );
      return {
        name: coil.name,
        driver: coil.driver,
        driverId: driver.id,
        driverName: driver.name,
        number: i + 1,
        nominalOhm: coil.nominalOhm,
        ...(reading === undefined ? {} : { reading, judgement: judgeReading(reading) }),
      };
    });
  });
}

const judgeReading = ({ value, conditions }: OhmReading) => judgeCoil(value, conditions.nominalOhm, conditions.leadOhm, conditions);

/** Where the metering of a channel's coils stands. */
export function coilsState(step: ChannelStep, records: RunRecords): StepState {
  const coils = meteredCoils(step.channel, records);
  const findings: Finding[] = coils.flatMap((coil) =>
    coil.judgement === undefined || coil.judgement.verdict === 'sound'
      ? []
      : [{ ...coil.judgement.finding, text: `${coilWords(coil, coils)}: ${coil.judgement.finding.text}` }],
  );
  findings.push(...unlikeCoils(step.channel, coils));
  const missing = coils.filter(({ reading }) => reading === undefined);
  if (findings.length > 0) return { status: 'out-of-tolerance', coils, findings };
  if (missing.length > 0) return { status: 'open', coils, findings: [] };
  return { status: 'done', coils, findings: [{ grade: 'good', text: 'Every coil is sound.', next: leadsWords(coils) }] };
}

function leadsWords(coils: readonly MeteredCoil[]): string {
  const leads = [...new Set(coils.map(({ reading }) => reading?.conditions.leadOhm ?? 0))];
  return leads.every((ohm) => ohm === 0)
    ? 'No lead resistance was taken off; at such low figures it counts.'
    : `Leads of ${leads.map(plainFigure).join(' and ')} Ω are taken off.`;
}

function unlikeCoils({ drivers }: Channel, coils: readonly MeteredCoil[]): Finding[] {
  return drivers.flatMap(({ id, name }) => {
    const figures = coils
      .filter(({ driverId, judgement }) => driverId === id && judgement?.verdict === 'sound')
      .map(({ judgement }) => judgement!.coilOhm);
    if (figures.length < 2 || Math.max(...figures) <= Math.min(...figures) * (1 + MOST_COIL_DIFFERENCE)) return [];
    return [
      {
        grade: 'attention' as const,
        text: `The coils of ${name} read ${figures.map((ohm) => formatQuantity(ohm, 'ohm')).join(' and ')}: too far apart for one driver.`,
        next: 'Read both again with the jumpers off; shorted turns read low.',
      },
    ];
  });
}

/** What the meter sees across a channel's wiring: its coils with their own figures, a series resistor counted in. */
function meteredCircuit(
  channel: Channel,
  network: Network,
  records: RunRecords,
): { coils: LoadCoil[]; network: Network; others: () => Network[] } {
  const measured = new Map(meteredCoils(channel, records).map((coil) => [coil.name, coil]));
  const coils = channelCoils(channel).map((coil): LoadCoil => {
    const judgement = measured.get(coil.name)?.judgement;
    return judgement?.verdict === 'sound' ? { ...coil, dcOhm: judgement.coilOhm } : coil;
  });
  const others = (): Network[] => (channel.drivers.length > MOST_DRIVERS ? [] : otherWirings(channelDrivers(channel)));
  const resistorOhm = channel.wiring?.seriesResistorOhm;
  if (resistorOhm === undefined) return { coils, network, others };
  const resistor: LoadCoil = { name: 'resistor', driver: 'the series resistor', nominalOhm: resistorOhm, dcOhm: resistorOhm };
  const inRow = (inner: Network): Network => ({ kind: 'series', parts: [{ kind: 'coil', coil: resistor.name, reversed: false }, inner] });
  return { coils: [...coils, resistor], network: inRow(network), others: () => others().map(inRow) };
}

/** What an ohmmeter is to read across a channel's whole wiring; undefined where the wiring is not known. */
export function wholeDiagnosis(
  channel: Channel,
  records: RunRecords,
  meterOhm: number,
  conditions: Pick<OhmConditions, 'leadOhm' | 'meterPercent' | 'meterDigitsOhm'>,
): MeterDiagnosis | undefined {
  const network = channelNetwork(channel);
  if (network === undefined) return undefined;
  const circuit = meteredCircuit(channel, network, records);
  return diagnoseReading({
    coils: circuit.coils,
    intendedNetwork: networkText(circuit.network),
    meterOhm,
    leadOhm: conditions.leadOhm,
    meterPercent: conditions.meterPercent,
    meterDigitsOhm: conditions.meterDigitsOhm,
    otherWirings: circuit.others,
  });
}

/** Where the metering of a channel's whole wiring stands. */
export function wholeState(step: ChannelStep, settings: TuneSettings, records: RunRecords): StepState {
  const { channel } = step;
  const now = channelNetwork(channel);
  if (now === undefined) {
    return {
      status: 'open',
      findings: [
        {
          grade: 'attention',
          text: `How the coils of ${channel.name} are wired is not known yet.`,
          next: 'Choose a wiring first; the meter figure follows from it.',
        },
      ],
    };
  }
  const reading = newest(records.readings.filter(isOhmReading), (r) => r.stepId === step.id && r.kind === 'whole-resistance');
  if (reading === undefined) return { status: 'open', findings: [] };
  const reasons = wiringChanges(reading, channel, now);
  if (reasons.length > 0) {
    return {
      status: 'stale',
      whole: { reading },
      findings: [{ grade: 'stale', text: `The last reading no longer counts: ${reasons.join('; ')}.`, next: 'Meter the wiring again.' }],
    };
  }
  const diagnosis = wholeDiagnosis(channel, records, reading.value, reading.conditions);
  if (diagnosis === undefined) return { status: 'open', findings: [] };
  const whole = { reading, diagnosis };
  if (diagnosis.verdict === 'matches') {
    const polarity = diagnosis.notes[0] ?? '';
    return { status: 'done', whole, findings: [{ grade: 'good', text: diagnosis.causes[0]?.note ?? 'As intended.', next: polarity }] };
  }
  const grade = diagnosis.verdict === 'short' ? 'stop' : 'attention';
  return {
    status: diagnosis.verdict === 'short' ? 'stop' : 'out-of-tolerance',
    whole,
    findings: [...diagnosis.causes.slice(0, 4).map((cause, i) => causeFinding(cause, i === 0 ? grade : 'note')), ...leadFinding(settings)],
  };
}

function causeFinding({ note }: Cause, grade: Finding['grade']): Finding {
  const split = note.indexOf(': ');
  return split === -1 ? { grade, text: note } : { grade, text: `${note.slice(0, split)}.`, next: sentence(note.slice(split + 2)) };
}

const sentence = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

function leadFinding({ meter }: TuneSettings): Finding[] {
  return meter.leadOhm === undefined
    ? [{ grade: 'note', text: 'No lead resistance is entered yet.', next: 'Touch the probes together and enter what the meter shows.' }]
    : [];
}

function wiringChanges({ conditions }: OhmReading, channel: Channel, now: Network): string[] {
  const then = conditions.network;
  const names = new Set(channelCoils(channel).map(({ name }) => name));
  if (then !== undefined && !sameNetwork(then, now, names)) return [`the wiring was ${then} and is now ${networkText(now)}`];
  if (conditions.nominalOhm !== channel.loadOhm) {
    return [`the load was ${formatQuantity(conditions.nominalOhm, 'ohm')} and is now ${formatQuantity(channel.loadOhm, 'ohm')}`];
  }
  return [];
}

function sameNetwork(text: string, now: Network, names: ReadonlySet<string>): boolean {
  try {
    return canonicalText(parseNetwork(text, names)) === canonicalText(now);
  } catch {
    // It names coils that are gone: surely another wiring.
    return false;
  }
}

/** What to see to before a load is connected; the ticks are for exactly this load on exactly these terminals. */
export function hookupChecks({ channel }: Pick<ChannelStep, 'channel'>): { id: string; words: string }[] {
  return [
    { id: 'power-off', words: 'amplifier switched off, no tone' },
    ...(channel.mode === 'bridged' ? [{ id: 'bridging', words: 'manual shows these two terminals for bridging' }] : []),
    { id: 'polarity', words: 'plus on plus, minus on minus' },
    { id: 'strands', words: 'no strand reaches another terminal' },
  ];
}

/** What the ticks of a hook-up stand for: another wiring of the same load has other wires to look at. */
export function hookupBasis({ channel, amplifier }: Pick<ChannelStep, 'channel' | 'amplifier'>): string {
  const wired = channel.wiring === undefined ? '' : ` (${channel.wiring.network})`;
  return `${formatQuantity(channel.loadOhm, 'ohm')}${wired} on ${amplifier.name}, ${channel.terminals}, ${channel.mode}`;
}

/** Where connecting a channel stands. */
export function hookupState(step: ChannelStep, { marks }: RunRecords): StepState {
  const mark = marks.find((m) => m.stepId === step.id);
  const ticked = new Set(mark?.checks ?? []);
  const basis = hookupBasis(step);
  const verdict: Finding = { grade: step.hookup.verdict === 'fits' ? 'good' : 'attention', text: step.hookup.note };
  if (ticked.size > 0 && mark?.basis !== undefined && mark.basis !== basis) {
    return {
      status: 'stale',
      findings: [
        { grade: 'stale', text: `This was ticked for ${mark.basis}; it is now ${basis}.`, next: 'Switch off, look again, tick again.' },
        verdict,
      ],
    };
  }
  const complete = hookupChecks(step).every(({ id }) => ticked.has(id));
  return { status: complete ? 'done' : 'open', findings: step.hookup.verdict === 'below-minimum' ? [] : [verdict] };
}

/** The conditions under which a resistance of this step is read now; for a coil, which one. */
export function ohmConditionsNow(step: ChannelStep, settings: TuneSettings, coil?: MeteredCoil): OhmConditions {
  const shared = { leadOhm: settings.meter.leadOhm ?? 0, ...ohmAccuracy(settings.meter) };
  if (coil !== undefined) return { ...shared, nominalOhm: coil.nominalOhm, driverId: coil.driverId, coil: coil.number };
  const network = channelNetwork(step.channel);
  return { ...shared, nominalOhm: step.channel.loadOhm, ...(network === undefined ? {} : { network: networkText(network) }) };
}

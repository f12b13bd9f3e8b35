import type { Finding } from '../../../findings.ts';
import { channelCoils, channelNetwork } from '../../../job/channelWiring.ts';
import type { OhmReading } from '../../../job/records.ts';
import { coilsIn, partOfDriver } from '../../../loads/networkParts.ts';
import { diagnoseReading, type MeterDiagnosis } from '../../../loads/meterDiagnosis.ts';
import { networkText, type Network } from '../../../loads/network.ts';
import type { OhmConditions } from '../../../job/conditions.ts';
import { networkLoad } from '../../../loads/branches.ts';
import { driverLetter } from '../../../loads/drivers.ts';
import { channelsNow, type ChannelNow } from '../../frame/channels.ts';
import { ohmsNow } from '../../frame/conditions.ts';
import { staleFinding, type Judgement } from '../../frame/judgement.ts';
import { once, readingsAt, type Situation } from '../../frame/situation.ts';
import { staleReasons } from '../../frame/staleness.ts';
import type { Step } from '../../frame/stepKind.ts';
import { meteredCoils } from '../coils/judge.ts';
import { leadFinding, wholeCause } from '../whole/judge.ts';

/** One driver whose coils are joined at its own terminals, so that it can be metered there before it is joined to others. */
export interface Box extends ChannelNow {
  driverId: string;
  driverName: string;
  /** how its own coils are joined */
  part: Network;
}

export interface BoxFigures {
  reading?: OhmReading;
  diagnosis?: MeterDiagnosis;
}

/** Every driver of a channel of several, where its coils hang together by themselves in the wiring. */
export const boxesNow = once((now: Situation): Box[] =>
  channelsNow(now).flatMap((at) => {
    const network = at.channel.drivers.length > 1 ? channelNetwork(at.channel) : undefined;
    if (network === undefined) return [];
    const coils = channelCoils(at.channel);
    return at.channel.drivers.flatMap((driver, i): Box[] => {
      const own = coils.filter((coil) => coil.driver === driverLetter(i)).map(({ name }) => name);
      // A driver of one coil is metered as that coil.
      const part = own.length > 1 ? partOfDriver(network, new Set(own)) : undefined;
      return part === undefined ? [] : [{ ...at, driverId: driver.id, driverName: driver.name, part }];
    });
  }),
);

/** The conditions under which a driver is metered at its own terminals now. */
export function boxConditions({ channel, part }: Box, now: Situation): OhmConditions {
  return { ...ohmsNow(now), nominalOhm: networkLoad(part, channelCoils(channel)).nominalOhm, network: networkText(part) };
}

/** What an ohmmeter is to read there, and what a figure means. @param meterOhm - as read, leads and all */
export function boxDiagnosis(
  { channel, part }: Box,
  now: Situation,
  meterOhm: number,
  { leadOhm, meterPercent, meterDigitsOhm }: Pick<OhmConditions, 'leadOhm' | 'meterPercent' | 'meterDigitsOhm'>,
): MeterDiagnosis {
  const measured = new Map(meteredCoils(now, channel).map((coil) => [coil.name, coil.judgement]));
  const own = coilsIn(part);
  const coils = channelCoils(channel)
    .filter(({ name }) => own.has(name))
    .map((coil) => {
      const judgement = measured.get(coil.name);
      return judgement?.verdict === 'sound' ? { ...coil, dcOhm: judgement.coilOhm } : coil;
    });
  return diagnoseReading({
    coils,
    intendedNetwork: networkText(part),
    meterOhm,
    leadOhm,
    meterPercent,
    meterDigitsOhm,
    otherWirings: () => otherWays(part),
  });
}

/** The other way to join the same coils, a step down: what people mix up at one enclosure. */
function otherWays(part: Network): Network[] {
  if (part.kind === 'coil') return [];
  return [{ kind: part.kind === 'series' ? 'parallel' : 'series', parts: part.parts }];
}

/** Where the metering of one driver at its own terminals stands. */
export function judgeBox(step: Step<'box', Box>, now: Situation): Judgement<BoxFigures> {
  const action = { kind: 'read', reading: 'box-resistance', unit: 'ohm' } as const;
  const reading = readingsAt(now, step.id, 'box-resistance', 'ohm').at(-1);
  if (reading === undefined) return { status: 'open', figures: {}, findings: [], action };
  const reasons = staleReasons(['wiring'], reading.conditions, boxConditions(step, now));
  if (reasons.length > 0) {
    return {
      status: 'stale',
      figures: { reading },
      action,
      findings: [staleFinding('The last reading', reasons, 'Meter it again at its own terminals.')],
    };
  }
  const diagnosis = boxDiagnosis(step, now, reading.value, reading.conditions);
  const figures = { reading, diagnosis };
  if (diagnosis.verdict === 'matches') {
    const good: Finding = {
      code: 'box-as-intended',
      grade: 'good',
      figures: { meterOhm: reading.value, driverName: step.driverName },
    };
    return { status: 'done', figures, findings: [good] };
  }
  const isShort = diagnosis.verdict === 'short';
  const findings = diagnosis.causes.slice(0, 3).map((cause, i) => wholeCause(cause, i > 0 ? 'note' : isShort ? 'stop' : 'attention'));
  return { status: isShort ? 'stop' : 'out-of-tolerance', figures, action, findings: [...findings, ...leadFinding(now)] };
}

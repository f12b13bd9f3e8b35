import type { Finding } from '../../../findings.ts';
import type { Channel } from '../../../job/chain.ts';
import { channelCoils } from '../../../job/channelWiring.ts';
import type { OhmReading } from '../../../job/records.ts';
import { newest } from '../../../job/records.ts';
import { blocksDc } from '../../../loads/branches.ts';
import { coilWords, driverLetter } from '../../../loads/drivers.ts';
import { judgeCoil, type CoilJudgement } from '../../../loads/judgeCoil.ts';
import { formatQuantity, plainFigure } from '../../../units/formatQuantity.ts';
import type { ChannelNow } from '../../frame/channels.ts';
import type { Judgement } from '../../frame/judgement.ts';
import { onceEach, readingsAt, stepId, type Situation } from '../../frame/situation.ts';

/** One coil of a channel, with its newest reading that still counts. */
export interface MeteredCoil {
  /** such as A1 */
  name: string;
  /** its letter */
  driver: string;
  driverId: string;
  driverName: string;
  /** from 1 */
  number: number;
  nominalOhm: number;
  isBehindCapacitor: boolean;
  reading?: OhmReading;
  judgement?: CoilJudgement;
}

export interface CoilsFigures {
  coils: MeteredCoil[];
}

/** Coils that all read alike, within these parts of nominal, are wound so; beyond, something else is wrong. Common practice, no source. */
const WINDING_RATIO = { low: 0.5, high: 1.15 };

/** Two coils of one driver are wound alike: further apart than this, one of them is damaged or joined to something. Common practice, no source. */
const MAX_COIL_DIFFERENCE = 0.1;

/** Every coil of a channel; a reading counts for the same driver and nominal impedance. */
export const meteredCoils = onceEach(
  (channel: Channel) => channel.id,
  (now, channel): MeteredCoil[] => {
    const own = readingsAt(now, stepId('coils', channel.id), 'coil-resistance', 'ohm');
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
          isBehindCapacitor: blocksDc(coil),
          ...(reading === undefined ? {} : { reading, judgement: judgeReading(reading, driver.coilDcOhm) }),
        };
      });
    });
  },
);

const judgeReading = ({ value, conditions }: OhmReading, dcOhm: number | undefined): CoilJudgement =>
  judgeCoil(value, { nominalOhm: conditions.nominalOhm, ...(dcOhm === undefined ? {} : { dcOhm }) }, conditions.leadOhm, conditions);

/** The coil that is read next: the first without a reading. */
export const nextCoil = (coils: readonly MeteredCoil[]): MeteredCoil | undefined =>
  coils.find(({ reading }) => reading === undefined) ?? coils[0];

/** After a coil was read: the next one without a reading, round the end; the same where every other has one. */
export function coilAfter(coils: readonly MeteredCoil[], coil: MeteredCoil): MeteredCoil {
  const at = coils.findIndex(({ name }) => name === coil.name);
  const following = [...coils.slice(at + 1), ...coils.slice(0, at)];
  return following.find(({ reading }) => reading === undefined) ?? coil;
}

/** Where the metering of a channel's coils stands. */
export function judgeCoils({ channel }: ChannelNow, now: Situation): Judgement<CoilsFigures> {
  const coils = meteredCoils(now, channel);
  const figures = { coils };
  const winding = ownWinding(channel, coils);
  const action = { kind: 'read', reading: 'coil-resistance', unit: 'ohm' } as const;
  if (winding !== undefined) return { status: 'out-of-tolerance', figures, findings: [winding], action: winding.action ?? action };
  const findings: Finding[] = coils.flatMap((coil) =>
    coil.judgement === undefined || coil.judgement.verdict === 'sound' ? [] : [coilFinding(coil, coils)],
  );
  findings.push(...unlikeCoils(channel, coils));
  if (findings.length > 0) return { status: 'out-of-tolerance', figures, findings, action };
  if (coils.some(({ reading }) => reading === undefined)) return { status: 'open', figures, findings: [], action };
  return {
    status: 'done',
    figures,
    findings: [
      {
        code: 'coils-sound',
        grade: 'good',
        figures: { coils: coils.length, leads: leadsWords(coils) },
      },
    ],
  };
}

/** Says which coil of several it is. */
const ofCoil = (finding: CoilJudgement['finding'], who: string): Finding =>
  ({ ...finding, figures: { ...finding.figures, who } }) as CoilJudgement['finding'];

function coilFinding(coil: MeteredCoil, coils: readonly MeteredCoil[]): Finding {
  const { finding, verdict } = coil.judgement!;
  const who = coilWords(coil, coils);
  if (verdict !== 'open' || !coil.isBehindCapacitor) return ofCoil(finding, who);
  return {
    code: 'coil-behind-capacitor',
    grade: 'attention',
    figures: { coilOhm: coil.judgement!.coilOhm, who },
  };
}

/** Every coil reads the same figure, only not the usual one: that is how they are wound. */
function ownWinding(channel: Channel, coils: readonly MeteredCoil[]): Finding | undefined {
  if (coils.length < 2 || coils.every(({ judgement }) => judgement?.verdict === 'sound')) return undefined;
  const ratios = coils.map(({ judgement, nominalOhm }) => (judgement === undefined ? NaN : judgement.coilOhm / nominalOhm));
  const [lowest, highest] = [Math.min(...ratios), Math.max(...ratios)];
  if (!(lowest >= WINDING_RATIO.low && highest <= WINDING_RATIO.high && highest <= lowest * (1 + MAX_COIL_DIFFERENCE))) return undefined;
  const drivers = channel.drivers.map((driver) => {
    const own = coils.flatMap(({ driverId, judgement }) => (driverId === driver.id && judgement !== undefined ? [judgement.coilOhm] : []));
    return { ...driver, coilDcOhm: own.reduce((sum, ohm) => sum + ohm, 0) / own.length };
  });
  const read = [...new Set(drivers.map(({ coilDcOhm }) => formatQuantity(coilDcOhm, 'ohm')))].join(' and ');
  const nominal = [...new Set(coils.map(({ nominalOhm }) => formatQuantity(nominalOhm, 'ohm')))].join(' and ');
  return {
    code: 'coils-winding',
    grade: 'attention',
    figures: { lowestRatio: lowest, highestRatio: highest, read, nominal },
    action: { kind: 'take-winding', channelId: channel.id, channel: { drivers } },
  };
}

function leadsWords(coils: readonly MeteredCoil[]): string {
  const leads = [...new Set(coils.map(({ reading }) => reading?.conditions.leadOhm ?? 0))];
  return leads.every((ohm) => ohm === 0)
    ? 'No lead resistance was subtracted. It matters at such low values.'
    : `Leads of ${leads.map(plainFigure).join(' and ')} Ω subtracted.`;
}

function unlikeCoils({ drivers }: Channel, coils: readonly MeteredCoil[]): Finding[] {
  return drivers.flatMap(({ id, name }): Finding[] => {
    const ohms = coils.flatMap(({ driverId, judgement }) => (driverId === id && judgement?.verdict === 'sound' ? [judgement.coilOhm] : []));
    const [lowest, highest] = [Math.min(...ohms), Math.max(...ohms)];
    if (ohms.length < 2 || highest <= lowest * (1 + MAX_COIL_DIFFERENCE)) return [];
    return [
      {
        code: 'coils-unlike',
        grade: 'attention',
        figures: { driverId: id, lowestOhm: lowest, highestOhm: highest, driverName: name, ohms },
      },
    ];
  });
}

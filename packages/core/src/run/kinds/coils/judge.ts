import type { Finding } from '../../../findings.ts';
import type { Channel } from '../../../job/chain.ts';
import { channelCoils } from '../../../job/channelWiring.ts';
import type { OhmReading } from '../../../job/records.ts';
import { newest } from '../../../job/records.ts';
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
  reading?: OhmReading;
  judgement?: CoilJudgement;
}

export interface CoilsFigures {
  coils: MeteredCoil[];
}

/** Two coils of one driver are wound alike: further apart than this, one of them is damaged or joined to something. Common practice, no source. */
const MOST_COIL_DIFFERENCE = 0.1;

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
          ...(reading === undefined ? {} : { reading, judgement: judgeReading(reading) }),
        };
      });
    });
  },
);

const judgeReading = ({ value, conditions }: OhmReading): CoilJudgement =>
  judgeCoil(value, conditions.nominalOhm, conditions.leadOhm, conditions);

/** The coil that is read next: the first without a reading. */
export const nextCoil = (coils: readonly MeteredCoil[]): MeteredCoil | undefined =>
  coils.find(({ reading }) => reading === undefined) ?? coils[0];

/** Where the metering of a channel's coils stands. */
export function judgeCoils({ channel }: ChannelNow, now: Situation): Judgement<CoilsFigures> {
  const coils = meteredCoils(now, channel);
  const figures = { coils };
  const findings: Finding[] = coils.flatMap((coil) =>
    coil.judgement === undefined || coil.judgement.verdict === 'sound'
      ? []
      : [{ ...coil.judgement.finding, words: `${coilWords(coil, coils)}: ${coil.judgement.finding.words}` }],
  );
  findings.push(...unlikeCoils(channel, coils));
  const action = { kind: 'read', reading: 'coil-resistance', unit: 'ohm' } as const;
  if (findings.length > 0) return { status: 'out-of-tolerance', figures, findings, action };
  if (coils.some(({ reading }) => reading === undefined)) return { status: 'open', figures, findings: [], action };
  return {
    status: 'done',
    figures,
    findings: [
      { code: 'coils-sound', grade: 'good', figures: { coils: coils.length }, words: 'Every coil is sound.', next: leadsWords(coils) },
    ],
  };
}

function leadsWords(coils: readonly MeteredCoil[]): string {
  const leads = [...new Set(coils.map(({ reading }) => reading?.conditions.leadOhm ?? 0))];
  return leads.every((ohm) => ohm === 0)
    ? 'No lead resistance was taken off; at such low figures it counts.'
    : `Leads of ${leads.map(plainFigure).join(' and ')} Ω are taken off.`;
}

function unlikeCoils({ drivers }: Channel, coils: readonly MeteredCoil[]): Finding[] {
  return drivers.flatMap(({ id, name }): Finding[] => {
    const ohms = coils.flatMap(({ driverId, judgement }) => (driverId === id && judgement?.verdict === 'sound' ? [judgement.coilOhm] : []));
    const [lowest, highest] = [Math.min(...ohms), Math.max(...ohms)];
    if (ohms.length < 2 || highest <= lowest * (1 + MOST_COIL_DIFFERENCE)) return [];
    return [
      {
        code: 'coils-unlike',
        grade: 'attention',
        figures: { driverId: id, lowestOhm: lowest, highestOhm: highest },
        words: `The coils of ${name} read ${ohms.map((ohm) => formatQuantity(ohm, 'ohm')).join(' and ')}: too far apart for one driver.`,
        next: 'Read both again with the jumpers off; shorted turns read low.',
      },
    ];
  });
}

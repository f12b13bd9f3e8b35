import { channelCoils } from '../../../job/channelWiring.ts';
import { channelsNow } from '../../frame/channels.ts';
import { channelWords, METER_SAFE } from '../../frame/channelSteps.ts';
import { ohmsNow } from '../../frame/conditions.ts';
import type { Situation } from '../../frame/situation.ts';
import { defineKind } from '../../frame/stepKind.ts';
import type { OhmConditions } from '../../../job/conditions.ts';
import { judgeCoils, meteredCoils, nextCoil, type MeteredCoil } from './judge.ts';

/** Every coil of a channel alone, its jumpers off. A single coil is metered once, as the whole. */
export const coils = defineKind({
  kind: 'coils',
  stage: 'loads',
  title: 'Coils',
  part: 'coils',
  help: 'each coil on the ohmmeter, its jumpers off',
  plays: 'nothing',
  intakes: [{ type: 'reading', kind: 'coil-resistance', unit: 'ohm', at: 'ohm', words: 'coil' }],
  // A coil of another driver, or of another impedance, is another coil: its readings do not count for this one.
  dependsOn: [],
  subjects: (now) => channelsNow(now).filter(({ channel }) => channelCoils(channel).length > 1),
  keyOf: ({ channel }) => channel.id,
  words: channelWords,
  channelsOf: (subject) => [subject],
  caution: () => METER_SAFE,
  conditions: ({ channel }, now) => {
    const coil = nextCoil(meteredCoils(now, channel));
    return coil === undefined ? { ...ohmsNow(now), nominalOhm: channel.loadOhm } : coilConditions(coil, now);
  },
  // A quarter to four times its name: beyond, a point slipped, or the probes sit elsewhere.
  likely: ({ channel }, now) => {
    const nominal = nextCoil(meteredCoils(now, channel))?.nominalOhm;
    return nominal === undefined ? undefined : { atLeast: nominal / 4, atMost: 4 * nominal };
  },
  speaksOf: { 'coil-open': 'load', 'coil-shorted': 'load', 'coil-other': 'load', 'coils-unlike': 'load' },
  judge: judgeCoils,
});

/** The conditions under which one coil is read now. */
export const coilConditions = ({ nominalOhm, driverId, number }: MeteredCoil, now: Situation): OhmConditions => ({
  ...ohmsNow(now),
  nominalOhm,
  driverId,
  coil: number,
});

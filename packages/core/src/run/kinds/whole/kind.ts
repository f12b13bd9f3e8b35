import { channelCoils } from '../../../job/channelWiring.ts';
import { coilBounds } from '../../../loads/coilBounds.ts';
import { channelsNow } from '../../frame/channels.ts';
import { channelWords, METER_SAFE } from '../../frame/channelSteps.ts';
import { wiringConditions } from '../../frame/conditions.ts';
import { defineKind } from '../../frame/stepKind.ts';
import { judgeWhole } from './judge.ts';
import { WIRING_DENIED } from './judge.ts';

/** A channel's whole wiring, at the wires that go to the amplifier, before they go there. */
export const whole = defineKind({
  kind: 'whole',
  stage: 'loads',
  title: 'Load resistance',
  part: 'load resistance',
  help: 'the whole wiring on the ohmmeter, before it touches the amplifier',
  plays: 'nothing',
  intakes: [{ type: 'reading', kind: 'whole-resistance', unit: 'ohm', at: 'ohm', words: 'whole' }],
  dependsOn: ['wiring'],
  subjects: (now) => channelsNow(now).filter(({ channel }) => channel.drivers.length > 0),
  keyOf: ({ channel }) => channel.id,
  words: channelWords,
  channelsOf: (subject) => [subject],
  caution: () => METER_SAFE,
  conditions: wiringConditions,
  // From half of all in parallel to all in series with something to spare: what any mistake could read.
  likely: ({ channel }) => {
    const { lowestOhm, highestOhm } = coilBounds(channelCoils(channel).map(({ nominalOhm }) => nominalOhm));
    const resistorOhm = channel.wiring?.seriesResistorOhm ?? 0;
    return { atLeast: lowestOhm / 3, atMost: 1.5 * highestOhm + resistorOhm };
  },
  speaksOf: WIRING_DENIED,
  judge: judgeWhole,
});

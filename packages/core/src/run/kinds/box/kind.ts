import { WIRING_DENIED } from '../whole/judge.ts';
import { METER_SAFE } from '../../frame/channelSteps.ts';
import { defineKind } from '../../frame/stepKind.ts';
import { boxConditions, boxesNow, judgeBox } from './judge.ts';

/** Each driver at its own terminals, its coils joined, before it is joined to the others: a mistake is found where it was made. */
export const box = defineKind({
  kind: 'box',
  stage: 'loads',
  title: 'Enclosure wiring',
  part: 'own terminals',
  help: 'one enclosure read at its own terminals, disconnected from the others',
  plays: 'nothing',
  isOptional: true,
  intakes: [{ type: 'reading', kind: 'box-resistance', unit: 'ohm', at: 'ohm', words: 'own terminals' }],
  dependsOn: ['wiring'],
  subjects: boxesNow,
  keyOf: ({ driverId }) => driverId,
  words: ({ driverName, channel, amplifier }) => ({ subject: driverName, where: `${channel.name}, ${amplifier.name}` }),
  channelsOf: (subject) => [subject],
  caution: () => METER_SAFE,
  conditions: boxConditions,
  likely: (subject, now) => {
    const { nominalOhm } = boxConditions(subject, now);
    return { atLeast: nominalOhm / 5, atMost: 5 * nominalOhm };
  },
  speaksOf: WIRING_DENIED,
  judge: judgeBox,
});

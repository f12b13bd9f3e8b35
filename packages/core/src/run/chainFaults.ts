import type { Fault } from '../coreError.ts';
import { coilBounds } from '../loads/coilBounds.ts';
import { significant } from '../units/formatQuantity.ts';
import type { Chain } from './chain.ts';

/**
 * What is wrong with a chain beyond the form of its fields: references that lead nowhere, a load that no wiring of the drivers can give.
 *
 * @returns one fault for each, the pointer into the chain; empty where all is well
 */
export function chainFaults(chain: Chain): Fault[] {
  const faults: Fault[] = [];
  if (chain.source.workingVolume > chain.source.volumeSteps) {
    faults.push({
      pointer: '/source/workingVolume',
      message: `working volume must be at most the highest step, ${chain.source.volumeSteps}`,
    });
  }
  chain.amplifiers.forEach((amplifier, i) => {
    const { inputMinVolt, inputMaxVolt } = amplifier;
    if (inputMinVolt !== undefined && inputMaxVolt !== undefined && inputMaxVolt <= inputMinVolt) {
      faults.push({
        pointer: `/amplifiers/${i}/inputMaxVolt`,
        message: 'the least sensitive input voltage must be above the most sensitive one',
      });
    }
  });
  chain.channels.forEach((channel, i) => {
    if (!chain.amplifiers.some(({ id }) => id === channel.amplifierId)) {
      faults.push({ pointer: `/channels/${i}/amplifierId`, message: `${channel.name} is on an amplifier that is not in the chain` });
    }
    const coils = channel.drivers.flatMap(({ coils, coilOhm }) => Array.from({ length: coils }, () => coilOhm));
    if (coils.length === 0) return;
    const { lowestOhm, highestOhm } = coilBounds(coils);
    // Half a percent of slack: 1.33 ohm is how people write four thirds.
    if (channel.loadOhm >= lowestOhm * 0.995 && channel.loadOhm <= highestOhm * 1.005) return;
    faults.push({
      pointer: `/channels/${i}/loadOhm`,
      message: `${channel.name}: no wiring of these drivers gives ${significant(channel.loadOhm)} ohm; all in parallel they are ${significant(lowestOhm)} ohm, all in series ${significant(highestOhm)} ohm`,
    });
  });
  return faults;
}

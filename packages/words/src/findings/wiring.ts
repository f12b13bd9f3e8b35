import { formatQuantity, type WiringFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const wiring = {
  'dead-short': () => ({
    text: 'Amplifier plus and minus are joined: a dead short.',
    next: 'Remove the wire you added last. Never connect the amplifier to this.',
  }),
  'coil-bridged': ({ names }) => ({
    text: `${names}: plus and minus of the coil are joined, so it makes no sound.`,
    next: 'Remove the wire that bridges it.',
  }),
  'no-path': () => ({
    text: 'No closed path from amplifier plus to minus yet.',
    next: 'Join terminals until each coil is in the circuit.',
  }),
  'coils-oppose': ({ driver }) => ({
    text: `The coils of ${driver} work against each other: heat and almost no output.`,
    next: `Reverse one coil of ${driver}.`,
  }),
  'coil-idle': ({ names, driver, ownCoils, coils }) => ({
    text: `${names} is not in the circuit: ${driver} takes only ${formatQuantity((100 * (ownCoils - coils)) / ownCoils, '%')} of its rated power, and loses level.`,
    next: 'Use every coil, or choose a single-coil driver.',
  }),
  'driver-idle': ({ driverNames }) => ({
    text: `${driverNames.join(', ')} is not in the circuit.`,
    next: 'Connect its terminals, or remove the driver from the list.',
  }),
  'bridge-network': () => ({
    text: 'This is a bridge network, not series and parallel groups. Yield can check it but not save it.',
    next: 'Remove the bridging wire.',
  }),
  'wiring-good': () => ({
    text: 'Every coil is connected the right way round and gets the same power.',
  }),
  'shares-unlike': () => ({
    text: 'Every coil is connected the right way round, but they do not share the power equally.',
  }),
  'all-reversed': () => ({
    text: 'The whole load is reversed: amplifier plus feeds the minus side.',
    next: 'This cancels bass against the other channels. Swap the two amplifier wires.',
  }),
  'driver-reversed': ({ driverNames, otherNames }) => ({
    text: `${driverNames.join(', ')} is reversed against ${otherNames.join(', ')}: in one enclosure their bass cancels.`,
    next: 'Swap its plus and minus, unless the two face each other on purpose.',
  }),
  'resistor-burns': ({ resistorWatt, ratedPowerWatt, wantedRatingWatt }) => ({
    text: `${formatQuantity(resistorWatt, 'W')} in a resistor rated ${formatQuantity(ratedPowerWatt, 'W')}: it will burn.`,
    next: `Use one rated ${formatQuantity(wantedRatingWatt, 'W')} or more.`,
  }),
  'resistor-hot': ({ resistorWatt, ratedPowerWatt, wantedRatingWatt }) => ({
    text: `${formatQuantity(resistorWatt, 'W')} in a resistor rated ${formatQuantity(ratedPowerWatt, 'W')} leaves too little margin in an enclosed space.`,
    next: `Use one rated ${formatQuantity(wantedRatingWatt, 'W')} or more.`,
  }),
  'resistor-good': ({ resistorWatt, ratedPowerWatt }) => ({
    text: `${formatQuantity(resistorWatt, 'W')} in a resistor rated ${formatQuantity(ratedPowerWatt, 'W')}: enough margin.`,
  }),
  'resistor-costs': ({ resistorShare, levelChangeDb }) => ({
    text: `${formatQuantity(100 * resistorShare, '%')} of the power is lost as heat in the resistor, and the level drops ${formatQuantity(-levelChangeDb, 'dB')}.`,
    next: 'If the source cannot drive a low load, use higher-impedance drivers or an amplifier instead.',
  }),
  'resistor-mounting': ({ isHot }) => ({
    text: isHot
      ? 'Screw it to bare metal, away from carpet, wires and foam. It gets hot enough to burn skin and ignite dust.'
      : 'Mount it in free air, away from carpet and foam. It still gets warm.',
    next: 'The resistor also reduces damping: bass gets looser, and the response follows the impedance.',
  }),
} satisfies WordsOf<keyof WiringFindings>;

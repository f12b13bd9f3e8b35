import type { Chain } from '@yield/core';

/** The smallest whole chain that there is: a source, an amplifier of one channel, one driver. Made up, for a first run on the bench. */
export const FIRST_CHAIN: Chain = {
  source: { name: 'Dash unit, 4 V preamp', volumeSteps: 40, workingVolume: 30, volumeBasis: 'assumed', preampClaimVolt: 4 },
  amplifiers: [
    {
      id: 'amp',
      name: 'Mono, 200 W at 2 Ω',
      minimumMonoOhm: 2,
      inputMinVolt: 0.2,
      inputMaxVolt: 6,
      ratings: [
        { mode: 'mono', loadOhm: 2, powerWatt: 200 },
        { mode: 'mono', loadOhm: 4, powerWatt: 120 },
      ],
    },
  ],
  channels: [
    {
      id: 'bass',
      name: 'Bass',
      amplifierId: 'amp',
      mode: 'mono',
      terminals: 'out',
      band: 'bass',
      loadOhm: 4,
      drivers: [{ id: 'driver', name: 'Subwoofer 250 mm', coils: 1, coilOhm: 4, ratedPowerWatt: 200, role: 'subwoofer' }],
      wiring: { network: 'A1' },
    },
  ],
};

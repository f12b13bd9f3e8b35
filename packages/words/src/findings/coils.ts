import { formatQuantity, type CoilsFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

/** Which coil it is, where there are several. */
const about = (who: string | undefined): string => (who === undefined ? '' : `${who}: `);

export const coils = {
  'coil-open': ({ who }) => ({
    text: `${about(who)}No path through this coil.`,
    next: 'Check that the probes touch bare metal and the jumpers are off. An open coil means a burnt-out driver or a broken lead.',
  }),
  'coil-shorted': ({ who, coilOhm }) => ({
    text: `${about(who)}${formatQuantity(coilOhm, 'ohm')} is close to zero: the coil or its terminals are shorted.`,
    next: 'Remove every jumper and loose strand from these two terminals, then read again.',
  }),
  'coil-sound': ({ who, coilOhm, nominalOhm }) => ({
    text: `${about(who)}${formatQuantity(coilOhm, 'ohm')} is right for a ${formatQuantity(nominalOhm, 'ohm')} coil.`,
  }),
  'coil-other': ({ who, coilOhm, nominalOhm, low, high, likelyOhm }) => ({
    text: `${about(who)}${formatQuantity(coilOhm, 'ohm')} is not a ${formatQuantity(nominalOhm, 'ohm')} coil, which reads ${formatQuantity(low, 'ohm')} to ${formatQuantity(high, 'ohm')}${likelyOhm === undefined ? '' : `. It looks like a coil of ${formatQuantity(likelyOhm, 'ohm')}`}.`,
    next: 'Remove the jumpers and read this coil alone. If it still reads the same, correct the driver’s impedance in the chain.',
  }),
  'coils-sound': ({ leads }) => ({
    text: 'Every coil reads correctly.',
    next: leads,
  }),
  'coil-behind-capacitor': ({ who }) => ({
    text: `${who}: open circuit, because this driver is behind a capacitor that blocks the ohmmeter.`,
    next: 'Put the probes on the driver’s own terminals, after the capacitor, and read again.',
  }),
  'coils-winding': ({ read, nominal }) => ({
    text: `All coils read ${read}, which is unusual for ${nominal} but consistent: this is how they are wound, not a fault.`,
    next: `Accept it as the winding: the nominal ${nominal} stays and predictions use the measured value. If the label says otherwise, correct the driver’s impedance.`,
  }),
  'coils-unlike': ({ driverName, ohms }) => ({
    text: `The coils of ${driverName} read ${ohms.map((ohm) => formatQuantity(ohm, 'ohm')).join(' and ')}: too different for one driver.`,
    next: 'Read both again with the jumpers removed. Shorted turns read low.',
  }),
} satisfies WordsOf<keyof CoilsFindings>;

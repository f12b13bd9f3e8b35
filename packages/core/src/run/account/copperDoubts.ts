import { hookupOf } from '../../loads/planLoads.ts';
import type { OhmReading } from '../../job/records.ts';
import type { RunStep } from '../frame/runStep.ts';
import type { Doubt } from './doubt.ts';

/** A load of copper this far below its amplifier's minimum is none of that minimum's nominal impedance: 70 to 85 % of it is copper. Common practice, no source. */
const LEAST_COPPER_SHARE = 0.58;

/** Copper that an ohmmeter read, held against what the amplifier takes: a plate does not make a load lighter than it is. */
export function copperDoubts(steps: readonly RunStep[]): Doubt[] {
  return steps.flatMap((step): Doubt[] => {
    const reading = (step.state.figures as { reading?: OhmReading }).reading;
    const [now] = step.channels;
    const isOfNow = step.state.status === 'done' || step.state.status === 'out-of-tolerance';
    if (!isOfNow || now === undefined || step.channels.length > 1 || reading?.kind !== 'whole-resistance') return [];
    const { channel, amplifier, hookup } = now;
    // What is too low by its plate already has its own stop, or the tuner's word.
    if (hookup.verdict !== 'fits') return [];
    const copperOhm = Math.max(0, reading.value - reading.conditions.leadOhm);
    if (copperOhm <= 0 || hookupOf({ ...amplifier, mode: channel.mode }, copperOhm / LEAST_COPPER_SHARE).verdict !== 'below-minimum')
      return [];
    return [
      {
        quantity: `load:${channel.id}`,
        of: 'load',
        at: step.id,
        finding: {
          code: 'copper-too-low',
          grade: 'stop',
          figures: { copperOhm, loadOhm: channel.loadOhm, amplifierName: amplifier.name },
          action: { kind: 'read', reading: 'whole-resistance', unit: 'ohm' },
        },
        isWitnessed: true,
      },
    ];
  });
}

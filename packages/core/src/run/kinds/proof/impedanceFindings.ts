import type { Finding } from '../../../findings.ts';
import { loadTaken, lowestImpedance, type LoadTaken } from '../../../impedance/channelImpedance.ts';
import { PLAYED_RANGE } from '../../../job/plannedLoad.ts';
import { hookup } from '../../../loads/hookup.ts';
import type { ChannelNow } from '../../frame/channels.ts';

/** A load may fall to this share of its nominal impedance. @see IEC 60268-5: no value within the rated range below 80 % of the rated one */
const MIN_OF_NOMINAL = 0.8;
/** Nearer to nominal than this there is no rise to speak of. */
const NOTABLE_RISE = 1.1;

/** What the load takes of the voltage that was read, at the tone; undefined where its impedance is not known there. */
export const takenAtTone = ({ channel, toneHz }: ChannelNow, voltageRms: number): LoadTaken | undefined =>
  channel.impedance === undefined ? undefined : loadTaken(channel.impedance, toneHz, channel.loadOhm, voltageRms);

/** Nominal against actual: what the load really takes at the tone, and whether it falls too low anywhere it plays. */
export function impedanceFindings({ channel, amplifier, toneHz, plannedOhm }: ChannelNow, taken: LoadTaken | undefined): Finding[] {
  const { impedance, loadOhm, band, mode } = channel;
  if (impedance === undefined) return [];
  const findings: Finding[] = [];
  const lowest = lowestImpedance(impedance, PLAYED_RANGE[band].from, PLAYED_RANGE[band].to);
  if (lowest !== undefined && hookup({ ...amplifier, mode, loadOhm: lowest.ohm / MIN_OF_NOMINAL }).verdict === 'below-minimum') {
    findings.push({
      code: 'impedance-low',
      grade: 'attention',
      figures: { ohm: lowest.ohm, hertz: lowest.hertz },
    });
  }
  if (taken === undefined) {
    findings.push({
      code: 'impedance-unknown',
      grade: 'note',
      figures: { hertz: toneHz },
    });
  } else if (taken.riseRatio > NOTABLE_RISE || taken.riseRatio < 1 / NOTABLE_RISE) {
    findings.push({
      code: 'impedance-rise',
      grade: 'note',
      figures: {
        ohm: taken.ohm,
        riseRatio: taken.riseRatio,
        powerWatt: taken.powerWatt,
        currentAmpere: taken.currentAmpere,
        toneHz,
        isApparent: taken.isApparent,
        loadOhm,
        plannedOhm,
      },
    });
  }
  return findings;
}

import type { Finding } from '../../findings.ts';
import { basisOf, type Basis } from '../../job/basis.ts';
import { networkTextWords } from '../../loads/networkWords.ts';
import { hookupOf } from '../../loads/planLoads.ts';
import { formatQuantity } from '../../units/formatQuantity.ts';
import type { ChannelNow } from './channels.ts';
import { markAt, stepId, type Situation } from './situation.ts';
import type { Check } from './stepKind.ts';

const CHECK_ID = 'below-lowest';

/** A nominal load below the amplifier's lowest, whose measured impedance lies above it where the house's rule looks: on the tuner's word only. */
export const mayGoBelow = ({ hookup, channel, amplifier, plannedOhm }: ChannelNow): boolean =>
  hookup.verdict === 'below-minimum' && hookupOf({ ...amplifier, mode: channel.mode }, plannedOhm).verdict !== 'below-minimum';

export const belowLowestCheck = ({ channel, plannedOhm }: ChannelNow): Check => ({
  id: CHECK_ID,
  words: `${formatQuantity(channel.loadOhm, 'ohm')} nominal is below this amplifier’s lowest load; taken for ${formatQuantity(plannedOhm, 'ohm')} on my word`,
});

/** Whether the tuner gave that word for exactly this load, as it was measured. */
export function isBelowByWord(step: ChannelNow, now: Situation): boolean {
  const mark = markAt(now, stepId('hookup', step.channel.id));
  return mayGoBelow(step) && mark?.checks.includes(CHECK_ID) === true && mark.basis === hookupBasis(step).key;
}

/** What the ticks of a hook-up stand for: another wiring of the same load has other wires to look at. */
export function hookupBasis(step: ChannelNow): Basis {
  const { channel, amplifier, plannedOhm } = step;
  const { loadOhm, mode, terminals, wiring } = channel;
  const wired = wiring === undefined ? '' : ` (${networkTextWords(wiring.network)})`;
  const taken = mayGoBelow(step) ? { plannedOhm } : {};
  return basisOf(
    { loadOhm, mode, terminals, network: wiring?.network, amplifierId: amplifier.id, ...taken },
    `${formatQuantity(loadOhm, 'ohm')}${wired} on ${amplifier.name}, ${terminals}, ${mode}`,
  );
}

export const belowLowestFinding = ({ channel, amplifier, plannedOhm }: ChannelNow): Finding => ({
  code: 'below-lowest',
  grade: 'attention',
  figures: { loadOhm: channel.loadOhm, plannedOhm, amplifierName: amplifier.name },
});

import { basisOf, type Basis } from '../../job/basis.ts';
import type { Source } from '../../job/chain.ts';
import { sourceIdOf } from '../../job/source.ts';
import { networkTextWords } from '../../loads/networkWords.ts';
import { formatQuantity } from '../../units/formatQuantity.ts';
import type { LikelySize } from '../../units/sizeSense.ts';
import type { ChannelNow } from './channels.ts';
import type { Situation } from './situation.ts';
import type { Check, StepWords } from './stepKind.ts';

/** The words of a step about one channel. */
export const channelWords = ({ channel, amplifier }: ChannelNow): StepWords => ({
  subject: channel.name,
  where: `${amplifier.name}, ${channel.terminals}`,
});

/** What ticks before a tone at a channel's terminals stand for: another volume, hook-up or wiring is to be seen to anew. */
export function terminalsBasis({ channel, amplifier }: ChannelNow, now: Situation, load: 'on' | 'off'): Basis {
  const { source } = now.chain;
  const { mode, terminals, loadOhm, wiring, dummyOhm } = channel;
  // Without load nothing hangs there whose wiring could matter.
  const hung = load === 'off' ? {} : dummyOhm === undefined ? { loadOhm, network: wiring?.network } : { dummyOhm };
  const words =
    load === 'off'
      ? 'load off'
      : dummyOhm !== undefined
        ? `a dummy load of ${formatQuantity(dummyOhm, 'ohm')}`
        : `${formatQuantity(loadOhm, 'ohm')}${wiring === undefined ? '' : ` (${networkTextWords(wiring.network)})`}`;
  return basisOf(
    { sourceId: sourceIdOf(source), volume: source.workingVolume, amplifierId: amplifier.id, mode, terminals, load, ...hung },
    `${amplifier.name}, ${terminals}, ${mode}, ${words}, volume ${source.workingVolume}`,
  );
}

/** No gain lies so far over the voltage that it is set for: a point slipped. Common practice, no source. */
const MAX_OVER = 3;
/** Nor does a knob that is turned up fall so far behind what was read last. */
const MIN_PART = 1 / 9;

/**
 * Where a voltage at a channel's terminals is likely to lie.
 *
 * @param last - what was read there before, at the same knob or a lower one
 */
export function likelyVolt({ target }: ChannelNow, last: number | undefined): LikelySize | undefined {
  if (target === undefined) return undefined;
  return { atMost: MAX_OVER * target.fullScaleVoltage, ...(last === undefined || last <= 0 ? {} : { atLeast: MIN_PART * last }) };
}

/** At every step with an ohmmeter. */
export const METER_SAFE =
  'Switched off, fuse out: a live output destroys the ohmmeter and the reading is meaningless. Keep the cone still: a moving cone generates voltage.';

/** The volume at which every gain is set, as the source shows it. */
export const volumeCheck = ({ workingVolume, volumeBasis }: Source, fromZero = false): Check => ({
  id: 'volume',
  words: fromZero
    ? `volume up from 0, slowly, to ${workingVolume}`
    : `volume at ${workingVolume}${volumeBasis === 'assumed' ? ' (assumed)' : ''}`,
});

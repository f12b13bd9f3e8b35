import type { Source } from '../../job/chain.ts';
import type { ChannelNow } from './channels.ts';
import type { Check, StepWords } from './stepKind.ts';

/** The words of a step about one channel. */
export const channelWords = ({ channel, amplifier }: ChannelNow): StepWords => ({
  subject: channel.name,
  where: `${amplifier.name}, ${channel.terminals}`,
});

/** At every step with an ohmmeter. */
export const METER_SAFE = 'Switched off, fuse out: an ohmmeter on a live output is destroyed, and the reading means nothing.';

/** The volume at which every gain is set, as the source shows it. */
export const volumeCheck = ({ workingVolume, volumeBasis }: Source, fromZero = false): Check => ({
  id: 'volume',
  words: fromZero
    ? `volume up from 0, slowly, to ${workingVolume}`
    : `volume at ${workingVolume}${volumeBasis === 'assumed' ? ' (assumed)' : ''}`,
});

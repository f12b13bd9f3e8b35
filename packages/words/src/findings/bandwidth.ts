import { formatQuantity, type BandwidthFindings } from '@yield/core';
import { unsignedDb, type WordsOf } from '../said.ts';

export const bandwidth = {
  'band-clean': ({ tonesHz }) => ({
    text: `Clean under load at full scale: ${tonesHz.map((hertz) => formatQuantity(hertz, 'Hz')).join(', ')}.`,
  }),
  'band-flat': ({ toneHz, byDb, isOwn, toVolume }) => ({
    text: `At ${formatQuantity(toneHz, 'Hz')} the output clips with the ${isOwn === true ? 'volume' : 'gain'} where it is.`,
    next:
      isOwn === true
        ? `Set the volume ${toVolume === undefined ? `${formatQuantity(byDb, 'dB')} lower` : `to ${toVolume}`}, then capture this channel again.`
        : `Turn the gain down ${formatQuantity(byDb, 'dB')}, read it at its own tone, then capture ${formatQuantity(toneHz, 'Hz')} again.`,
  }),
  'band-before-gain': () => ({
    text: 'The gain has not been read yet at this volume.',
    next: 'Set and read the gain first: these captures are held against it.',
  }),
  'band-unclear': ({ toneHz }) => ({
    text: `The capture at ${formatQuantity(toneHz, 'Hz')} shows no clean tone in volts: nothing can be said of it.`,
    next: 'Check the tone, the probe and its factor, then capture at least five cycles again.',
  }),
  'band-uneven': ({ toneHz, otherHz, byDb, isMeant }) => ({
    text: `At ${formatQuantity(toneHz, 'Hz')} the output is ${unsignedDb(byDb)} ${byDb > 0 ? 'higher' : 'lower'} than the filters explain, compared with ${formatQuantity(otherHz, 'Hz')}.`,
    next: isMeant
      ? undefined
      : byDb > 0
        ? 'Look for loudness, tone controls or an EQ at the source, then a bass boost at the amplifier. Set it flat and capture again, or tick that it is intentional.'
        : 'Look for a subsonic or high-pass filter that is switched on, or a boost at the gain’s own tone. Set it flat and capture again, or tick that it is intentional.',
  }),
} satisfies WordsOf<keyof BandwidthFindings>;

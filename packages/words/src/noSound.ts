import type { Chain, Channel, Place, Search } from '@yield/core';

interface PlaceWords {
  name: string;
  /** where the probes go, and what the meter stands on */
  look: string;
}

/** What a place is called on this channel. */
export function placeWords(place: Place, channel: Channel, { processor, amplifiers }: Chain): PlaceWords {
  const output = processor?.outputs.find(({ id }) => id === channel.processorOutputId);
  const amplifier = amplifiers.find(({ id }) => id === channel.amplifierId);
  switch (place) {
    case 'source':
      return { name: 'At the source’s plug', look: 'AC volts, centre pin and shell of the plug that leaves the source.' };
    case 'processor-in':
      return { name: 'At the processor’s input', look: 'AC volts, at the far end of the same cable.' };
    case 'processor-out':
      return {
        name: `At the processor’s output${output === undefined ? '' : `, ${output.name}`}`,
        look: 'AC volts, centre pin and shell of that output.',
      };
    case 'amplifier-in':
      return {
        name: `At the input of ${amplifier?.name ?? 'the amplifier'}`,
        look: 'AC volts, at the plug that goes into this channel’s input.',
      };
    case 'amplifier-out':
      return { name: `At the terminals ${channel.terminals}`, look: 'AC volts, plus and minus of this channel, drivers off.' };
    case 'coil':
      return { name: 'At the driver', look: 'Tone off, amplifier off: ohms across the two wires at the driver.' };
  }
}

/** What to check before a place where nothing arrives. Common practice, no source. */
const CHECK: Readonly<Record<Place, string>> = {
  source: 'The source itself: is it playing, on this input, the volume up, the fader and balance where they were, not muted?',
  'processor-in': 'The plugs and the cable from the source: seated, the right output, not swapped with another; try another cable.',
  'processor-out': 'The processor: powered, its input chosen, the routing to this output, its level and its mute.',
  'amplifier-in':
    'The plugs and the cable to the amplifier: seated, on this channel’s own input; swap left and right and see whether it moves.',
  'amplifier-out':
    'The amplifier: its remote wire at 12 V, no protection light, its input switch, its filters, its gain not at its lowest end.',
  coil: 'The speaker wire and its terminals: continuity from end to end with the amplifier off, no strand across, no jumper missing.',
};

/** Where the signal is lost, and what to check there. @param nameOf - what a place is called */
export function lostWords({ before, at }: NonNullable<Search['lost']>, nameOf: (place: Place) => string): { text: string; next: string } {
  if (at === undefined)
    return { text: 'The signal is there all the way.', next: 'Read again: the meter on AC volts, its leads whole, probes on bare metal.' };
  const text = before === undefined ? 'It never leaves the source.' : `Lost between “${lower(nameOf(before))}” and “${lower(nameOf(at))}”.`;
  return { text, next: CHECK[at] };
}

/** Two answers that deny each other. @param nameOf - what a place is called */
export const searchContradiction = (
  { nothing, something }: NonNullable<Search['contradiction']>,
  nameOf: (place: Place) => string,
): string =>
  `There was nothing ${lower(nameOf(nothing))} and something ${lower(nameOf(something))}, further along: look again at the first, probes on bare metal, the meter on AC volts.`;

const lower = (name: string): string => `${name.charAt(0).toLowerCase()}${name.slice(1)}`;

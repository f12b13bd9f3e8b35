import type { Situation } from './frame/situation.ts';
import type { ChannelNow } from './frame/channels.ts';

/** A place on the way of the signal where it can be looked for. */
export interface Place {
  id: 'source' | 'processor-in' | 'processor-out' | 'amplifier-in' | 'amplifier-out' | 'coil';
  name: string;
  /** where the probes go and what the meter stands on */
  look: string;
}

/** What was found at a place: something there, or nothing. */
export type Answers = Readonly<Partial<Record<Place['id'], boolean>>>;

export interface Search {
  places: Place[];
  /** where to look next: halves what is left; undefined once the place is found */
  next?: Place;
  /** what lies between the last place with a signal and the first without one */
  lost?: { words: string; next: string };
  contradiction?: string;
}

/** What to see to between two places, by the one where nothing arrives. Common practice, no source. */
const BETWEEN: Record<Place['id'], string> = {
  source: 'The source itself: is it playing, on this input, the volume up, the fader and balance where they were, not muted?',
  'processor-in': 'The plugs and the cable from the source: seated, the right output, not swapped with another; try another cable.',
  'processor-out': 'The processor: powered, its input chosen, the routing to this output, its level and its mute.',
  'amplifier-in':
    'The plugs and the cable to the amplifier: seated, on this channel’s own input; swap left and right and see whether it moves.',
  'amplifier-out':
    'The amplifier: its remote wire at 12 V, no protection light, its input switch, its filters, its gain not at its lowest end.',
  coil: 'The speaker wire and its terminals: continuity from end to end with the amplifier off, no strand across, no jumper missing.',
};

/** The places of one channel, from the source to its coil. */
export function placesOf({ channel, amplifier }: ChannelNow, { chain }: Situation): Place[] {
  const { processor } = chain;
  const output = processor?.outputs.find(({ id }) => id === channel.processorOutputId);
  return [
    { id: 'source', name: 'At the source’s plug', look: 'AC volts, centre pin and shell of the plug that leaves the source.' },
    ...(processor === undefined
      ? []
      : ([
          { id: 'processor-in', name: 'At the processor’s input', look: 'AC volts, at the far end of the same cable.' },
          {
            id: 'processor-out',
            name: `At the processor’s output${output === undefined ? '' : `, ${output.name}`}`,
            look: 'AC volts, centre pin and shell of that output.',
          },
        ] as Place[])),
    { id: 'amplifier-in', name: `At the input of ${amplifier.name}`, look: 'AC volts, at the plug that goes into this channel’s input.' },
    { id: 'amplifier-out', name: `At the terminals ${channel.terminals}`, look: 'AC volts, plus and minus of this channel, drivers off.' },
    { id: 'coil', name: 'At the driver', look: 'Tone off, amplifier off: ohms across the two wires at the driver.' },
  ];
}

/** Where a signal is lost, by what was found so far. */
export function searchSound(places: readonly Place[], answers: Answers): Search {
  const lastYes = places.findLastIndex(({ id }) => answers[id] === true);
  const firstNo = places.findIndex(({ id }) => answers[id] === false);
  const base = { places: [...places] };
  if (firstNo !== -1 && lastYes > firstNo) {
    const [no, yes] = [places[firstNo]!, places[lastYes]!];
    return {
      ...base,
      next: no,
      contradiction: `There was nothing ${lower(no.name)} and something ${lower(yes.name)}, further along: look again at the first, probes on bare metal, the meter on AC volts.`,
    };
  }
  const [low, high] = [lastYes + 1, firstNo === -1 ? places.length : firstNo];
  if (low < high) return { ...base, next: places[Math.floor((low + high - 1) / 2)]! };
  if (firstNo === -1) {
    return {
      ...base,
      lost: {
        words: 'The signal is there all the way.',
        next: 'Read again: the meter on AC volts, its leads whole, probes on bare metal.',
      },
    };
  }
  const where = places[firstNo]!;
  const words =
    lastYes === -1 ? 'It never leaves the source.' : `Lost between “${lower(places[lastYes]!.name)}” and “${lower(where.name)}”.`;
  return { ...base, lost: { words, next: BETWEEN[where.id] } };
}

const lower = (name: string): string => `${name.charAt(0).toLowerCase()}${name.slice(1)}`;

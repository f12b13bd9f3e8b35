import type { QuantityKind } from '../../job/quantityKind.ts';
import type { ChannelNow } from './channels.ts';

/** One quantity of one thing: "load:front-left". */
export type Quantity = `${QuantityKind}:${string}`;

/** Of what a step is about: its id, the channels that it is about, the processor's output that it is about. */
export interface Subject {
  id: string;
  channels: readonly ChannelNow[];
  outputId?: string;
}

/** The quantities of one kind that a step's subject has. */
export function quantitiesOf(kind: QuantityKind, { id, channels, outputId }: Subject): Quantity[] {
  const of = (ids: readonly string[]): Quantity[] => [...new Set(ids)].map((each): Quantity => `${kind}:${each}`);
  switch (kind) {
    case 'source':
    case 'line':
      return [`${kind}:all`];
    case 'capture':
      return [`capture:${id}`];
    case 'supply':
    case 'terminals':
      return of(channels.map(({ amplifier }) => amplifier.id));
    case 'fed':
      return of(outputId === undefined ? channels.flatMap(({ channel }) => channel.processorOutputId ?? []) : [outputId]);
    case 'load':
    case 'clean':
    case 'level':
    case 'offset':
    case 'way':
    case 'polarity':
      return of(channels.map(({ channel }) => channel.id));
  }
}

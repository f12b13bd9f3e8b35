/**
 * What there is to know of a car, by kind: the load of a channel, the terminals of an amplifier, whether an output is clean, its level, DC
 * on it, a supply, what a processor's output gives, the line inputs, the source at its working volume, which filters a channel is fed
 * through, its polarity, and the capture of one step.
 */
export type QuantityKind =
  | 'load'
  | 'terminals'
  | 'clean'
  | 'level'
  | 'offset'
  | 'supply'
  | 'fed'
  | 'line'
  | 'source'
  | 'way'
  | 'polarity'
  | 'capture';

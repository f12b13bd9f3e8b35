import type { Situation } from './situation.ts';

/** Sets line processors where the house says nothing. Common practice, no source. */
const USUAL_LINE_TONE_HZ = 100;

/**
 * The tone that sets a line processor: the house's; of a factory unit, which may hold its bass back as the volume rises, one that it plays
 * in full, so that no other tone comes in louder.
 */
export const lineToneHz = ({ settings: { rules }, chain: { source } }: Situation): number =>
  rules.lineToneHz ?? (source.isFactory === true ? rules.otherToneHz : USUAL_LINE_TONE_HZ);

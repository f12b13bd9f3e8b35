import type { HouseRules } from '../../job/chain.ts';

/** Sets line processors where the house says nothing. Common practice, no source. */
const USUAL_LINE_TONE_HZ = 100;

export const lineToneHz = ({ lineToneHz: wished }: HouseRules): number => wished ?? USUAL_LINE_TONE_HZ;

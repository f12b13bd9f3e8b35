/** What is heard while a knob turns, for eyes that stay on the screwdriver. */
export interface GuideSound {
  /** pitch of the clicks, or of the steady tone */
  hertz: number;
  /** 0: steady, the target is reached */
  clicksPerSecond: number;
}

const BELOW_HERTZ = 880;
const REACHED_HERTZ = 1320;
const OVER_HERTZ = 330;
/** Further off than this the clicks come no slower. */
const FAR_DB = 12;
const CLICKS = { far: 1.5, near: 10, over: 14 };

/**
 * Clicks that come faster as the target nears, a steady tone on it, and low fast ones beyond it.
 *
 * @param differenceDb - reading against target; below 0 the gain goes up
 * @param toleranceDb - within this it is reached
 */
export function soundGuide(differenceDb: number, toleranceDb: number): GuideSound {
  if (Math.abs(differenceDb) <= toleranceDb) return { hertz: REACHED_HERTZ, clicksPerSecond: 0 };
  if (differenceDb > 0) return { hertz: OVER_HERTZ, clicksPerSecond: CLICKS.over };
  const nearness = 1 - Math.min(1, (-differenceDb - toleranceDb) / (FAR_DB - toleranceDb));
  return { hertz: BELOW_HERTZ, clicksPerSecond: CLICKS.far * (CLICKS.near / CLICKS.far) ** nearness };
}

/** Where listening to a tone begins, against its recorded level: some sixty times softer, for ears that are near. */
export const FIRST_LOUDNESS_DB = -36;
/** Time over which a tone comes up or changes, so that nothing clicks. */
export const RAMP_SECOND = 0.1;

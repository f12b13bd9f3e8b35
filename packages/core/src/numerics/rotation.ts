/**
 * How many samples a rotating phasor is advanced by multiplication before it is set anew from sine and cosine.
 * Each step loses about 1e-16; a thousand of them stay far below any capture's noise.
 */
export const RESYNC_SAMPLES = 1024;

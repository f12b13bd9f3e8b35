import type { Action, Finding } from '../../findings.ts';
import type { LoadTrace } from '../../job/records.ts';

/** Down from an onset in steps this small: a soft limiter’s knee is half a decibel wide, and a larger step gives it away. */
export const ONSET_STEP_DB = 0.25;

/**
 * Bent and not flat: what an amplifier bends is gone a little lower, what comes in at its input is not. Where much is bent, the step is one
 * that tells at once.
 */
export const distortedStepDb = (thdPercent: number | undefined): number => ((thdPercent ?? 0) > 3 ? 1 : 0.5);

/** What a capture at an amplifier's terminals shows of its output. */
export function traceFinding(trace: LoadTrace): Finding {
  const channel = trace.analysis.channels[trace.channelIndex];
  const again: Action = { kind: 'capture', judged: 'tone' };
  if (channel === undefined) {
    return { code: 'no-channel', grade: 'attention', figures: { channel: trace.channelIndex }, action: again };
  }
  const { verdict, estimatedOverdriveDb } = channel.clipping;
  const overdrive = estimatedOverdriveDb === undefined ? 1 : Math.max(ONSET_STEP_DB, estimatedOverdriveDb);
  const figures = { verdict, ...(channel.thdPercent === undefined ? {} : { thdPercent: channel.thdPercent }) };
  switch (verdict) {
    case 'clean':
      return { code: 'capture-clean', grade: 'good', figures };
    case 'onset':
      return {
        code: 'capture-onset',
        grade: 'attention',
        figures: { ...figures, byDb: ONSET_STEP_DB },
        action: { kind: 'turn-gain', byDb: -ONSET_STEP_DB },
      };
    case 'clipped':
      return {
        code: 'capture-clipped',
        grade: 'attention',
        figures: { ...figures, overdrive },
        action: { kind: 'turn-gain', byDb: -overdrive },
      };
    case 'distorted':
      return {
        code: 'capture-distorted',
        grade: 'attention',
        figures: { ...figures, byDb: distortedStepDb(channel.thdPercent) },
        action: { kind: 'turn-gain', byDb: -distortedStepDb(channel.thdPercent) },
      };
    case 'over-range':
      return {
        code: 'capture-over-range',
        grade: 'attention',
        figures,
        action: again,
      };
    case 'sweep':
    case 'pulse':
    case 'curve':
    case 'unusable':
      return {
        code: 'capture-unusable',
        grade: 'attention',
        figures,
        action: again,
      };
  }
}

import type { ChannelAnalysis, Finding, TraceVerdict, TraceWarning } from '@yield/core';

export const VERDICT: Record<TraceVerdict, { word: string; grade: Finding['grade'] }> = {
  clean: { word: 'Clean', grade: 'good' },
  onset: { word: 'Onset of clipping', grade: 'attention' },
  clipped: { word: 'Clipped', grade: 'attention' },
  distorted: { word: 'Distorted, not flat', grade: 'attention' },
  'over-range': { word: 'Capture over range', grade: 'attention' },
  sweep: { word: 'Sweep found', grade: 'good' },
  curve: { word: 'Curve read', grade: 'good' },
  pulse: { word: 'Pulse found', grade: 'good' },
  unusable: { word: 'Cannot be judged', grade: 'attention' },
};

const WARNING: Record<TraceWarning, string> = {
  uncalibrated: 'The recording says nothing of volts: levels are shares of its full scale.',
  'other-tone': 'The tone in the capture is not the one that this step plays.',
  'few-cycles': 'Fewer than three cycles: capture more for steadier figures.',
  'harmonics-out-of-reach': 'The sample rate is too low to see harmonics of this tone.',
  'coarse-steps': 'The capture has few vertical steps: choose a range that fills the screen.',
  noisy: 'Noise is more than a twentieth of the tone.',
  'too-short': 'Less than one cycle was captured.',
  'no-tone': 'No steady tone was found.',
  'too-few-samples-a-cycle': 'Fewer than four samples a cycle.',
  'over-range': 'The capture itself sits on its rails. Choose a larger range or a ten-to-one probe.',
};

export const warningWords = (channel: ChannelAnalysis): string[] => channel.warnings.map((warning) => WARNING[warning]);

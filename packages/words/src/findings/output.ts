import { formatQuantity, signedDb, type OutputFindings } from '@yield/core';
import { unsignedDb, type WordsOf } from '../said.ts';

export const output = {
  'set-with-tone': ({ settingVolt, fullScaleVolt }) => ({
    text: `${formatQuantity(settingVolt, 'V')} with this tone equals ${formatQuantity(fullScaleVolt, 'V')} with full-scale music. The amplifier gains are set for that.`,
  }),
  'wish-limited': ({ limitedBy, wishedVolt, mostVolt }) => ({
    text:
      limitedBy === 'amplifier'
        ? `You asked for ${formatQuantity(wishedVolt, 'V')}, but the amplifier input accepts ${formatQuantity(mostVolt, 'V')} at most.`
        : `You asked for ${formatQuantity(wishedVolt, 'V')}, but the processor gives ${formatQuantity(mostVolt, 'V')} clean at most.`,
  }),
  'other-output-off': ({ ownVolt, otherVolt, otherName, differenceDb, settingVolt }) => ({
    text: `${formatQuantity(ownVolt, 'V')} against ${formatQuantity(otherVolt, 'V')} of ${otherName}: ${signedDb(differenceDb)} apart, and ${otherName} is the one to correct.`,
    next: `Leave this output. Bring ${otherName} to ${formatQuantity(settingVolt, 'V')}.`,
  }),
  'outputs-apart': ({ ownVolt, otherVolt, otherName, differenceDb, settingVolt }) => ({
    text: `${formatQuantity(ownVolt, 'V')} against ${formatQuantity(otherVolt, 'V')} of ${otherName}: ${signedDb(differenceDb)} apart.`,
    next: `Bring this output to ${formatQuantity(settingVolt, 'V')}.`,
  }),
  'outputs-matched': ({ matches }) => ({
    text: `Matched: ${matches.join('; ')}.`,
  }),
  'above-declared': ({ voltageRms, declaredVolt }) => ({
    text: `${formatQuantity(voltageRms, 'V')} is more than the ${formatQuantity(declaredVolt, 'V')} this output can give according to the chain.`,
    next: 'Read it again on AC volts, or correct the processor’s maximum output in the chain.',
  }),
  'output-distorts-before': ({ thdPercent }) => ({
    text: `Distortion stays at ${formatQuantity(thdPercent, '%')} whatever the output level: it comes in before this knob.`,
    next: 'Turn the processor’s input level down a decibel and capture again. If it stays, look at the source.',
  }),
  'output-at-end': ({ voltageRms, targetVolt, differenceDb }) => ({
    text: `The output stays at ${formatQuantity(voltageRms, 'V')}: ${unsignedDb(differenceDb)} short of ${formatQuantity(targetVolt, 'V')}.`,
    next: 'Check the processor’s input level first: set too low, it costs level and adds noise. If it is right, tick that the output is at its end; the amplifier’s gain makes up the rest.',
  }),
  'output-clips': ({ verdict, byDb, thdPercent }) => ({
    text: `This output ${verdict === 'distorted' ? 'distorts' : 'clips'}${thdPercent === undefined ? '' : ` (distortion ${formatQuantity(thdPercent, '%')})`}, and every amplifier behind it plays that.`,
    next:
      verdict === 'distorted'
        ? 'Check the processor’s input level, then capture again.'
        : `Turn this output down ${formatQuantity(byDb, 'dB')} and capture again.`,
  }),
} satisfies WordsOf<keyof OutputFindings>;

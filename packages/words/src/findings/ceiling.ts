import { INPUT_NAMES, formatQuantity, OUTPUT_NAMES, plainFigure, type CeilingFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const ceiling = {
  'volume-assumed': ({ workingVolume, volumeSteps }) => ({
    text: `The working volume, ${workingVolume} of ${volumeSteps}, is an assumption, and every gain depends on it.`,
    next: 'Find the clean ceiling to measure it.',
  }),
  'no-ceiling': () => ({
    text: 'No ceiling found yet.',
    next: 'Raise the volume one step at a time until it clips.',
  }),
  'clean-so-far': ({ fullScaleStep }) => ({
    text: `Clean so far, up to step ${fullScaleStep}.`,
    next: 'Continue one step at a time until it clips.',
  }),
  'volume-over-ceiling': ({ workingVolume, fullScaleStep, caseName, recorded }) => ({
    text: `The working volume is ${workingVolume}, but the source is clean only up to ${fullScaleStep} (${caseName.toLowerCase()})${recorded}.`,
    next: `Set ${fullScaleStep} as the working volume. Otherwise the source’s own clipping passes through everything after it.`,
  }),
  'volume-still-assumed': ({ fullScaleStep, recorded, workingVolume }) => ({
    text: `Clean up to ${fullScaleStep}${recorded}; the working volume of ${workingVolume} is still an assumption.`,
    next: 'Use the measured value.',
  }),
  'volume-clean': ({ fullScaleStep, volumeSteps, recorded, workingVolume }) => ({
    text: `Clean up to ${fullScaleStep} of ${volumeSteps}${recorded}; the working volume is ${workingVolume}.`,
  }),
  'steps-contradict': ({ step, caseName }) => ({
    text: `At step ${step} the voltage barely rises, but above it keeps growing (${caseName.toLowerCase()}): one reading is wrong.`,
    next: `Read step ${step - 1} and ${step} again once the meter settles. If nothing changes, the volume control is uneven: check the trace there and mark it as clean.`,
  }),
  'flat-not-ticked': ({ input }) => ({
    text: `The Flat list of ${INPUT_NAMES[input].toLowerCase()} is not ticked, so this result only applies to the present control settings.`,
    next: 'Complete it, so that a control moved later is noticed.',
  }),
  'source-power': ({ powerWatt, loadOhm }) => ({
    text: `The source’s own amplifier makes ${formatQuantity(powerWatt, 'W')} clean into ${formatQuantity(loadOhm, 'ohm')}.`,
  }),
  'claim-missed': ({ output, voltageRms, differenceDb, claimVolt }) => ({
    text: `${OUTPUT_NAMES[output]} gives ${formatQuantity(voltageRms, 'V')} clean, ${formatQuantity(-differenceDb, 'dB')} below the claimed ${formatQuantity(claimVolt, 'V')}.`,
    next: 'Claimed figures are often peak or without load. The gains make up the difference.',
  }),
  'claim-met': ({ output, voltageRms, claimVolt }) => ({
    text: `${OUTPUT_NAMES[output]} gives ${formatQuantity(voltageRms, 'V')} clean: it meets the claimed ${formatQuantity(claimVolt, 'V')}.`,
  }),
  'tone-clips-early': ({ toneHz, fromStep, otherHz, otherFromStep, caseName }) => ({
    text: `${formatQuantity(toneHz, 'Hz')} clips from ${fromStep} on, ${formatQuantity(otherHz, 'Hz')} only from ${otherFromStep} (${caseName.toLowerCase()}).`,
    next: `Something boosts the range around ${formatQuantity(toneHz, 'Hz')}: check for loudness, bass boost or an equaliser still switched on.`,
  }),
  'sub-level-costs': ({ caseName, steps, costDb, notches }) => ({
    text: `“${caseName}” costs ${steps} ${steps === 1 ? 'step' : 'steps'} of volume${costDb === undefined ? '' : `, ${formatQuantity(costDb, 'dB')}`}: one notch of sub level costs ${costDb === undefined ? `${plainFigure(steps / notches)} of a step` : formatQuantity(costDb / notches, 'dB')}.`,
  }),
  'case-missing': ({ caseName }) => ({
    text: `“${caseName}” will probably be used but has no ceiling yet.`,
    next: 'Set the source that way and raise the volume again.',
  }),
  'row-implausible': ({ step, voltageRms, caseName, likelyVolt }) => ({
    text: `${formatQuantity(voltageRms, 'V')} at step ${step} does not fit the other readings or what this output can give (${caseName.toLowerCase()}).`,
    next: `Read step ${step} again${likelyVolt === undefined ? '' : `: perhaps ${formatQuantity(likelyVolt, 'V')}, with the decimal point misplaced`}.`,
  }),
} satisfies WordsOf<keyof CeilingFindings>;

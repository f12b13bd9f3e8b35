import { formatQuantity, plainFigure, type AccountFindings, type QuantityKind } from '@yield/core';
import type { WordsOf } from '../said.ts';

const SHOWS: Readonly<Record<QuantityKind, string>> = {
  load: 'shows another load than this step relies on',
  terminals: 'shows another load on these terminals',
  clean: 'shows distortion at this output',
  level: 'shows that this channel’s level is too high or was not measured properly',
  offset: 'shows DC at these terminals',
  supply: 'shows a supply voltage that cannot be right',
  fed: 'shows that the processor output feeding this step is not right yet',
  line: 'shows that a processor input clips or is not set yet',
  source: 'shows that the source level is not right yet',
  way: 'shows filters that contradict each other',
  polarity: 'shows a polarity that is not right yet',
  capture: 'has a capture that cannot be used',
};

export const account = {
  contradicted: ({ what, title, isUnsafe }) =>
    isUnsafe
      ? {
          text: `“${title}” shows a fault: nothing may be connected or played here.`,
          next: `Clear it at “${title}” first.`,
        }
      : { text: `“${title}” ${SHOWS[what]}.`, next: `Sort out “${title}” first.` },
  'asked-often': ({ times, isStill }) => ({
    text: isStill
      ? `Measured ${times} times, and the last ones are the same: measuring again will not change it.`
      : `Measured ${times} times and still not right: something keeps changing or is faulty.`,
    next: isStill
      ? 'Fix what the next line names, then measure once more. To go on without it, skip this step with a reason.'
      : 'Check the knob, the contacts and the meter. To go on, skip this step with a reason; otherwise have the part repaired or replaced.',
  }),
  'capture-other-tone': ({ shownHz, toneHz }) => ({
    text: `This capture shows ${formatQuantity(shownHz, 'Hz')}, not the ${formatQuantity(toneHz, 'Hz')} of this step.`,
    next: `Play ${formatQuantity(toneHz, 'Hz')} and capture again.`,
  }),
  'capture-too-short': ({ cycles, wantedCycles }) => ({
    text: `This capture holds only ${plainFigure(cycles)} ${cycles === 1 ? 'cycle' : 'cycles'} of the tone.`,
    next: `Capture at least ${wantedCycles} cycles, so that every peak is seen.`,
  }),
  'capture-twice': ({ fileName, otherTitle }) => ({
    text: `${fileName} is the same file as the capture at “${otherTitle}”: one of the two channels was not captured.`,
    next: 'Void it here or there, and capture each channel by itself.',
  }),
  'dc-on-terminals': ({ dcVolt }) => ({
    text: `${formatQuantity(Math.abs(dcVolt), 'V')} DC at the speaker terminals: it heats voice coils and can burn them.`,
    next: 'Amplifier off and drivers disconnected. Check the scope’s zero and DC coupling, then have the amplifier repaired. Void this capture if the scope was off.',
  }),
  'copper-too-low': ({ copperOhm, loadOhm, amplifierName }) => ({
    text: `${formatQuantity(copperOhm, 'ohm')} of copper is not a ${formatQuantity(loadOhm, 'ohm')} load: it is too low for ${amplifierName}, whatever the label says.`,
    next: 'Do not connect it. Read it again with the leads subtracted; if it stays, correct the drivers’ impedance in the chain and choose another wiring.',
  }),
  'terminals-shared': ({ channelNames, terminals, togetherOhm, isLow }) => ({
    text: `${channelNames.join(' and ')} share one pair of terminals${terminals === '' ? '' : ` (${terminals})`}: together that is ${formatQuantity(togetherOhm, 'ohm')}${isLow ? ', below this amplifier’s minimum' : ''}.`,
    next: 'Correct the terminals in the chain, or describe both loads as one channel.',
  }),
  'too-many-channels': ({ amplifierName, used, channelCount }) => ({
    text: `${used} channels are connected to ${amplifierName}, which has ${channelCount}.`,
    next: 'Correct the channels or the amplifier in the chain.',
  }),
  'output-of-two-ways': ({ outputName, channelNames }) => ({
    text: `${outputName} feeds ${channelNames.join(' and ')} with different filters, but one output has only one set.`,
    next: 'Give each its own output, or set the same filters for both.',
  }),
  'look-for-distortion': ({ channelName, thdPercent, place, seenPercent, toVolume }) => ({
    text: `${channelName} distorts alike (${formatQuantity(thdPercent, '%')}) whatever its gain, so the distortion arises before its amplifier.`,
    next:
      toVolume !== undefined && seenPercent !== undefined
        ? `The source itself shows ${formatQuantity(seenPercent, '%')} at this volume. Lower the working volume to ${toVolume}, then set the levels again.`
        : `Capture ${place === 'source' ? 'the source' : 'this output'} at the working volume to see whether it arises here.`,
  }),
} satisfies WordsOf<keyof AccountFindings>;

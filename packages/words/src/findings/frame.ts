import { formatQuantity, signedDb, plainFigure, type FrameFindings } from '@yield/core';
import { unsignedDb, type WordsOf } from '../said.ts';

const RECORDS = { reading: 'A reading', capture: 'A capture', mark: 'A tick' } as const;

export const frame = {
  stale: ({ what, why, next }) => ({
    text: `${what} no longer ${what.endsWith('s') ? 'count' : 'counts'}: ${why.join('; ')}.`,
    next,
  }),
  'below-lowest': ({ loadOhm, amplifierName, plannedOhm }) => ({
    text: `${formatQuantity(loadOhm, 'ohm')} is below the minimum load of ${amplifierName}. Measured in its range it is ${formatQuantity(plannedOhm, 'ohm')} or more, but not at other frequencies or with a cold or stuck coil.`,
    next: 'The maker’s minimum load applies: you may lose the warranty, and the amplifier can burn out. A higher-impedance wiring is the safe choice.',
  }),
  'load-too-low': ({ note }) => ({
    text: note,
    next: 'Choose a higher-impedance wiring first.',
  }),
  'dummy-too-low': ({ dummyOhm, amplifierName }) => ({
    text: `A dummy load of ${formatQuantity(dummyOhm, 'ohm')} is below the minimum load of ${amplifierName}.`,
    next: 'Use a higher-value dummy load or the drivers, under “How this channel is set”.',
  }),
  'filters-not-seen': ({ channelName }) => ({
    text: `The filters of ${channelName} are not confirmed yet.`,
    next: 'Confirm them first. No driver gets a tone before its filter is set.',
  }),
  'cannot-judge': ({ of, why }) =>
    of === 'chain'
      ? {
          text: `This step cannot be judged: ${why}.`,
          next: 'Check the chain and the house rules. The history shows the last changes.',
        }
      : {
          text: `${RECORDS[of]} here cannot be judged and is ignored: ${why}.`,
          next: of === 'mark' ? 'Tick this step again.' : `Void the ${of}, then take it again.`,
        },
  'pair-targets-apart': ({ channelName, ownVolt, otherName, otherVolt, apartDb, reason }) => ({
    text: `${channelName} has a target of ${formatQuantity(ownVolt, 'V')}, its pair ${otherName} ${formatQuantity(otherVolt, 'V')}: a difference of ${signedDb(apartDb)}.`,
    next: `${reason} Correct it in the chain, or state there that the two should differ.`,
  }),
  'pair-alike': ({ isBelowMeter, ownVolt, otherVolt, otherName }) => ({
    text: isBelowMeter
      ? `${formatQuantity(ownVolt, 'V')} against ${formatQuantity(otherVolt, 'V')} of ${otherName}: no difference this meter can show.`
      : `${formatQuantity(ownVolt, 'V')} against ${formatQuantity(otherVolt, 'V')} of ${otherName}: within tolerance.`,
  }),
  'pair-off': ({ ownVolt, otherVolt, otherName, differenceDb }) => ({
    text: `${formatQuantity(ownVolt, 'V')} against ${formatQuantity(otherVolt, 'V')} of ${otherName}: a difference of ${signedDb(Math.abs(differenceDb)).replace('+', '')}, and ${otherName} is the one to correct.`,
    next: 'Leave this channel as it is.',
  }),
  'pair-apart': ({ at, wantedVolt, ownVolt, otherVolt, otherName, differenceDb }) => ({
    text: `${formatQuantity(ownVolt, 'V')} against ${formatQuantity(otherVolt, 'V')} of ${otherName}: a difference of ${unsignedDb(differenceDb)}.`,
    next:
      at === 'gain'
        ? `Bring this channel to ${formatQuantity(wantedVolt, 'V')}.`
        : 'Check this side’s load leads and contacts, the knob and the supply. Then read it again.',
  }),
  'too-coarse': ({ voltageRms, typedStep, meterStep }) => ({
    text: `${plainFigure(voltageRms)} V is too coarse: it could be anything from ${plainFigure(voltageRms - typedStep / 2)} to ${plainFigure(voltageRms + typedStep / 2)} V.`,
    next: `Type every digit the meter shows, including zeros. At this level it shows steps of ${formatQuantity(meterStep, 'V')}.`,
  }),
  next: ({ help }) => ({ text: help }),
  'simulated-only': ({ count }) => ({
    text:
      count === 1
        ? 'One reading is from the simulated bench and does not count here.'
        : `${count} readings are from the simulated bench and do not count here.`,
    next: 'Measure on the car, or mark this tune as practice in the house rules.',
  }),
  skipped: ({ skippedReason }) => ({
    text: `Skipped: ${skippedReason}`,
  }),
  'not-seen-to': ({ tickedFor, isOther, checks }) => ({
    text: isOther ? `These checks were ticked for ${tickedFor ?? 'other settings'}.` : `Not ticked yet: ${checks.join('; ')}.`,
    next: 'Check each one and tick it. The reading only counts with all of them ticked.',
  }),
} satisfies WordsOf<keyof FrameFindings>;

import { formatQuantity, signedDb, HELD_WORDS, plainFigure, USUAL_SUPPLY, type GainFindings } from '@yield/core';
import { unsignedDb, type Said, type WordsOf } from '../said.ts';

function levelOff(isToo: 'low' | 'high', { at, differenceDb, turns }: GainFindings['level-low']): Said {
  const size = unsignedDb(differenceDb);
  const way = isToo === 'low' ? 'up' : 'down';
  return {
    text: `${size} too ${isToo}.`,
    next: `Turn ${at === 'output' ? 'this output' : 'the gain'} ${way} ${size}${turns === undefined ? '' : `, ${turns}`}, then read again.`,
  };
}

const otherTone = ({ toneHz, differenceDb, cause }: GainFindings['tone-boosted']): string =>
  `${formatQuantity(toneHz, 'Hz')} reads ${signedDb(differenceDb)} relative to the gain tone. ${cause}`;

const FAR_DB = -10;

const PLACES = {
  source: 'Capture the source at the working volume: its output may clip there.',
  processor: 'The source is clean. Capture the processor output that feeds this channel.',
  amplifier: 'Source and processor are clean: the amplifier itself distorts at any level. Check its input, then have it repaired.',
} as const;

export const gain = {
  'gain-at-end': ({ differenceDb, voltageRms, inputMinVolt, workingVolume, volumeSteps }) => ({
    text: `Clean under load, and ${formatQuantity(-differenceDb, 'dB')} short: it stays at ${formatQuantity(voltageRms, 'V')}. With the gain at maximum, the input signal is too weak.${inputMinVolt === undefined ? '' : ` This amplifier needs at least ${formatQuantity(inputMinVolt, 'V')}.`}`,
    next: `Tick the end stop to accept this, or feed it more: ${workingVolume < volumeSteps ? 'a higher working volume if the source stays clean there,' : 'more voltage'} or a hotter output.`,
  }),
  'tone-boosted': (figures) => ({ text: otherTone(figures), next: 'Turn the boost off at the amplifier, or set the gain with this tone.' }),
  'tone-lost': (figures) => ({ text: otherTone(figures), next: 'Enter that filter in the chain, or leave it: it causes no clipping.' }),
  'power-unknown': ({ reason }) => ({
    text: reason,
  }),
  'reads-nothing': ({ at, voltageRms = 0 }) => ({
    text:
      at === 'crossover'
        ? `${formatQuantity(voltageRms, 'V')} at most at every tone: no signal comes through.`
        : 'The meter reads nothing.',
    next:
      at === 'crossover'
        ? 'Check that the amplifier is on and out of protection, that its remote wire, fuse and input plug are in place, and that this channel’s terminals are the ones you probe. Then begin this row again.'
        : `Check that the tone plays, the meter is on AC volts and the probes are on this ${at === 'output' ? 'output’s centre pin and shell' : 'channel’s terminals'}.`,
  }),
  'scope-first': () => ({
    text: 'Setting by scope: load connected, short bursts, raise the gain until the peaks just start to flatten.',
    next: 'Capture the output, and again after each adjustment.',
  }),
  'scope-unclear': ({ isFlat }) => ({
    text: isFlat
      ? 'The peaks are flat, but not at a level that meter and scope agree on.'
      : 'The last capture does not show at which voltage this channel is clean or starts to flatten.',
    next: isFlat
      ? 'Turn the gain down a little and capture again.'
      : 'Capture at least five cycles of the tone, in volts, with the load connected.',
  }),
  'scope-clean': ({ voltageRms, byDb }) => ({
    text: `Clean at ${formatQuantity(voltageRms, 'V')}: not at the ceiling yet.`,
    next: `Turn the gain up ${formatQuantity(byDb, 'dB')}, then capture again.`,
  }),
  'on-target': ({ withinMeterOnly, differenceDb }) => ({
    text: withinMeterOnly
      ? `On target: ${signedDb(differenceDb)} is below what this meter can resolve.`
      : `On target: ${signedDb(differenceDb)}.`,
  }),
  'level-low': (figures) => levelOff('low', figures),
  'level-high': (figures) => levelOff('high', figures),
  'voltage-stuck': ({ voltageRms }) => ({
    text: `Three readings stay at ${formatQuantity(voltageRms, 'V')}. If you raised the gain in between, the amplifier clips or limits below the target, or its gain is at maximum.`,
    next: 'Stop turning. Capture the output under load: the voltage where it flattens is this amplifier’s limit on this supply.',
  }),
  'held-by': ({ powerWatt, by, nextBy, nextWatt }) => ({
    text: `${formatQuantity(powerWatt, 'W')}: limited by ${HELD_WORDS[by]}. Without that, ${HELD_WORDS[nextBy]} would limit it to ${formatQuantity(nextWatt, 'W')}.`,
  }),
  'power-guessed': () => ({
    text: 'No rating entered. Ten watts per ampere of fuse is only an estimate.',
    next: 'Set it by scope, or prove it with captures under load.',
  }),
  'rating-not-made': ({ onsetVolt, loadOhm, ratedWatt }) => ({
    text: `Into this load it clips at ${formatQuantity(onsetVolt, 'V')}, ${formatQuantity(onsetVolt ** 2 / loadOhm, 'W')}: less than its rated ${formatQuantity(ratedWatt, 'W')} on this supply.`,
    next: 'The target stays below that onset. To get more, check the supply voltage under load.',
  }),
  'by-meter': ({ ratedVolt, apartDb }) => ({
    text: `By its rating the target would be ${formatQuantity(ratedVolt, 'V')}, ${signedDb(apartDb)} relative to the clipping onset.`,
  }),
  'fuses-short': ({ powerWatt, currentAmpere, fuseAmpere }) => ({
    text: `${formatQuantity(powerWatt, 'W')} needs ${plainFigure(currentAmpere)} A at ${plainFigure(USUAL_SUPPLY.voltage)} V and ${100 * USUAL_SUPPLY.efficiency} % efficiency, but the fuses are rated ${plainFigure(fuseAmpere)} A.`,
    next: 'Either the fuses or the rating are wrong. Prove it under load, and never fit larger fuses than the manual allows.',
  }),
  'sag-counted': ({ sagDb }) => ({
    text: `Under load the voltage drops ${formatQuantity(sagDb, 'dB')}, as the proof showed. The target allows for it.`,
  }),
  blended: ({ blendDb }) => ({
    text: `Set ${formatQuantity(blendDb, 'dB')} below its ceiling by your level trim.`,
  }),
  'remote-down': ({ remoteAt }) => ({
    text: `The remote knob is at ${remoteAt} in everyday use. Set this gain with the knob fully up, so that it stays clean at any position.`,
  }),
  'case-overdrives': ({ caseName, liftDb, workingVolume, safeStep }) => ({
    text: `“${caseName}” raises the input here by ${formatQuantity(liftDb, 'dB')}: with it this channel clips at volume ${workingVolume}.`,
    next:
      safeStep === undefined
        ? 'With that setting, keep the volume that much lower.'
        : `With it the volume is clean up to ${safeStep}. Tell the owner.`,
  }),
  'tone-outside': ({ toneHz, lossDb, betterHz }) => ({
    text: `${formatQuantity(toneHz, 'Hz')} is outside this channel’s range: its filters attenuate it by ${formatQuantity(-lossDb, 'dB')}, so a voltage there says nothing about the gain.`,
    next: betterHz === undefined ? 'Prove the filters first.' : `Use ${formatQuantity(betterHz, 'Hz')} for this channel.`,
  }),
  'tone-near-corner': ({ toneHz, lossDb, betterHz }) => ({
    text: `${formatQuantity(toneHz, 'Hz')} is ${lossDb < FAR_DB ? 'outside this channel’s range' : 'too close to a filter corner to set this gain'}: the filters attenuate it by ${formatQuantity(-lossDb, 'dB')}, and a small dial error changes that a lot.`,
    next:
      betterHz === undefined
        ? 'Prove the filters first.'
        : `Use ${formatQuantity(betterHz, 'Hz')} for this channel, or prove the filters first.`,
  }),
  'meter-out-of-band': ({ toneHz, highestHz }) => ({
    text: `The tone is ${formatQuantity(toneHz, 'Hz')}, but the meter is only accurate to ${formatQuantity(highestHz, 'Hz')}: it may read low.`,
    next: 'Use the scope here: a capture at this step counts as the voltage. Or choose a lower tone that its filters pass.',
  }),
  'reads-peak': ({ factor }) => ({
    text: `This is ${factor} times the target.`,
    next: 'That is what a peak or peak-to-peak value would be. If the figure is from a scope, use its RMS value.',
  }),
  'distorts-upstream': ({ thdPercent, lowVolt, highVolt, place }) => ({
    text: `The same ${formatQuantity(thdPercent, '%')} distortion at ${formatQuantity(lowVolt, 'V')} and at ${formatQuantity(highVolt, 'V')}: it does not come from the gain.`,
    next: PLACES[place],
  }),
  'reads-far-off': ({ differenceDb }) => ({
    text: `${unsignedDb(differenceDb)} too ${differenceDb < 0 ? 'low' : 'high'}: no gain knob spans that much.`,
    next: 'Check that the meter is on AC volts and on the right range, that this step’s tone plays at the working volume, and that the signal reaches the amplifier. If it reads the same again, the stage is faulty.',
  }),
  'gain-at-lowest': ({ differenceDb, toVolume }) => ({
    text: `The voltage no longer falls and is still ${unsignedDb(differenceDb)} too high: the gain is at its lowest.`,
    next:
      toVolume === undefined
        ? 'Feed the amplifier less: lower the processor output or the working volume, then set the gain again.'
        : `Lower the working volume to ${toVolume}, then set the gains again. Or lower the processor output that feeds this channel.`,
  }),
} satisfies WordsOf<keyof GainFindings>;

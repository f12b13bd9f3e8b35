import { formatQuantity, fixed, type ProofFindings } from '@yield/core';
import type { WordsOf } from '../said.ts';

export const proof = {
  'dummy-apart': ({ dummyOhm, loadOhm, isLighter }) => ({
    text: `The dummy load is ${formatQuantity(dummyOhm, 'ohm')}, the drivers ${formatQuantity(loadOhm, 'ohm')}: ${isLighter ? 'a clean result on the lighter load may clip with the drivers' : 'it draws more current than the drivers and clips earlier'}.`,
    next: `Repeat the proof with the drivers, or with a resistor of about ${formatQuantity(loadOhm, 'ohm')}.`,
  }),
  'dummy-current-apart': ({ foundOhm, dummyOhm }) => ({
    text: `Voltage and current give ${formatQuantity(foundOhm, 'ohm')}, but the dummy load is ${formatQuantity(dummyOhm, 'ohm')}.`,
    next: 'Check that the clamp is on AC around one wire and the drivers are disconnected. A hot resistor reads slightly higher, never by a third.',
  }),
  'dummy-heat': ({ powerWatt, ratedWatt, burstSecond, pauseSecond }) => ({
    text: `The dummy load takes ${formatQuantity(powerWatt, 'W')}, rated ${formatQuantity(ratedWatt, 'W')}: ${
      burstSecond === undefined
        ? 'it can take that continuously, but it will still burn your hand.'
        : `bursts of ${burstSecond} s at most, then ${pauseSecond} s rest. It stays hot enough to burn you for minutes.`
    }`,
  }),
  'dummy-too-small': ({ powerWatt, ratedWatt }) => ({
    text: `The dummy load takes ${formatQuantity(powerWatt, 'W')}, rated ${formatQuantity(ratedWatt, 'W')}: that is more than ten times its rating. It can crack, go open circuit or set fire to what it lies on.`,
    next: 'Use a larger one, or several. If it goes open circuit, the amplifier runs unloaded and the proof is worthless.',
  }),
  'impedance-low': ({ ohm, hertz }) => ({
    text: `The load drops to ${formatQuantity(ohm, 'ohm')} at ${formatQuantity(hertz, 'Hz')}: below this amplifier’s minimum there.`,
    next: 'Choose a higher-impedance wiring, or play nothing loud around that frequency.',
  }),
  'impedance-unknown': ({ hertz }) => ({
    text: `The entered impedance curve does not reach ${formatQuantity(hertz, 'Hz')}.`,
  }),
  'impedance-rise': ({ toneHz, ohm, riseRatio, powerWatt, isApparent, currentAmpere, loadOhm, plannedOhm }) => ({
    text: `At ${formatQuantity(toneHz, 'Hz')} the load is ${formatQuantity(ohm, 'ohm')}, ${fixed(riseRatio, 1)} times nominal: it takes ${formatQuantity(powerWatt, 'W')}${isApparent ? ' at most' : ''}, not the ${formatQuantity((ohm * currentAmpere) ** 2 / loadOhm, 'W')} of ${formatQuantity(loadOhm, 'ohm')}.`,
    next:
      plannedOhm > loadOhm
        ? `By the house rule the gain is set for ${formatQuantity(plannedOhm, 'ohm')}. Elsewhere in its range the load may draw more current.`
        : 'No action needed: at other tones it takes more power. The gain stays set for the nominal load.',
  }),
  'supply-drops': ({ restVolt, loadedVolt }) => ({
    text: `The supply drops ${formatQuantity(restVolt - loadedVolt, 'V')} at the amplifier’s own terminals while the tone plays.`,
    next: 'The cause is the power wire, fuse, ground or battery, not the amplifier. Measure along the wire to find the loss.',
  }),
  'supply-low': ({ loadedVolt }) => ({
    text: `${formatQuantity(loadedVolt, 'V')} at its terminals is too low for most amplifiers.`,
    next: 'Charge the battery or run the engine (outdoors only: exhaust gas kills), then read again.',
  }),
  'supply-scales': ({ ratedAtVolt, powerWatt, loadedVolt }) => ({
    text: `Rated at ${formatQuantity(ratedAtVolt, 'V')}, it makes about ${formatQuantity(powerWatt, 'W')} at ${formatQuantity(loadedVolt, 'V')}.`,
  }),
  'clips-at-lower-supply': ({ supplyVolt, cleanVolt, overDb }) => ({
    text: `At ${formatQuantity(supplyVolt, 'V')} it would start to clip at about ${formatQuantity(cleanVolt, 'V')}, ${formatQuantity(overDb, 'dB')} below a full-scale tone at this gain.`,
    next: 'With the engine off it clips that much earlier. To stay clean there, allow it as headroom.',
  }),
  'no-capture': () => ({
    text: 'No capture yet. A voltage alone does not show clipping.',
    next: 'Drop a capture of the output under load.',
  }),
  'no-voltage': () => ({
    text: 'No voltage under load yet.',
    next: 'Read the meter with the load connected.',
  }),
  'loaded-above-unloaded': ({ at, differenceDb, unloadedVolt }) =>
    at === 'proof'
      ? {
          text: `The voltage under load is ${formatQuantity(differenceDb, 'dB')} above the ${formatQuantity(unloadedVolt, 'V')} set without load: the gain or volume was turned up in between.`,
          next: 'Set the gain again, then repeat the proof.',
        }
      : {
          text: `The loaded voltage is ${formatQuantity(differenceDb, 'dB')} above the unloaded one, which is impossible: the gain or volume was changed in between.`,
          next: 'Read both again without touching anything in between.',
        },
  'capture-uncalibrated': () => ({
    text: 'The capture is in fractions of full scale, not volts, so its level cannot be checked.',
    next: 'Capture while the meter shows this voltage, or enter the recorder’s full scale in volts.',
  }),
  'capture-level-apart': ({ meterVolt, captureVolt, probeFactor }) => ({
    text: `The meter reads ${formatQuantity(meterVolt, 'V')} and the capture shows ${formatQuantity(captureVolt, 'V')} on the same terminals: one of them is not from this level.`,
    next:
      probeFactor === undefined
        ? 'Capture again while the meter shows the voltage, or read the meter again.'
        : `A probe factor of ${probeFactor} would explain it. Apply it, or capture again.`,
  }),
  'no-channel': () => ({
    text: 'The capture has no such channel.',
  }),
  'capture-clean': ({ thdPercent }) => ({
    text: `The output is clean under load${thdPercent === undefined ? '' : ` (distortion ${formatQuantity(thdPercent, '%')})`}.`,
  }),
  'capture-onset': ({ thdPercent, byDb }) => ({
    text: `The peaks just start to flatten${thdPercent === undefined ? '' : ` (distortion ${formatQuantity(thdPercent, '%')})`}.`,
    next: `Turn the gain down ${formatQuantity(byDb, 'dB')} and capture again.`,
  }),
  'capture-clipped': ({ thdPercent, overdrive }) => ({
    text: `The output clips under load${thdPercent === undefined ? '' : ` (distortion ${formatQuantity(thdPercent, '%')})`}, overdriven by about ${formatQuantity(overdrive, 'dB')}.`,
    next: `Turn the gain down ${formatQuantity(overdrive, 'dB')} or more, read the voltage, then capture again.`,
  }),
  'capture-distorted': ({ byDb, thdPercent }) => ({
    text: `The output is distorted, but the peaks are not flat${thdPercent === undefined ? '' : ` (distortion ${formatQuantity(thdPercent, '%')})`}.`,
    next: `Turn the gain down ${formatQuantity(byDb, 'dB')} and capture again: distortion that stays the same comes from upstream.`,
  }),
  'capture-over-range': () => ({
    text: 'The capture hit the recorder’s own limits, so it says nothing about the amplifier.',
    next: 'Choose a larger range or a 10:1 probe and capture again.',
  }),
  'capture-unusable': () => ({
    text: 'This capture cannot be judged: it is too short, too coarse or has no tone.',
    next: 'Capture at least five cycles while the tone plays.',
  }),
  'drivers-overdriven': ({ fullScaleWatt, driversWatt }) => ({
    text: `A full-scale tone delivers ${formatQuantity(fullScaleWatt, 'W')} to drivers rated ${formatQuantity(driversWatt, 'W')}.`,
    next: 'Turn the gain down, or add headroom in the house rules.',
  }),
  'power-fits': ({ fullScaleWatt, driversWatt }) => ({
    text: `${formatQuantity(fullScaleWatt, 'W')} at full scale, within the drivers’ ${formatQuantity(driversWatt, 'W')}.`,
  }),
  'power-short': ({ fullScaleWatt, setForWatt, shortDb }) => ({
    text: `That is ${formatQuantity((100 * fullScaleWatt) / setForWatt, '%')} of this channel’s target power, ${formatQuantity(shortDb, 'dB')} short.`,
    next:
      shortDb <= 2
        ? 'Check supply voltage and wiring under load, or accept it: this is barely audible.'
        : 'Check the supply voltage and the wiring under load, and that the current was read around one wire.',
  }),
  sags: ({ dropDb, sourceOhm }) => ({
    text: `The output drops ${formatQuantity(dropDb, 'dB')} under load, equal to ${formatQuantity(sourceOhm, 'ohm')} in the amplifier and its supply.`,
  }),
  'supply-implausible': ({ volt }) => ({
    text: `${formatQuantity(volt, 'V')} is not a vehicle supply: check the decimal point and the meter’s range.`,
    next: 'Read the supply again on DC volts.',
  }),
  'supply-rises': ({ restVolt, loadedVolt }) => ({
    text: `The supply rises from ${formatQuantity(restVolt, 'V')} to ${formatQuantity(loadedVolt, 'V')} under load, which is impossible unless the engine was started in between.`,
    next: 'Read both again with the engine in the same state.',
  }),
  'clamp-implausible': ({ foundOhm, loadOhm, isHigh }) => ({
    text: `Voltage and current give ${formatQuantity(foundOhm, 'ohm')}, but the load is ${formatQuantity(loadOhm, 'ohm')}: ${isHigh ? 'hardly any current flows' : 'less than its own copper'}.`,
    next: isHigh
      ? 'Check that the drivers are connected and the clamp is on AC around one wire, then read the current again.'
      : 'Check that the clamp is around one wire only and set to AC. If it still reads this much, look for a short in the load.',
  }),
} satisfies WordsOf<keyof ProofFindings>;

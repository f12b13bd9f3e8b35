import { FAMILY_NAMES, formatQuantity, type CrossoverFindings } from '@yield/core';
import { capital, type Said, type WordsOf } from '../said.ts';

const LEFT_OUT_WORDS = {
  meter: 'the meter is not accurate there',
  'other-filter': 'another filter of this channel attenuates too much there',
  nothing: 'nothing was read',
  'other-level': 'the volume or the tone’s level was different',
};

const setAndReally = (setHz: number, cornerHz: number): string =>
  `Set to ${formatQuantity(setHz, 'Hz')}, really ${formatQuantity(cornerHz, 'Hz')}`;

const leftOut = (tones: readonly string[], why: string): Said => ({ text: `Left out: ${tones.join(', ')}. ${capital(why)}.` });

export const crossover = {
  'filter-changed': ({ then, present }) => ({
    text: `The voltages were read with ${then}. The filter is now ${present}.`,
    next: 'Read them again.',
  }),
  'no-sweep': ({ fileName, reason }) => ({
    text: fileName === undefined ? reason : `${fileName}: ${reason}`,
  }),
  'corner-accepted': ({ filter }) => ({
    text: `Accepted as measured: ${filter}. Later steps use this value.`,
  }),
  'voltages-missing': ({ missing }) => ({
    text: missing === 1 ? 'One more voltage is needed.' : `${missing} more voltages are needed.`,
  }),
  'setting-suspected': ({ suspicions: [first, second] }) => ({
    text: `The voltages look as if ${first}${second === undefined ? '' : `, or ${second}`}.`,
    next: 'Check the gear, correct it, and read the voltages again.',
  }),
  'not-a-filter': ({ reason, isSuspected }) => ({
    text: reason,
    next: isSuspected ? undefined : 'Check the probes, then read again around the corner.',
  }),
  'filter-ambiguous': ({ filters }) => ({
    text: `Ambiguous: ${filters.join(' or ')} fit these voltages equally well.`,
    next: 'Read one more frequency, where they differ most.',
  }),
  'slopes-alike': ({ orders }) => ({
    text: `${orders.join(' and ')} dB per octave fit equally well. The set slope is used.`,
  }),
  'other-family': ({ family, setFamily }) => ({
    text: `Its alignment is ${FAMILY_NAMES[family]}, not ${FAMILY_NAMES[setFamily]}, so its phase at the crossover differs.`,
  }),
  'corner-right': ({ setHz, cornerHz, order }) => ({
    text: `${setAndReally(setHz, cornerHz)}, ${6 * order} dB per octave.`,
  }),
  'corner-off': ({ setHz, cornerHz, order, tryAt }) => ({
    text: `${setAndReally(setHz, cornerHz)}, ${6 * order} dB per octave.`,
    next: tryAt === undefined ? undefined : `Try ${tryAt}, then read the voltages again, or accept it as measured.`,
  }),
  'slope-off': ({ setHz, cornerHz, order, setOrder }) => ({
    text: `${setAndReally(setHz, cornerHz)}, ${6 * order} dB per octave instead of ${6 * setOrder}.`,
    next: 'Check the slope switch, then read the voltages again.',
  }),
  'left-out-meter': ({ tones, meterBand }) => leftOut(tones, `${LEFT_OUT_WORDS.meter}: its manual says ${meterBand}`),
  'left-out-other-filter': ({ tones }) => leftOut(tones, LEFT_OUT_WORDS['other-filter']),
  'left-out-nothing': ({ tones }) => leftOut(tones, LEFT_OUT_WORDS.nothing),
  'left-out-other-level': ({ tones }) => leftOut(tones, LEFT_OUT_WORDS['other-level']),
  'passband-out-of-reach': ({ meterBand }) => ({
    text: `This meter is good ${meterBand}: it cannot read this filter’s passband.`,
    next: 'Capture a sweep at the terminals instead, or use a meter with more bandwidth.',
  }),
  'tones-left-out': ({ meterBand }) => ({
    text: `Frequencies that the meter cannot read (${meterBand}) are not proposed.`,
  }),
} satisfies WordsOf<keyof CrossoverFindings>;

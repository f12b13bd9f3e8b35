// Eight microphones in one recording of the long sweep, from the file's bytes to eight curves.
import { heardSweep } from '@yield/bench';
import { analyseCapture, encodeWav, LONG_SWEEP, type Channel } from '@yield/core';

const RATE_HZ = 48_000;
const channel: Channel = {
  id: 'front',
  name: 'Front',
  amplifierId: 'amp',
  mode: 'stereo',
  terminals: 'A',
  band: 'full-range',
  loadOhm: 4,
  drivers: [],
};
const places = Array.from({ length: 8 }, (_, k) => `place ${k + 1}`);
const heard = places.map((place) => heardSweep(LONG_SWEEP, RATE_HZ, channel, 'bench', place));
const wav = encodeWav(heard, { sampleRateHz: RATE_HZ, bits: 24 });
const times = Array.from({ length: 3 }, () => {
  const began = performance.now();
  const { channels } = analyseCapture(wav, { sweep: LONG_SWEEP });
  if (channels.some(({ response }) => response?.kind !== 'response')) throw new Error('a sweep was not found');
  return performance.now() - began;
});
console.log(JSON.stringify(times));

// Writes a recording of the long sweep at 48 kHz, as the simulated factory unit gives it.
import { writeFileSync } from 'node:fs';
import { encodeWav, LONG_SWEEP, seededRandom } from '@yield/core';
import { recordedSweep } from '../../packages/bench/src/factoryUnit.ts';

const sampleRateHz = 48_000;
const samples = recordedSweep(LONG_SWEEP, sampleRateHz, 22, seededRandom('bench'));
writeFileSync(process.argv[2], encodeWav([samples], { sampleRateHz, bits: 16 }));

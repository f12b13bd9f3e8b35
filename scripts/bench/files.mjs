import { closeSync, openSync, writeSync } from 'node:fs';

/** A two-channel CSV as an eight-bit scope writes it: one channel clipped, both with noise. */
export function writeCsv(file, rows) {
  const handle = openSync(file, 'w');
  const step = 40 / 256;
  let state = 1;
  const noise = () => {
    state = (Math.imul(state, 1664525) + 1013904223) | 0;
    return (state / 2 ** 31) * step;
  };
  let block = 'Time (s),CH1 (V),CH2 (V)\n';
  for (let i = 0; i < rows; i += 1) {
    const angle = 2 * Math.PI * 1000.3e-6 * i;
    const one = Math.max(-16, Math.min(16, 18 * Math.sin(angle))) + noise();
    const two = 14 * Math.sin(angle + 0.3) + noise();
    block += `${(i * 1e-6).toFixed(6)},${(Math.round(one / step) * step).toFixed(5)},${(Math.round(two / step) * step).toFixed(5)}\n`;
    if (block.length > 1 << 20) {
      writeSync(handle, block);
      block = '';
    }
  }
  writeSync(handle, block);
  closeSync(handle);
}

/** A stereo 16-bit WAV at 48 kHz. */
export function writeWav(file, frames) {
  const handle = openSync(file, 'w');
  const header = Buffer.alloc(44);
  header.write('RIFF', 0);
  header.writeUInt32LE(36 + frames * 4, 4);
  header.write('WAVEfmt ', 8);
  header.writeUInt32LE(16, 16);
  header.writeUInt16LE(1, 20);
  header.writeUInt16LE(2, 22);
  header.writeUInt32LE(48000, 24);
  header.writeUInt32LE(192000, 28);
  header.writeUInt16LE(4, 32);
  header.writeUInt16LE(16, 34);
  header.write('data', 36);
  header.writeUInt32LE(frames * 4, 40);
  writeSync(handle, header);
  const block = Buffer.alloc(4 * 100_000);
  for (let from = 0; from < frames; from += 100_000) {
    const count = Math.min(100_000, frames - from);
    for (let i = 0; i < count; i += 1) {
      const sine = Math.sin((2 * Math.PI * 50 * (from + i)) / 48000);
      block.writeInt16LE(Math.round(Math.max(-14000, Math.min(14000, 16000 * sine))), 4 * i);
      block.writeInt16LE(Math.round(12000 * sine), 4 * i + 2);
    }
    writeSync(handle, block, 0, 4 * count);
  }
  closeSync(handle);
}

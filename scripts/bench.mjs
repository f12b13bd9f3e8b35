// npm run bench: a row a case. Speed is measured here and never in a timed test. With "vehicles" behind it, made-up vehicles are tuned instead.
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { browserCases } from './bench/browserCases.mjs';
import { endpointCase, largestCapture } from './bench/endpointCase.mjs';
import { writeCsv, writeWav } from './bench/files.mjs';
import { mixedClients } from './bench/mixedClients.mjs';
import { storeCases } from './bench/storeCases.mjs';
import { vehicleCases } from './bench/vehicleCases.mjs';
import { build, checkNode, installNpmPackages, ROOT } from './lib/project.mjs';
import { run } from './lib/run.mjs';

const folder = mkdtempSync(path.join(os.tmpdir(), 'yield-bench-'));
const rows = [];
const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];
const percentile = (values, share) => [...values].sort((a, b) => a - b)[Math.floor(values.length * share)];
const ms = (value) => `${value.toFixed(0)} ms`;
const row = (name, result, goal, met) => rows.push({ case: name, result, goal, met: met === undefined ? '' : met ? 'yes' : 'NO' });

async function main() {
  checkNode();
  await installNpmPackages();
  await build();
  const [what, ...given] = process.argv.slice(2);
  if (what === 'vehicles') return vehicleCases(lastLine, given);
  const csv = path.join(folder, 'two-channels.csv');
  const wav = path.join(folder, 'stereo.wav');
  writeCsv(csv, 1_000_000);
  writeWav(wav, 10_000_000);
  const traceCase = async (file, runs) =>
    JSON.parse(await run(process.execPath, [path.join(ROOT, 'scripts/bench/traceCase.mjs'), file, String(runs)], { quiet: true }));

  const table = await traceCase(csv, 9);
  row('CSV, 2 channels × 1 M rows, first run', ms(table.times[0]), 'under 1200 ms', table.times[0] < 1200);
  const warm = median(table.times.slice(2));
  row('CSV, the same, warm (median)', ms(warm), 'under 1200 ms', warm < 1200);
  const { times, numpy } = await endpointCase(csv);
  if (numpy.times.length === 0) row('CSV over HTTP against NumPy', 'NumPy is not on this machine', 'under 0.60', undefined);
  else {
    const share = median(times) / median(numpy.times);
    const yardstick = `NumPy ${numpy.version} loadtxt + rfft, ${ms(median(numpy.times))}`;
    row(
      `CSV, the same, over HTTP against ${yardstick}`,
      `${ms(median(times))}, ${share.toFixed(2)} of its time`,
      'under 0.60',
      share < 0.6,
    );
  }

  const sound = await traceCase(wav, 3);
  row('WAV, stereo 16 bit × 10 M frames', ms(median(sound.times)), '');
  const largest = path.join(folder, 'largest.wav');
  writeWav(largest, 63_000_000);
  const { file, peak } = await largestCapture(largest);
  rmSync(largest);
  row(`WAV of ${file.toFixed(0)} MB over HTTP, the server's memory at its peak`, `${peak.toFixed(0)} MB`, 'under 1000 MB', peak < 1000);

  const sweep = path.join(folder, 'sweep.wav');
  await run(process.execPath, ['--import', 'tsx', path.join(ROOT, 'scripts/bench/writeSweep.mjs'), sweep], { cwd: ROOT, quiet: true });
  const { firstLoad, secondVisit, readings, plans, deconvolution, drag, band, zoom } = await browserCases(wav, sweep);
  row('First load, compressed script before a chart', `${(firstLoad / 1000).toFixed(0)} kB`, 'under 250 kB', firstLoad < 250_000);
  row(
    'Later visit without a server, address to verdict (median of 5)',
    ms(median(secondVisit)),
    'under 1000 ms',
    median(secondVisit) < 1000,
  );
  row('Reading, Enter to verdict on the screen (median)', ms(median(readings)), 'under 50 ms', median(readings) < 50);
  row('Reading, the same, slowest of 20', ms(Math.max(...readings)), '');
  row('Eight dual-coil drivers, click to drawn wirings (median)', ms(median(plans)), 'under 50 ms', median(plans) < 50);
  row('Eight dual-coil drivers, slowest of 20', ms(Math.max(...plans)), '');
  row(
    'Sweep of 10 s at 48 kHz, file to response (median of 5)',
    ms(median(deconvolution.times)),
    'under 1000 ms',
    median(deconvolution.times) < 1000,
  );
  row('Sweep, frame time meanwhile (median)', `${median(deconvolution.frames).toFixed(1)} ms`, '16.7 ms is 60 a second');
  row(
    'Sweep, frame time meanwhile (95 of 100)',
    `${percentile(deconvolution.frames, 0.95).toFixed(1)} ms`,
    'under 33 ms',
    percentile(deconvolution.frames, 0.95) < 33,
  );
  for (const [what, { gaps, repaints }] of [
    ['Corner dragged, four ways and their sum', drag],
    ['Band dragged, three places, average, target and sum', band],
  ]) {
    const drawn = `${median(gaps).toFixed(1)} ms, ${repaints} of ${gaps.length} frames drew anew`;
    row(`${what}, frame time (median)`, drawn, '16.7 ms is 60 a second', median(gaps) < 17);
    const slow = percentile(gaps, 0.95);
    row(`${what.split(',')[0]}, frame time (95 of 100)`, `${slow.toFixed(1)} ms`, 'under 33 ms', slow < 33);
  }
  row('Zoom through 10 M samples, frame time (median)', `${median(zoom).toFixed(1)} ms`, '16.7 ms is 60 a second');
  row(
    'Zoom through 10 M samples, frame time (95 of 100)',
    `${percentile(zoom, 0.95).toFixed(1)} ms`,
    'under 33 ms',
    percentile(zoom, 0.95) < 33,
  );
  const { evaluation, listFirst, list, tune, run: report, plans: reads, sought, readers } = await storeCases(folder);
  for (const { name, warm: times } of evaluation)
    row(`Evaluation, ${name} (median)`, `${median(times).toFixed(2)} ms`, 'under 4 ms', median(times) < 4);
  row('List of 1000 tunes of 500 readings, first page (median of 21)', ms(median(list)), 'under 150 ms', median(list) < 150);
  row('The same, searched and sorted (median of 21)', ms(median(sought)), 'under 150 ms', median(sought) < 150);
  row('The same, each of its summaries made anew', ms(listFirst), '');
  row(
    `${readers.count} readers for ${readers.seconds} s: ${readers.took.length} answers, median`,
    ms(median(readers.took)),
    'without an error',
    readers.failed.length === 0,
  );
  for (const failure of new Set(readers.failed)) console.log(failure);
  row('One tune of 500 readings (median of 21)', ms(median(tune)), 'under 150 ms', median(tune) < 150);
  row('Its run over HTTP (median of 21)', ms(median(report)), '');
  const mixed = await mixedClients();
  const stored = mixed.rows.reading;
  row(
    `${mixed.clients} clients mixed for ${mixed.seconds} s: a reading stored (95 of 100)`,
    `${ms(stored.p95)}, median ${ms(stored.p50)}`,
    'under 300 ms',
    stored.p95 < 300 && mixed.failed.length === 0,
  );
  row('The same, slowest health', ms(mixed.health.worst), 'under 250 ms', mixed.health.worst < 250);
  const amplifiers = await lastLine('scripts/bench/fiftyAmplifiers.ts', '50');
  const within = amplifiers.filter(({ missDb, thdPercent, stuck }) => stuck === undefined && Math.abs(missDb) <= 0.5 && thdPercent <= 1);
  row(
    `${amplifiers.length} made-up amplifiers, tuned by the run's actions alone`,
    `${within.length} clean within 0.5 dB`,
    'all of them',
    within.length === amplifiers.length,
  );
  const fits = await lastLine('scripts/bench/fitCases.ts');
  const reached = fits.rows.filter(({ leftDb, scipyDb }) => scipyDb > 1.2 || leftDb <= 1.5);
  row(
    `${fits.rows.length} simulated cabins, five bands: within 1.5 dB where SciPy is within 1.2`,
    `${reached.length} of them`,
    'all of them',
    reached.length === fits.rows.length,
  );
  const search = await lastLine('scripts/bench/search.ts');
  row(
    `Find anything, 200 tunes (${search.items} things), a letter typed (median)`,
    `${median(search.times).toFixed(1)} ms`,
    'under 50 ms',
    median(search.times) < 50,
  );
  row(
    'Find anything, slowest letter; the index made once',
    `${Math.max(...search.times).toFixed(0)} ms; ${search.build.toFixed(0)} ms`,
    '',
  );
  const eight = await lastLine('scripts/bench/eightSweeps.ts');
  row('Eight channels of a 10 s sweep at 48 kHz, file to curves', ms(median(eight)), 'under 4000 ms', median(eight) < 4000);
  row(`Ten bands over ${fits.points} points (median of 5)`, ms(median(fits.tenBands)), 'under 300 ms', median(fits.tenBands) < 300);
  const large = await lastLine('scripts/bench/largeCaptures.mjs', '4', '200');
  const arrive = 'Four captures of 200 MB at once';
  row(`${arrive}, slowest health`, ms(large.slowestHealthMs), 'under 1000 ms', large.slowestHealthMs < 1000);
  row(`${arrive}, memory at its peak`, `${large.memoryPeakMb} MB`, 'under 1500 MB', large.memoryPeakMb < 1500);
  console.table(rows);
  console.log('\nWhat five bands leave of simulated cabins, in dB RMS');
  console.table(
    fits.rows.map(({ cabin, nulls, beforeDb, leftDb, scipyDb }) => ({
      cabin,
      nulls,
      before: beforeDb.toFixed(2),
      left: leftDb.toFixed(2),
      scipy: scipyDb.toFixed(2),
    })),
  );
  console.log("\nWhat the run's actions alone made of made-up amplifiers");
  console.table(
    amplifiers.map(({ name, traits, moves, missDb, thdPercent, stuck }) => ({
      name,
      traits,
      moves,
      missDb: missDb?.toFixed(2),
      thdPercent: thdPercent?.toFixed(2),
      stuck,
    })),
  );
  for (const { name, plan } of reads) console.log(`\nHow PostgreSQL reads the ${name}\n${plan}`);
}

/** What a script of the bench prints last, as data. */
async function lastLine(script, ...given) {
  const printed = await run(process.execPath, ['--import', 'tsx', path.join(ROOT, script), ...given], {
    cwd: ROOT,
    quiet: true,
  });
  return JSON.parse(printed.trim().split('\n').at(-1));
}

main()
  .catch((error) => {
    console.error(error.message);
    process.exitCode = 1;
  })
  .finally(() => rmSync(folder, { recursive: true, force: true }));

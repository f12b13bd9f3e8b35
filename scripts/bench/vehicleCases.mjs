// npm run bench -- vehicles 200 --seed any: made-up vehicles tuned by the run's actions alone, a row each, and how they ended.

/**
 * @param lastLine - runs a script and gives what it prints last
 * @param given - the words behind "vehicles": how many, and --seed with a word
 */
export async function vehicleCases(lastLine, given) {
  const seedAt = given.indexOf('--seed');
  const seed = seedAt === -1 ? 'any' : (given[seedAt + 1] ?? 'any');
  const count = Number(given.find((word, i) => /^\d+$/.test(word) && (seedAt === -1 || i !== seedAt + 1)) ?? 50);
  const vehicles = await lastLine('scripts/bench/vehicles.ts', String(count), seed);
  console.table(
    vehicles.map(({ name, fault, moves, worst, lowest, verdict, stuck }) => ({
      vehicle: name,
      fault: fault ?? '',
      moves,
      'distortion %': `${worst.thdPercent.toFixed(2)} at ${worst.atHz} Hz`,
      'off dB': lowest.missDb.toFixed(2),
      ended: verdict,
      left: (stuck ?? '').slice(0, 60),
    })),
  );
  const sound = vehicles.filter(({ fault }) => fault === undefined);
  const faulty = vehicles.filter(({ fault }) => fault !== undefined);
  const told = (list, word) => list.filter(({ verdict }) => verdict.startsWith(word)).length;
  const table = (of, list) => ({
    vehicles: of,
    count: list.length,
    'finished, clean, within 0.5 dB': told(list, 'right'),
    'green and not clean': list.filter(({ verdict, worst }) => verdict.startsWith('false') && worst.thdPercent > 1.3).length,
    'green and off by more': list.filter(({ verdict, worst }) => verdict.startsWith('false') && worst.thdPercent <= 1.3).length,
    'ended with a question': list.filter(({ verdict, stuck }) => verdict === 'not finished' && stuck?.startsWith('ends')).length,
    'without an end': list.filter(({ verdict, stuck }) => verdict === 'not finished' && !stuck?.startsWith('ends')).length,
  });
  console.table([table('sound', sound), table('with a fault', faulty)]);
  const histogram = new Map();
  for (const { moves } of vehicles) histogram.set(20 * Math.floor(moves / 20), (histogram.get(20 * Math.floor(moves / 20)) ?? 0) + 1);
  console.table(
    [...histogram].sort(([a], [b]) => a - b).map(([from, vehiclesOfIt]) => ({ moves: `${from} to ${from + 19}`, vehicles: vehiclesOfIt })),
  );
}

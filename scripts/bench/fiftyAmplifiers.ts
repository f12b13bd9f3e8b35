// A scripted tuner who does only what Yield says, at so many made-up amplifiers: tsx fiftyAmplifiers.ts COUNT → JSON, a line each.
import { figuresOf, madeAmplifiers, outputWaveform, ScriptedTuner, walkOverHttp, type MadeAmplifier } from '@yield/bench';
import { createHash } from 'node:crypto';
import { startThrowawayServer } from '../lib/throwawayServer.mjs';

interface Outcome {
  name: string;
  traits: string;
  moves: number;
  /** against the lesser of what it makes clean and what it is rated for, in dB */
  missDb?: number;
  thdPercent?: number;
  /** why the run did not come to its end */
  stuck?: string;
}

const count = Number(process.argv[2] ?? 50);
/** Another one: another hand, meter and source at the same amplifiers. */
const seed = process.argv[3] ?? '';
const server = await startThrowawayServer();
try {
  const outcomes: Outcome[] = [];
  for (const made of madeAmplifiers(count)) outcomes.push(await tuned(made));
  console.log(JSON.stringify(outcomes));
} finally {
  await server.remove();
}

async function tuned(made: MadeAmplifier): Promise<Outcome> {
  const id = sameId(made.name);
  const base = `${server.url}/api/v1/tunes/${id}`;
  const json = async (method: string, address: string, body: object): Promise<void> => {
    const response = await fetch(address, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
    if (!response.ok) throw new Error(`${address}: ${await response.text()}`);
  };
  const { name, traits, settings, chain, vehicle, cleanVolt, ratedVolt } = made;
  await json('POST', `${server.url}/api/v1/tunes`, { id, name, vehicle: '' });
  await json('PUT', base, { version: 1, name, vehicle: '', settings });
  await json('PUT', `${base}/chain`, { version: 1, chain });
  const tuner = new ScriptedTuner(id, vehicle);
  try {
    const { moves, open } = await walkOverHttp(base, tuner, { from: new Date('2026-06-02T08:00:00Z'), mostMoves: 400 });
    const now = (await (await fetch(base)).json()) as { chain: { body: typeof chain } };
    const channel = now.chain.body.channels[0]!;
    const toneHz = settings.rules.bassToneHz;
    const wave = outputWaveform(vehicle.physicsOf(channel), {
      volume: now.chain.body.source.workingVolume,
      knob: tuner.knobOf(channel.id),
      loadConnected: true,
      toneHz,
      toneLevelDbfs: 0,
      supplyVolt: vehicle.supplyVolt,
    });
    const { rms, thdPercent } = figuresOf(wave, toneHz);
    return {
      name,
      traits,
      moves,
      missDb: 20 * Math.log10(rms / Math.min(cleanVolt, ratedVolt)),
      thdPercent,
      ...(open.length === 0 ? {} : { stuck: open.join(', ') }),
    };
  } catch (error) {
    return { name, traits, moves: 0, stuck: (error as Error).message.slice(0, 300) };
  }
}

/** The tune's id seeds the tuner's hand and meter: the same amplifiers end the same every time. */
function sameId(name: string): string {
  const hex = createHash('sha256').update(`${name}${seed}`).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-4${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

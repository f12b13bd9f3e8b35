// A scripted tuner who does only what Yield says, at so many made-up vehicles: tsx vehicles.ts COUNT SEED → JSON, one a vehicle.
import { Car, CarTuner, Ended, madeCars, truthOf, walkOverHttp, type ChannelTruth, type MadeCar, type RealCar } from '@yield/bench';
import type { Chain, RunReport, StepReport } from '@yield/core';
import { createHash } from 'node:crypto';
import { startThrowawayServer } from '../lib/throwawayServer.mjs';

interface Outcome {
  name: string;
  fault?: string;
  moves: number;
  /** whether the run came to its end, every required step done */
  isFinished: boolean;
  /** what stopped it: an open step, or something that nobody can give */
  stuck?: string;
  asked: string[];
  /** codes of what was found wrong on the way, each once */
  told: string[];
  worst?: ChannelTruth;
  lowest?: ChannelTruth;
  volume: number;
  /** 'right', 'false green' or 'not finished' */
  verdict: string;
}

/** A full-scale tone beyond this is not clean whatever the house's limit of 1 % leaves of a meter's and a scope's own error. */
const DIRTY_PERCENT = 1.3;
const NEAR_DB = 0.5;

const count = Number(process.argv[2] ?? 50);
const seed = process.argv[3] ?? 'any';
/** A vehicle's name, or a family's: those alone, with every move told. */
const only = process.argv[4];
const isTold = only !== undefined;
const server = await startThrowawayServer();
try {
  const outcomes: Outcome[] = [];
  for (const made of madeCars(count, seed))
    if (only === undefined || made.name === only || made.family === only) outcomes.push(await tuned(made));
  console.log(JSON.stringify(outcomes));
} finally {
  await server.remove();
}

async function tuned(made: MadeCar): Promise<Outcome> {
  const id = sameId(`${seed}/${made.name}`);
  const base = `${server.url}/api/v1/tunes/${id}`;
  const json = async (method: string, address: string, body: object): Promise<void> => {
    const response = await fetch(address, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
    if (!response.ok) throw new Error(`${address}: ${await response.text()}`);
  };
  const { name, settings, chain, real, fault } = made;
  await json('POST', `${server.url}/api/v1/tunes`, { id, name, vehicle: '' });
  await json('PUT', base, { version: 1, name, vehicle: '', settings });
  await json('PUT', `${base}/chain`, { version: 1, chain });
  const car = new Car(real);
  const told = new Set<string>();
  const tuner = new CarTuner(real.seed, car, (what) => mended(car, made, what));
  let moves = 0;
  let stuck: string | undefined;
  try {
    const walk = await walkOverHttp(base, tuner, {
      from: new Date('2026-06-02T08:00:00Z'),
      mostMoves: 900,
      onMove: (step) => {
        const { findings } = step;
        moves += 1;
        if (isTold) console.error(toldOf(moves, step));
        for (const { code, grade } of findings) if (grade === 'stop' || grade === 'attention') told.add(code);
      },
    });
    stuck = walk.open.length === 0 ? undefined : walk.open.slice(0, 3).join(', ');
  } catch (error) {
    stuck = `${error instanceof Ended ? 'ends: ' : ''}${(error as Error).message.slice(0, 400)}`;
  }
  const now = (await (await fetch(base)).json()) as { chain: { body: Chain } };
  const { steps } = (await (await fetch(`${base}/run`)).json()) as RunReport;
  const body = now.chain.body;
  const truths = body.channels.map((channel) => ({ channel, ...truthOf(car, body, channel, settings.rules) }));
  const worst = truths.reduce((a, b) => (b.thdPercent > a.thdPercent ? b : a));
  const lowest = truths.reduce((a, b) => (Math.abs(b.missDb) > Math.abs(a.missDb) ? b : a));
  const isGreen = (channelId: string): boolean =>
    steps.filter(({ id: step }) => step === `gain:${channelId}` || step === `proof:${channelId}`).every(({ status }) => status === 'done');
  const falseGreen = truths.filter(
    ({ channelId, thdPercent, missDb }) => isGreen(channelId) && (thdPercent > DIRTY_PERCENT || Math.abs(missDb) > NEAR_DB),
  );
  const isFinished = stuck === undefined;
  const plain = ({ channelId, thdPercent, atHz, missDb }: ChannelTruth): ChannelTruth => ({ channelId, thdPercent, atHz, missDb });
  return {
    name,
    ...(fault === undefined ? {} : { fault: fault.kind }),
    moves,
    isFinished,
    ...(stuck === undefined ? {} : { stuck }),
    asked: tuner.asked,
    told: [...told],
    worst: plain(worst),
    lowest: plain(lowest),
    volume: body.source.workingVolume,
    verdict:
      falseGreen.length > 0
        ? `false green: ${falseGreen.map(({ channelId }) => channelId).join(', ')}`
        : isFinished
          ? 'right'
          : 'not finished',
  };
}

/** One move, for whoever looks why a run went as it did. */
function toldOf(move: number, { id, status, action, findings, target }: StepReport): string {
  const wrong = findings.filter(({ grade }) => grade === 'stop' || grade === 'attention' || grade === 'stale');
  const what = wrong.map(
    ({ code, figures }) =>
      `${code} ${JSON.stringify(figures, (_key, value: unknown) => (typeof value === 'number' ? Number(value.toPrecision(4)) : value))}`,
  );
  return `${move} ${id} ${status} ${JSON.stringify(action)} target ${target?.value.toFixed(3) ?? '–'} ${what.join(' | ').slice(0, 400)}`;
}

/** Somebody was sent to look: what can be mended with hands is mended, once it is asked about. */
function mended(car: Car, { fault, real }: MadeCar, what: string): boolean {
  if (fault === undefined || what === 'stuck') return false;
  const sound = soundOf(fault.kind, real, fault.channelId, fault.amplifierId);
  if (sound === undefined || sound === car.real) return false;
  const isMended = JSON.stringify(sound) === JSON.stringify(car.real);
  car.real = sound;
  return !isMended;
}

/** The car without its fault; nothing where the fault is what the gear can give. */
function soundOf(kind: string, real: RealCar, channelId = '', amplifierId = ''): RealCar | undefined {
  const { hiddenBell: _source, ...source } = real.source;
  const {
    hiddenBell: _boost,
    hiddenHighpassHz: _filter,
    ...amplifier
  } = real.amplifierOf[amplifierId] ?? ({} as RealCar['amplifierOf'][string]);
  switch (kind) {
    case 'wrong join':
    case 'one coil only':
    case 'short':
    case 'dead channel': {
      const { isDead: _dead, ...load } = real.loadOf[channelId]!;
      return { ...real, loadOf: { ...real.loadOf, [channelId]: { ...load, wiring: 'right' } } };
    }
    case 'loudness left on':
      return { ...real, source };
    case 'boost left up':
    case 'hidden high-pass':
      return { ...real, amplifierOf: { ...real.amplifierOf, [amplifierId]: amplifier } };
    default:
      return undefined;
  }
}

/** The same vehicles end the same every time. */
function sameId(name: string): string {
  const hex = createHash('sha256').update(name).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-4${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

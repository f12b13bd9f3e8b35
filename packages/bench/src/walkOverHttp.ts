import type { Chain, Reading, RunReport, StepMark, StepReport, TuneSettings } from '@yield/core';
import type { Move, ScriptedTuner } from './tuner.ts';

/** A tune as the walk needs it. */
interface WalkedTune {
  chain: { version: number; body: Chain };
  settings: TuneSettings;
  marks: (StepMark & { version: number })[];
  readings: Reading[];
}

export interface Walk {
  moves: number;
  /** steps that are left, with their status; none where the run was carried to its end */
  open: string[];
}

const isOpen = ({ status, isOptional }: StepReport): boolean => !isOptional && status !== 'done' && status !== 'skipped';

/** A step that wants the same move so often turns in circles. */
const MAX_AGAIN = 40;

/**
 * Carries a tune's run to its end over HTTP, by nothing but the actions that the run names.
 *
 * @param base - address of the tune, such as http://127.0.0.1:4620/api/v1/tunes/…
 * @param from - when the first move is made; each next one is a minute later
 * @throws {Error} where a step names no move, turns in circles, or what it asks for is refused
 */
export async function walkOverHttp(
  base: string,
  tuner: ScriptedTuner,
  { from, mostMoves, onMove }: { from: Date; mostMoves: number; onMove?: (step: StepReport) => void },
): Promise<Walk> {
  const read = async <T>(path: string): Promise<T> => {
    const response = await fetch(`${base}${path}`);
    if (!response.ok) throw new Error(`${path}: ${response.status}`);
    return (await response.json()) as T;
  };
  const before = await read<WalkedTune>('');
  tuner.takeOver(before.readings, before.chain.body);
  const seen = new Map<string, number>();
  let clockMs = from.getTime();
  let moves = 0;
  for (; moves < mostMoves; moves += 1) {
    const { steps } = await read<RunReport>('/run');
    const first = steps.find(isOpen);
    if (first === undefined) break;
    const step = targetOf(first, steps);
    const { action } = step;
    onMove?.(step);
    if (action === undefined) throw new Error(`${step.id} is ${step.status} and names no move: ${JSON.stringify(step.findings)}`);
    // A move that changes nothing comes again: better said at once than after a time-out.
    const again = (seen.get(`${step.id} ${action.kind}`) ?? 0) + 1;
    seen.set(`${step.id} ${action.kind}`, again);
    if (again > MAX_AGAIN) throw new Error(`${step.id} turns in circles: ${JSON.stringify({ action, findings: step.findings })}`);
    const tune = await read<WalkedTune>('');
    for (const move of await tuner.follow(action, step, tune.chain.body, tune.settings, steps)) {
      clockMs += 60_000;
      const sent = await send(base, move.at ?? step.id, move, tune, new Date(clockMs).toISOString());
      if (!sent.ok) throw new Error(`${step.id}: ${JSON.stringify(action)} → ${sent.status} ${await sent.text()}`);
    }
  }
  const { steps } = await read<RunReport>('/run');
  return { moves, open: steps.filter(isOpen).map(({ id, status }) => `${id} ${status}`) };
}

/** Another step may have to be gone to first. */
function targetOf(step: StepReport, steps: readonly StepReport[]): StepReport {
  const { action } = step;
  return action?.kind === 'go' ? (steps.find(({ id }) => id === action.to) ?? step) : step;
}

function send(base: string, stepId: string, move: Move, { chain, marks }: WalkedTune, takenAt: string): Promise<Response> {
  const put = (path: string, body: object): Promise<Response> =>
    fetch(`${base}${path}`, { method: 'PUT', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
  switch (move.kind) {
    case 'reading':
      return put(`/readings/${crypto.randomUUID()}`, { ...move.reading, stepId, takenAt });
    case 'capture': {
      const query = new URLSearchParams({ stepId, fileName: move.fileName, takenAt, conditions: JSON.stringify(move.conditions) });
      const body = typeof move.content === 'string' ? move.content : new Uint8Array(move.content);
      return fetch(`${base}/traces/${crypto.randomUUID()}?${query.toString()}`, {
        method: 'PUT',
        headers: { 'content-type': move.contentType },
        body,
      });
    }
    case 'mark':
      return put(`/marks/${stepId}`, {
        version: marks.find((mark) => mark.stepId === stepId)?.version ?? 0,
        checks: move.checks,
        ...(move.basis === undefined ? {} : { basis: move.basis }),
        ...(move.basisWords === undefined ? {} : { basisWords: move.basisWords }),
      });
    case 'void':
      return fetch(`${base}/${move.of === 'reading' ? 'readings' : 'traces'}/${move.id}/void`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ reason: 'the run asks for it' }),
      });
    case 'chain':
      return put('/chain', { version: chain.version, chain: move.chain });
  }
}

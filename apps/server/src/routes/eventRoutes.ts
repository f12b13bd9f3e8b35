import { EventsQuery } from '@yield/contract';
import type { Router } from 'express';
import { operationRouter } from '../operationRouter.ts';
import { actorOf, idOf, queryOf } from '../requests.ts';
import type { TuneEvents } from '../store/tuneEvents.ts';
import type { TuneStore } from '../store/tuneStore.ts';

/** A line that is silent for longer may be cut by whatever lies between. */
const PULSE_MS = 15_000;
const MAX_NAME = 60;

/** What happens to a tune, as server-sent events. */
export function eventRoutes(store: Pick<TuneStore, 'changes'>, events: TuneEvents): Router {
  const { router, on } = operationRouter('/tunes/{tuneId}/events');
  on('tuneEvents', async (request, response) => {
    const tuneId = idOf(request, 'tuneId');
    const { device, who } = queryOf(EventsQuery, request);
    const { changes } = await store.changes(tuneId);
    // Whoever asks for the head alone waits for no event.
    if (request.method === 'HEAD') {
      response.type('text/event-stream').end();
      return;
    }
    response.writeHead(200, { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store, no-transform', Connection: 'keep-alive' });
    // A line that breaks off is told by its `close`; what was on its way then is nobody's fault.
    response.on('error', () => undefined);
    const send = (event: object): void => {
      response.write(`data: ${JSON.stringify(event)}\n\n`);
    };
    send({ kind: 'changed', changes });
    const name = (who ?? actorOf(request).who ?? '').slice(0, MAX_NAME);
    const leave = events.follow(tuneId, { id: device, ...(name === '' ? {} : { name }) }, send);
    const pulse = setInterval(() => response.write(': still here\n\n'), PULSE_MS);
    const end = (): void => {
      clearInterval(pulse);
      leave();
    };
    // Whoever went away while the tune was looked up is not followed.
    if (response.destroyed) end();
    else response.once('close', end);
  });
  return router;
}

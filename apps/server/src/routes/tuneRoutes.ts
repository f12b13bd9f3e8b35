import { ChangesQuery, HistoryQuery, MOST_VERSION, SheetQuery, TuneListQuery, type NewReading } from '@yield/contract';
import { chainFaults, originWords, signedSheetWords, takesReading } from '@yield/core';
import { Router, type Request, type RequestHandler } from 'express';
import { takenBy } from '../clocks.ts';
import type { MakeSheet } from '../handover/sheetMaker.ts';
import { faulty, notFound } from '../problem.ts';
import { actorOf, bodyOf, idOf, queryOf } from '../requests.ts';
import type { TuneList } from '../store/tuneList.ts';
import type { TuneStore } from '../store/tuneStore.ts';

/** Tunes, their chains, readings and marks. */
export function tuneRoutes(json: RequestHandler, store: TuneStore, list: Pick<TuneList, 'page' | 'run'>, makeSheet: MakeSheet): Router {
  const router = Router();
  router.use(json);

  router.get('/', async (request, response) => {
    const { rows, total, pending } = await list.page(queryOf(TuneListQuery, request));
    response.setHeader('X-Total-Count', total);
    if (pending > 0) response.setHeader('X-Pending-Count', pending);
    response.json(rows);
  });
  router.post('/', async (request, response) => {
    response.status(201).json(await store.create(await bodyOf('newTune', request), actorOf(request)));
  });
  router.get('/archive', async (_request, response) => {
    response.json(await store.archive());
  });
  router.post('/:tuneId/copy', async (request, response) => {
    response.status(201).json(await store.copy(idOf(request, 'tuneId'), await bodyOf('newTune', request), actorOf(request)));
  });
  router.get('/:tuneId', async (request, response) => {
    response.json(await store.read(idOf(request, 'tuneId')));
  });
  router.get('/:tuneId/run', async (request, response) => {
    const id = idOf(request, 'tuneId');
    await store.ready(id);
    const text = await list.run(id);
    if (text === undefined) throw notFound('This tune');
    response.type('application/json').send(text);
  });
  router.get('/:tuneId/sheet.pdf', async (request, response) => {
    const { paper = 'a4', issue } = queryOf(SheetQuery, request);
    if (issue !== undefined) {
      const { id, sheet, provenance } = await store.signedSheet(idOf(request, 'tuneId'), issue);
      const words = signedSheetWords(provenance);
      const signed = await makeSheet(`${id}/${paper}/${words}`, { sheet: words === '' ? sheet : { ...sheet, origin: words }, paper });
      response.attachment(`${sheet.job} issue ${issue}.pdf`).type('application/pdf').send(Buffer.from(signed));
      return;
    }
    const { id, name, vehicle, changes, chain, settings: own, origin, ...records } = await store.read(idOf(request, 'tuneId'));
    const madeAt = new Date().toISOString();
    // A sheet has a day on it, and no hour.
    const from = origin === undefined ? '' : originWords(origin);
    const pdf = await makeSheet(`${id}/${changes}/${paper}/${madeAt.slice(0, 10)}/${from}`, {
      chain: chain.body,
      settings: own,
      records,
      heading: { job: name, vehicle, madeAt, ...(from === '' ? {} : { origin: from }) },
      paper,
    });
    response
      .attachment(`${name} ${paper === 'card' ? 'card' : 'sheet'}.pdf`)
      .type('application/pdf')
      .send(Buffer.from(pdf));
  });
  router.get('/:tuneId/sheets', async (request, response) => {
    makeSheet.warm();
    response.json(await store.sheets(idOf(request, 'tuneId')));
  });
  router.post('/:tuneId/sheets', async (request, response) => {
    response.status(201).json(await store.sign(idOf(request, 'tuneId'), await bodyOf('signSheet', request), actorOf(request)));
  });
  router.get('/:tuneId/changes', async (request, response) => {
    response.json(await store.changes(idOf(request, 'tuneId'), queryOf(ChangesQuery, request).since));
  });
  router.put('/:tuneId', async (request, response) => {
    response.json(await store.save(idOf(request, 'tuneId'), await bodyOf('saveTune', request), actorOf(request)));
  });
  router.delete('/:tuneId', async (request, response) => {
    await store.putAway(idOf(request, 'tuneId'), actorOf(request));
    response.status(204).end();
  });
  router.post('/:tuneId/restore', async (request, response) => {
    await store.restore(idOf(request, 'tuneId'), actorOf(request));
    response.status(204).end();
  });
  router.put('/:tuneId/chain', async (request, response) => {
    const body = await bodyOf('saveChain', request);
    const faults = chainFaults(body.chain).map((fault) => ({ ...fault, pointer: `/chain${fault.pointer}` }));
    if (faults.length > 0) throw faulty(faults);
    response.json(await store.saveChain(idOf(request, 'tuneId'), body, actorOf(request)));
  });
  router.get('/:tuneId/chain/:version', async (request, response) => {
    const version = Number(request.params.version);
    if (!Number.isInteger(version) || version < 1 || version > MOST_VERSION) throw notFound('This revision');
    response.json(await store.revision(idOf(request, 'tuneId'), version));
  });
  router.put('/:tuneId/edits/:editId', async (request, response) => {
    const edit = await bodyOf('edit', request);
    response.json(await store.edit(idOf(request, 'tuneId'), idOf(request, 'editId'), edit, actorOf(request)));
  });
  router.get('/:tuneId/history', async (request, response) => {
    response.json(await store.history(idOf(request, 'tuneId'), queryOf(HistoryQuery, request)));
  });
  router.put('/:tuneId/readings/:readingId', async (request, response) => {
    const reading = await readingOf(request);
    const taken = takenBy(request, reading.takenAt);
    const { outcome, takenAt } = await store.saveReading(
      idOf(request, 'tuneId'),
      idOf(request, 'readingId'),
      reading,
      taken,
      actorOf(request),
    );
    response.status(outcome === 'stored' ? 201 : 200).json({ outcome, takenAt: takenAt.toISOString() });
  });
  router.post('/:tuneId/readings/:readingId/void', async (request, response) => {
    await store.voidReading(idOf(request, 'tuneId'), idOf(request, 'readingId'), (await bodyOf('void', request)).reason, actorOf(request));
    response.status(204).end();
  });
  router.post('/:tuneId/readings/:readingId/restore', async (request, response) => {
    await store.voidReading(idOf(request, 'tuneId'), idOf(request, 'readingId'), null, actorOf(request));
    response.status(204).end();
  });
  router.put('/:tuneId/marks/:stepId', async (request, response) => {
    response.json(
      await store.saveMark(idOf(request, 'tuneId'), request.params.stepId, await bodyOf('saveMark', request), actorOf(request)),
    );
  });
  return router;
}

async function readingOf(request: Request): Promise<NewReading> {
  const reading = await bodyOf('reading', request);
  if (!takesReading(reading.stepId, reading.kind)) {
    throw faulty([{ pointer: '/kind', message: `the step ${reading.stepId} takes no reading of the kind ${reading.kind}` }]);
  }
  return reading;
}

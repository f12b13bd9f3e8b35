import { ChangesQuery, HistoryQuery, MAX_VERSION, RunQuery, SheetQuery, TuneListQuery, type NewReading } from '@yield/contract';
import { chainFaults, takesReading } from '@yield/core';
import { originWords, signedSheetWords } from '@yield/sheet';
import type { Request, RequestHandler, Response, Router } from 'express';
import { operationRouter } from '../operationRouter.ts';
import { takenBy } from '../clocks.ts';
import type { MakeSheet } from '../handover/sheetMaker.ts';
import { faulty, notFound } from '../problem.ts';
import { actorOf, bodyOf, idOf, queryOf } from '../requests.ts';
import type { TuneList } from '../store/tuneList.ts';
import type { TuneStore } from '../store/tuneStore.ts';

/** Tunes, their chains, readings and marks. */
export function tuneRoutes(
  json: RequestHandler,
  store: TuneStore,
  list: Pick<TuneList, 'page' | 'run' | 'tune'>,
  makeSheet: MakeSheet,
): Router {
  const { router, on } = operationRouter('/tunes');
  router.use(json);

  on('listTunes', async (request, response) => {
    const { rows, total, pending } = await list.page(queryOf(TuneListQuery, request));
    response.setHeader('X-Total-Count', total);
    if (pending > 0) response.setHeader('X-Pending-Count', pending);
    response.json(rows);
  });
  on('createTune', async (request, response) => {
    response.status(201).json(await store.create(await bodyOf('newTune', request), actorOf(request)));
  });
  on('listArchive', async (_request, response) => {
    response.json(await store.archive());
  });
  on('copyTune', async (request, response) => {
    response.status(201).json(await store.copy(idOf(request, 'tuneId'), await bodyOf('newTune', request), actorOf(request)));
  });
  on('readTune', async (request, response) => {
    const id = idOf(request, 'tuneId');
    await store.ready(id);
    sendText(response, await list.tune(id));
  });
  on('readRun', async (request, response) => {
    const id = idOf(request, 'tuneId');
    await store.ready(id);
    const { words = 'on' } = queryOf(RunQuery, request);
    sendText(response.set('Content-Language', 'en'), await list.run(id, words === 'on'));
  });
  on('readSheet', async (request, response) => {
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
  on('listSheets', async (request, response) => {
    makeSheet.warm();
    response.json(await store.sheets(idOf(request, 'tuneId')));
  });
  on('signSheet', async (request, response) => {
    response.status(201).json(await store.sign(idOf(request, 'tuneId'), await bodyOf('signSheet', request), actorOf(request)));
  });
  on('readChanges', async (request, response) => {
    response.json(await store.changes(idOf(request, 'tuneId'), queryOf(ChangesQuery, request).since));
  });
  on('saveTune', async (request, response) => {
    response.json(await store.save(idOf(request, 'tuneId'), await bodyOf('saveTune', request), actorOf(request)));
  });
  on('deleteTune', async (request, response) => {
    await store.putAway(idOf(request, 'tuneId'), actorOf(request));
    response.status(204).end();
  });
  on('restoreTune', async (request, response) => {
    await store.restore(idOf(request, 'tuneId'), actorOf(request));
    response.status(204).end();
  });
  on('saveChain', async (request, response) => {
    const body = await bodyOf('saveChain', request);
    const faults = chainFaults(body.chain).map((fault) => ({ ...fault, pointer: `/chain${fault.pointer}` }));
    if (faults.length > 0) throw faulty(faults);
    response.json(await store.saveChain(idOf(request, 'tuneId'), body, actorOf(request)));
  });
  on('readRevision', async (request, response) => {
    const version = Number(request.params.version);
    if (!Number.isInteger(version) || version < 1 || version > MAX_VERSION) throw notFound('This revision');
    response.json(await store.revision(idOf(request, 'tuneId'), version));
  });
  on('editTune', async (request, response) => {
    const edit = await bodyOf('edit', request);
    response.json(await store.edit(idOf(request, 'tuneId'), idOf(request, 'editId'), edit, actorOf(request)));
  });
  on('readHistory', async (request, response) => {
    response.json(await store.history(idOf(request, 'tuneId'), queryOf(HistoryQuery, request)));
  });
  on('saveReading', async (request, response) => {
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
  on('voidReading', async (request, response) => {
    await store.voidReading(idOf(request, 'tuneId'), idOf(request, 'readingId'), (await bodyOf('void', request)).reason, actorOf(request));
    response.status(204).end();
  });
  on('restoreReading', async (request, response) => {
    await store.voidReading(idOf(request, 'tuneId'), idOf(request, 'readingId'), null, actorOf(request));
    response.status(204).end();
  });
  on('saveMark', async (request, response) => {
    response.json(
      await store.saveMark(idOf(request, 'tuneId'), request.params.stepId ?? '', await bodyOf('saveMark', request), actorOf(request)),
    );
  });
  return router;
}

/** Sends what a thread made. @throws {Problem} 404 where it found no such tune */
function sendText(response: Response, text: string | undefined): void {
  if (text === undefined) throw notFound('This tune');
  response.type('application/json').send(text);
}

async function readingOf(request: Request): Promise<NewReading> {
  const reading = await bodyOf('reading', request);
  if (!takesReading(reading.stepId, reading.kind)) {
    throw faulty([{ pointer: '/kind', message: `the step ${reading.stepId} takes no reading of the kind ${reading.kind}` }]);
  }
  return reading;
}

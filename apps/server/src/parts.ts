import type { DataSource } from 'typeorm';
import { exporter, type Exporter } from './exchange/exporter.ts';
import { importer, type Importer } from './exchange/importer.ts';
import { sheetMaker, type MakeSheet } from './handover/sheetMaker.ts';
import { jsonThreads, type JsonThreads } from './json/jsonThreads.ts';
import type { ServerSettings } from './settings.ts';
import { tuneEvents, type TuneEvents } from './store/tuneEvents.ts';
import { tuneList, type TuneList } from './store/tuneList.ts';
import { Admission } from './traces/admission.ts';
import { startTraceWorkers, type TraceWorkers } from './traces/traceWorkers.ts';

/** What the interface works with; whoever starts them closes them. */
export interface Parts {
  dataSource: DataSource;
  workers: TraceWorkers;
  threads: JsonThreads;
  list: TuneList;
  events: TuneEvents;
  makeSheet: MakeSheet;
  exporter: Exporter;
  importer: Importer;
  /** room for captures that are read */
  admission: Admission;
}

/** Starts every part of the server over a connected database. @returns them, and what ends all of them */
export function startParts(
  settings: ServerSettings,
  dataSource: DataSource,
  { listPatienceMs }: { listPatienceMs?: number } = {},
): { parts: Parts; close: () => Promise<void> } {
  const { databaseUrl } = settings;
  const parts: Parts = {
    dataSource,
    workers: startTraceWorkers(),
    threads: jsonThreads(),
    list: tuneList(dataSource, databaseUrl, listPatienceMs),
    events: tuneEvents(databaseUrl),
    makeSheet: sheetMaker(),
    exporter: exporter(settings),
    importer: importer(settings),
    // One of the largest at a time, or several smaller ones.
    admission: new Admission(settings.traceLimitBytes),
  };
  const { workers, threads, list, events, makeSheet, exporter: exports, importer: imports } = parts;
  return {
    parts,
    close: async () => {
      await Promise.allSettled([workers, threads, list, events, makeSheet, exports, imports].map((part) => part.close()));
    },
  };
}

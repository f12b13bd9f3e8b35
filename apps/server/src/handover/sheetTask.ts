import { say } from '@yield/words';
import { settledSituation, runOf, type Chain, type RunRecords, type TuneSettings } from '@yield/core';
import { ownerSheet, type OwnerSheet, type SheetHeading } from '@yield/sheet';
import { sheetPdf, type Paper } from './sheetPdf.ts';
import { standBack } from '../standBack.ts';

standBack();

/** A tune as it stands, or a sheet that was signed. */
export type SheetTask = { paper: Paper } & (
  | { sheet: OwnerSheet }
  | { chain: Chain; settings: TuneSettings; records: RunRecords; heading: SheetHeading }
);

/** Runs on a worker thread: works a tune out and sets its sheet. */
export default function runSheetTask(asked: SheetTask | 'warm'): Promise<Uint8Array> {
  // The thread is there, and has read what it needs: the next one begins at once.
  if (asked === 'warm') return Promise.resolve(new Uint8Array(0));
  const { paper, ...task } = asked;
  if ('sheet' in task) return sheetPdf(task.sheet, paper);
  const now = settledSituation(task.chain, task.settings, task.records);
  return sheetPdf(ownerSheet(now, runOf(now), task.heading, say), paper);
}

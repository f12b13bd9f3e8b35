import { newSituation, ownerSheet, runOf, type Chain, type OwnerSheet, type RunRecords, type TuneSettings } from '@yield/core';
import { sheetPdf, type Paper } from './sheetPdf.ts';

export interface SheetTask {
  chain: Chain;
  settings: TuneSettings;
  records: RunRecords;
  heading: Pick<OwnerSheet, 'job' | 'vehicle' | 'madeAt'>;
  paper: Paper;
}

/** Runs on a worker thread: works a tune out and sets its sheet. */
export default function runSheetTask({ chain, settings, records, heading, paper }: SheetTask): Promise<Uint8Array> {
  const now = newSituation(chain, settings, records);
  return sheetPdf(ownerSheet(now, runOf(now), heading), paper);
}

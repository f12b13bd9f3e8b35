import { newSituation, runOf, runSummary, type Chain, type RunRecords, type RunSummary, type TuneSettings } from '@yield/core';

export interface SummaryTask {
  chain: Chain;
  settings: TuneSettings;
  records: RunRecords;
}

/** Runs on a worker thread: works a tune out and sums it up. */
export default function runSummaryTask({ chain, settings, records }: SummaryTask): RunSummary {
  return runSummary(runOf(newSituation(chain, settings, records)));
}

import type { Chain } from '../job/chain.ts';
import type { Reading, RunRecords, StepMark, TraceRecord, TuneSettings } from '../job/records.ts';
import { errorWords } from './cannotJudge.ts';
import { newSituation, type SetAside, type Situation } from './frame/situation.ts';
import { runOf } from './run.ts';

type OneRecord = { of: 'reading'; record: Reading } | { of: 'capture'; record: TraceRecord } | { of: 'mark'; record: StepMark };

/**
 * A tune as it stands, with every record set aside that no step can be judged with.
 *
 * What is stored was checked when it came in, by the rules of its day: one odd record among thousands must not take the run, the sheet and
 * the list with it. Which one it is follows from judging without it.
 */
export function settledSituation(chain: Chain, settings: TuneSettings, records: RunRecords): Situation {
  const whole = attempt(chain, settings, records);
  if (whole.situation !== undefined && whole.failing.size === 0) return whole.situation;
  const bare = attempt(chain, settings, { readings: [], traces: [], marks: [] });
  // What fails without any record fails by the chain; a record is odd where it makes more fail.
  const isSound = ({ situation, failing }: Attempt): boolean => situation !== undefined && [...failing].every((id) => bare.failing.has(id));
  if (whole.situation !== undefined && isSound(whole)) return whole.situation;
  const kept: OneRecord[] = [];
  const setAside: SetAside[] = [];
  const keep = (some: readonly OneRecord[]): void => {
    const tried = attempt(chain, settings, recordsOf([...kept, ...some]));
    if (isSound(tried)) kept.push(...some);
    else if (some.length > 1) {
      const middle = some.length >> 1;
      keep(some.slice(0, middle));
      keep(some.slice(middle));
    } else if (some[0] !== undefined) setAside.push(asideOf(some[0], tried.why));
  };
  keep(listed(records));
  // What was set aside is shown and can be voided: it stays among the records, and counts nowhere.
  return { ...newSituation(chain, settings, recordsOf(kept), setAside), records };
}

/** The records that count: those that were not set aside. */
export function countedRecords({ records, setAside }: Situation): RunRecords {
  if (setAside.length === 0) return records;
  const aside = new Set(setAside.map(({ id }) => id));
  return {
    readings: records.readings.filter(({ id }) => !aside.has(id)),
    traces: records.traces.filter(({ id }) => !aside.has(id)),
    marks: records.marks.filter(({ stepId }) => !aside.has(stepId)),
  };
}

interface Attempt {
  situation?: Situation;
  /** steps that could not be worked out */
  failing: ReadonlySet<string>;
  why: string;
}

function attempt(chain: Chain, settings: TuneSettings, records: RunRecords): Attempt {
  try {
    const situation = newSituation(chain, settings, records);
    const broken = runOf(situation).filter(({ fault }) => fault !== undefined);
    return { situation, failing: new Set(broken.map(({ id }) => id)), why: broken[0]?.fault ?? '' };
  } catch (error) {
    return { failing: new Set(), why: errorWords(error) };
  }
}

const listed = ({ readings, traces, marks }: RunRecords): OneRecord[] => [
  ...readings.map((record): OneRecord => ({ of: 'reading', record })),
  ...traces.map((record): OneRecord => ({ of: 'capture', record })),
  ...marks.map((record): OneRecord => ({ of: 'mark', record })),
];

const recordsOf = (some: readonly OneRecord[]): RunRecords => ({
  readings: some.flatMap((each) => (each.of === 'reading' ? [each.record] : [])),
  traces: some.flatMap((each) => (each.of === 'capture' ? [each.record] : [])),
  marks: some.flatMap((each) => (each.of === 'mark' ? [each.record] : [])),
});

const asideOf = (one: OneRecord, why: string): SetAside => ({
  of: one.of,
  id: one.of === 'mark' ? one.record.stepId : one.record.id,
  stepId: one.record.stepId,
  why,
});

import { lazy, Suspense, useState, type JSX } from 'react';
import { useSaveMarkMutation } from '../api/yieldApi.ts';
import { Dialog } from '../ui/Dialog.tsx';
import { Loading } from '../ui/Loading.tsx';
import type { RunStep, TuneRun } from './useTuneRun.ts';

// Forms are no part of what a first visit to the run fetches.
const RecordForm = lazy(async () => ({ default: (await import('../ui/forms/RecordForm.tsx')).RecordForm }));

/** Leaves a step out with a reason, or takes it up again. */
export function SkipStep({ run, current }: { run: TuneRun; current: RunStep }): JSX.Element | null {
  const [open, setOpen] = useState(false);
  const [saveMark] = useSaveMarkMutation();
  const mark = run.tune.marks.find(({ stepId }) => stepId === current.step.id);
  const base = {
    version: mark?.version ?? 0,
    checks: mark?.checks ?? [],
    ...(mark?.basis === undefined ? {} : { basis: mark.basis }),
    ...(mark?.values === undefined ? {} : { values: mark.values }),
  };
  const { id } = run.tune;
  const stepId = current.step.id;
  if (mark?.skippedReason !== undefined) {
    return (
      <button type="button" className="btn flex-1" onClick={() => void saveMark({ id, stepId, body: base })}>
        Take it up again
      </button>
    );
  }
  if (current.state.status === 'done') return null;
  return (
    <>
      <button type="button" className="btn btn-ghost" onClick={() => setOpen(true)}>
        Skip
      </button>
      {open && (
        <Dialog title={`Skip: ${current.title}`} onClose={() => setOpen(false)}>
          <Suspense fallback={<Loading what="the form" />}>
            <RecordForm
              draftKey={`skip/${id}/${stepId}`}
              fields={[{ kind: 'text', name: 'reason', label: 'Why', hint: 'It will stand on the record' }]}
              value={{ reason: '' }}
              submitLabel="Skip this step"
              onSubmit={async ({ reason }) => {
                await saveMark({ id, stepId, body: { ...base, skippedReason: String(reason) } });
                setOpen(false);
                return [];
              }}
            />
          </Suspense>
        </Dialog>
      )}
    </>
  );
}

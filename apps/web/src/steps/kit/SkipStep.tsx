import type { RunStep } from '@yield/core';
import { lazy, Suspense, useState, type JSX } from 'react';
import { useMark } from '../../tune/useMark.ts';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { Dialog } from '../../ui/Dialog.tsx';
import type { FieldSpec } from '../../ui/forms/fields.ts';
import { Loading } from '../../ui/Loading.tsx';

// Forms are no part of what a first visit to the run fetches.
const SkipForm = lazy(async () => {
  const { RecordForm } = await import('../../ui/forms/RecordForm.tsx');
  return { default: RecordForm<{ reason: string }> };
});

const FIELDS: FieldSpec<{ reason: string }>[] = [{ kind: 'text', name: 'reason', label: 'Why', hint: 'It will stand on the record' }];

/** Leaves a step out with a reason, or takes it up again. */
export function SkipStep({ run, current }: { run: TuneRun; current: RunStep }): JSX.Element | null {
  const [open, setOpen] = useState(false);
  const { skippedReason, save } = useMark(run, current);
  if (skippedReason !== undefined) {
    return (
      <>
        <button type="button" className="btn flex-1" onClick={() => save({ skippedReason: undefined })}>
          Take it up again
        </button>
      </>
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
            <SkipForm
              draftKey={`skip/${run.tune.id}/${current.id}`}
              fields={FIELDS}
              value={{ reason: '' }}
              submitLabel="Skip this step"
              onSubmit={({ reason }) => {
                save({ skippedReason: reason });
                setOpen(false);
                return Promise.resolve([]);
              }}
            />
          </Suspense>
        </Dialog>
      )}
    </>
  );
}

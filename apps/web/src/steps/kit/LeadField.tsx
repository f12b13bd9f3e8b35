import { plainFigure } from '@yield/core';
import { useState, type JSX } from 'react';
import { FigureEntry } from './FigureEntry.tsx';
import { useEditTune } from '../../tune/useEdit.ts';
import type { TuneRun } from '../../tune/useTuneRun.ts';

/** Two good leads in a row are tenths of an ohm. Common practice, no source. */
const USUAL_LEADS = { atMost: 3 };

/** The leads of the meter, touched together: taken off every resistance that is read from then on. */
export function LeadField({ run }: { run: TuneRun }): JSX.Element {
  const { tune } = run;
  const { leadOhm } = tune.settings.meter;
  const [open, setOpen] = useState(leadOhm === undefined);
  const [refusal, setRefusal] = useState<string | null>(null);
  const edit = useEditTune(tune);
  const save = async (value: number): Promise<void> => {
    const { name, vehicle, settings } = tune;
    const [fault] = await edit({ name, vehicle, settings: { ...settings, meter: { ...settings.meter, leadOhm: value } } });
    setRefusal(fault?.message ?? null);
    if (fault === undefined) setOpen(false);
  };
  if (!open && leadOhm !== undefined) {
    return (
      <p className="flex flex-wrap items-center gap-x-3">
        <span className="label">Leads</span> <span className="font-medium">{plainFigure(leadOhm)} Ω, taken off</span>
        <button type="button" className="btn btn-ghost btn-sm text-action min-h-11" onClick={() => setOpen(true)}>
          Measure again
        </button>
      </p>
    );
  }
  return (
    <div className="max-w-72">
      <FigureEntry
        draftKey={`leads/${tune.id}`}
        unit="ohm"
        label="First the leads: probes touched together"
        negativeWords="Leads never read below zero."
        likely={USUAL_LEADS}
        onEnter={(value) => void save(value)}
      />
      {refusal !== null && (
        <p role="alert" className="text-stop text-sm">
          {refusal}
        </p>
      )}
    </div>
  );
}

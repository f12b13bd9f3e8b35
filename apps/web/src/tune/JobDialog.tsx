import type { TuneDetail } from '@yield/contract';
import type { JSX } from 'react';
import { Dialog } from '../ui/Dialog.tsx';
import type { FieldSpec } from '../ui/forms/fields.ts';
import { RecordForm } from '../ui/forms/RecordForm.tsx';
import { useEditTune } from './useEdit.ts';

interface Job {
  name: string;
  vehicle: string;
  isPractice?: boolean;
}

const FIELDS: FieldSpec<Job>[] = [
  { kind: 'text', name: 'name', label: 'Name of the job' },
  { kind: 'text', name: 'vehicle', label: 'Vehicle', optional: true },
  {
    kind: 'choice',
    name: 'isPractice',
    as: 'boolean',
    label: 'What this tune is for',
    choices: [
      { value: 'false', label: 'A real car: what the simulated bench shows does not count' },
      { value: 'true', label: 'Practice: readings from the simulated bench count' },
    ],
  },
];

/** Name and vehicle of a job, and whether it is a real one. */
export function JobDialog({ tune, onClose }: { tune: TuneDetail; onClose: () => void }): JSX.Element {
  const edit = useEditTune(tune);
  const { isPractice = false, ...settings } = tune.settings;
  return (
    <Dialog title="Job" onClose={onClose}>
      <RecordForm<Job>
        draftKey={`job/${tune.id}/${tune.version}`}
        fields={FIELDS}
        value={{ name: tune.name, vehicle: tune.vehicle, isPractice }}
        submitLabel="Save"
        onSubmit={async (job) => {
          const faults = await edit({
            name: job.name,
            vehicle: job.vehicle,
            settings: { ...settings, ...(job.isPractice === true ? { isPractice: true } : {}) },
          });
          if (faults.length === 0) onClose();
          return faults;
        }}
      />
    </Dialog>
  );
}

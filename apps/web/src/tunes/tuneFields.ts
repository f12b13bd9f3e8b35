import type { NewTune } from '@yield/contract';
import type { FieldSpec } from '../ui/forms/fields.ts';

export const NEW_TUNE_FIELDS: FieldSpec<Pick<NewTune, 'name' | 'vehicle'>>[] = [
  { kind: 'text', name: 'name', label: 'Name of the job', hint: 'Such as the vehicle and its owner’s initials' },
  { kind: 'text', name: 'vehicle', label: 'Vehicle', optional: true },
];

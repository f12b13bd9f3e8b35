import type { EqualiserAtHand, Fault, NamedEqualiser, NamedMeter } from '@yield/core';
import { parseQuantity } from '@yield/core';
import { METER_FIELDS } from '../instruments/meterFields.ts';
import type { FieldSpec } from '../ui/forms/fields.ts';

export const NAMED_METER_FIELDS: FieldSpec<NamedMeter>[] = [
  { kind: 'text', name: 'name', label: 'Meter', hint: 'By its figures, such as “4 digits, true RMS, 0.7 %”' },
  ...(METER_FIELDS as FieldSpec<NamedMeter>[]),
];

/** An equaliser as its form has it: both kinds side by side, centres as text. */
export interface EqualiserForm {
  name: string;
  kind: 'parametric' | 'graphic';
  bands?: number;
  minQ?: number;
  maxQ?: number;
  frequencyStepHz?: number;
  qStep?: number;
  centres?: string;
}

const USUAL_GRAPHIC_Q = 1.4;

export const EQUALISER_FIELDS: FieldSpec<EqualiserForm>[] = [
  { kind: 'text', name: 'name', label: 'Equaliser', hint: 'Where it is: “in the processor, each output”' },
  {
    kind: 'choice',
    name: 'kind',
    label: 'Its bands',
    choices: [
      { value: 'parametric', label: 'Free: frequency, gain and Q' },
      { value: 'graphic', label: 'Graphic: sliders at fixed frequencies' },
    ],
  },
  { kind: 'integer', name: 'bands', label: 'How many, if free', optional: true },
  { kind: 'quantity', unit: 'Hz', name: 'frequencyStepHz', label: 'Step of the frequency', optional: true },
  { kind: 'text', name: 'centres', label: 'Centres, if graphic', optional: true, hint: 'Such as 63, 125, 250, 500, 1k' },
];

export function equaliserForm({ name, equaliser }: NamedEqualiser): EqualiserForm {
  if (equaliser.kind !== 'graphic') return { ...(equaliser.kind === 'none' ? { bands: 0 } : equaliser), name, kind: 'parametric' };
  return { name, kind: 'graphic', centres: equaliser.centresHz.join(', ') };
}

/** @param before - what the form does not show of it stays */
export function equaliserOf(form: EqualiserForm, before?: EqualiserAtHand): { equaliser: EqualiserAtHand } | { faults: Fault[] } {
  if (form.kind === 'parametric') {
    const { bands, frequencyStepHz } = form;
    if (bands === undefined || bands < 1 || bands > 32) return { faults: [{ pointer: '/bands', message: 'One band to 32.' }] };
    const { frequencyStepHz: _step, ...kept } = before?.kind === 'parametric' ? before : {};
    return { equaliser: { ...kept, kind: 'parametric', bands, ...(frequencyStepHz === undefined ? {} : { frequencyStepHz }) } };
  }
  const parts = (form.centres ?? '')
    .split(/[,;\n]+/)
    .map((each) => each.trim())
    .filter((each) => each !== '');
  const centresHz: number[] = [];
  for (const part of parts) {
    const parsed = parseQuantity(part, 'Hz');
    if (parsed.kind !== 'ok' || parsed.value <= (centresHz.at(-1) ?? 0))
      return { faults: [{ pointer: '/centres', message: `“${part.slice(0, 30)}”: frequencies that rise, between commas.` }] };
    centresHz.push(parsed.value);
  }
  if (centresHz.length === 0 || centresHz.length > 32) return { faults: [{ pointer: '/centres', message: 'One centre to 32.' }] };
  return { equaliser: { kind: 'graphic', centresHz, q: before?.kind === 'graphic' ? before.q : USUAL_GRAPHIC_Q } };
}

import type { Meter } from '@yield/core';
import type { FieldSpec } from '../ui/forms/fields.ts';

/** What a meter's manual says of it, as far as a reading is judged by it. */
export const METER_FIELDS: FieldSpec<Meter>[] = [
  { kind: 'quantity', unit: '%', name: 'percent', label: 'Meter accuracy', hint: 'On AC volts, from its manual' },
  { kind: 'integer', name: 'digits', label: 'plus digits', hint: 'Counts of the last digit' },
  { kind: 'integer', name: 'counts', label: 'Highest count', optional: true, hint: 'Of its display: 1999, 3999, 5999; without it 1999' },
  {
    kind: 'quantity',
    unit: 'V',
    name: 'finestVolt',
    label: 'Smallest step on AC',
    optional: true,
    hint: 'On its lowest range: 0.1 V where that is 200.0 V; without it 1 mV',
  },
  { kind: 'quantity', unit: 'Hz', name: 'highestHz', label: 'Meter good up to', hint: 'Many are only good to 400 Hz or 1 kHz' },
  { kind: 'quantity', unit: 'Hz', name: 'lowestHz', label: 'and from', optional: true, hint: 'Where its manual names a lowest frequency' },
  {
    kind: 'choice',
    name: 'trueRms',
    as: 'boolean',
    label: 'Kind of meter',
    choices: [
      { value: 'true', label: 'True RMS' },
      { value: 'false', label: 'Average responding: misreads a clipped wave' },
    ],
  },
  { kind: 'quantity', unit: '%', name: 'ohmPercent', label: 'Accuracy on ohms', optional: true, hint: 'Without it 1 %' },
  {
    kind: 'quantity',
    unit: 'ohm',
    name: 'ohmDigitsOhm',
    label: 'plus ohms',
    optional: true,
    hint: 'Its digits, in ohms; without it 0.1 Ω',
  },
  {
    kind: 'quantity',
    unit: 'ohm',
    name: 'leadOhm',
    label: 'Its leads',
    optional: true,
    hint: 'Probes touched together; taken off every resistance',
  },
];

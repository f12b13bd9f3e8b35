import { parseQuantity, UNITS, type Fault, type Unit } from '@yield/core';

interface Named {
  name: string;
  label: string;
  hint?: string;
}

/** One field of a record: what it is called, what may be typed. */
export type SimpleField =
  | (Named & { kind: 'text'; optional?: boolean })
  | (Named & { kind: 'quantity'; unit: Unit; optional?: boolean })
  | (Named & { kind: 'integer'; optional?: boolean })
  | (Named & { kind: 'choice'; choices: readonly Choice[]; as?: 'number' | 'boolean'; optional?: boolean })
  | (Named & { kind: 'flags'; choices: readonly Choice[] });

interface Choice {
  value: string;
  label: string;
}

export interface ListField extends Named {
  kind: 'list';
  itemName: string;
  fields: readonly SimpleField[];
  blank: () => PlainRecord;
}

export type FieldSpec = SimpleField | ListField;
export type PlainRecord = Record<string, unknown>;

/** Everything in a form is text until it is entered. */
export type FormValues = Record<string, string | Record<string, string>[]>;

/** A record as the texts of a form. What the form does not show (an id) is put back by the caller. */
export function toForm(fields: readonly FieldSpec[], record: PlainRecord): FormValues {
  return Object.fromEntries(
    fields.map((field): [string, FormValues[string]] => {
      const value = record[field.name];
      if (field.kind !== 'list') return [field.name, textOf(field, value)];
      const items = Array.isArray(value) ? (value as PlainRecord[]) : [];
      return [field.name, items.map((item) => itemToForm(field, item))];
    }),
  );
}

/** One item of a list, with its id if it has one. */
export function itemToForm(list: ListField, item: PlainRecord): Record<string, string> {
  const texts = Object.fromEntries(list.fields.map((field) => [field.name, textOf(field, item[field.name])]));
  return typeof item.id === 'string' ? { ...texts, id: item.id } : texts;
}

/** The texts of a form as a record, or every fault with its JSON Pointer. */
export function fromForm(fields: readonly FieldSpec[], values: FormValues): { record: PlainRecord; faults: Fault[] } {
  const record: PlainRecord = {};
  const faults: Fault[] = [];
  for (const field of fields) {
    const value = values[field.name];
    if (field.kind === 'list') {
      const items = Array.isArray(value) ? value : [];
      record[field.name] = items.map((item, i) => ({
        ...(item.id === undefined ? {} : { id: item.id }),
        ...read(field.fields, item, `/${field.name}/${i}`, faults),
      }));
    } else Object.assign(record, read([field], { [field.name]: typeof value === 'string' ? value : '' }, '', faults));
  }
  return { record, faults };
}

function read(fields: readonly SimpleField[], texts: Record<string, string>, at: string, faults: Fault[]): PlainRecord {
  const record: PlainRecord = {};
  for (const field of fields) {
    const text = (texts[field.name] ?? '').trim();
    const pointer = `${at}/${field.name}`;
    if (text === '') {
      if (field.kind === 'flags') continue;
      if (field.optional !== true) faults.push({ pointer, message: 'This is needed.' });
      else if (field.kind === 'text') record[field.name] = '';
      continue;
    }
    if (field.kind === 'text') record[field.name] = text;
    else if (field.kind === 'flags') record[field.name] = text.split(',');
    else if (field.kind === 'choice') record[field.name] = chosen(field.as, text);
    else {
      const parsed = parseQuantity(text, field.kind === 'quantity' ? field.unit : 'step');
      if (parsed.kind !== 'ok') faults.push({ pointer, message: parsed.kind === 'fault' ? parsed.message : 'This is needed.' });
      else if (field.kind === 'integer' && !Number.isInteger(parsed.value))
        faults.push({ pointer, message: 'A whole number is wanted here.' });
      else record[field.name] = parsed.value;
    }
  }
  return record;
}

function chosen(as: 'number' | 'boolean' | undefined, text: string): string | number | boolean {
  if (as === 'number') return Number(text);
  return as === 'boolean' ? text === 'true' : text;
}

function textOf(field: SimpleField, value: unknown): string {
  if (value === undefined || value === null) return '';
  if (Array.isArray(value)) return value.join(',');
  if (typeof value === 'boolean') return String(value);
  if (typeof value === 'number') return String(value).replace('-', '−');
  return typeof value === 'string' ? value : field.name;
}

export const unitSign = (field: SimpleField): string => (field.kind === 'quantity' ? UNITS[field.unit].sign : '');

/** "/drivers/0/coilOhm" as the path that the form library uses. */
export const pathOf = (pointer: string): string => pointer.slice(1).replaceAll('/', '.');

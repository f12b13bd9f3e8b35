import { formatQuantity, parseQuantity, sizeDoubt, UNITS, USUAL_SIZES, type Fault, type LikelySize, type Unit } from '@yield/core';

interface Named<N extends string> {
  name: N;
  label: string;
  hint?: string;
}

/** One field of a record: what it is called, what may be typed. */
export type SimpleField<N extends string = string> =
  /** absent: an empty one is left out, where else it is an empty text */
  | (Named<N> & { kind: 'text'; optional?: boolean | 'absent' })
  | (Named<N> & { kind: 'quantity'; unit: Unit; optional?: boolean })
  | (Named<N> & { kind: 'integer'; optional?: boolean })
  | (Named<N> & { kind: 'choice'; choices: readonly Choice[]; as?: 'number' | 'boolean'; optional?: boolean })
  | (Named<N> & { kind: 'flags'; choices: readonly Choice[] });

interface Choice {
  value: string;
  label: string;
}

export interface ListField<N extends string = string, I = PlainRecord> extends Named<N> {
  kind: 'list';
  itemName: string;
  fields: readonly SimpleField<keyof I & string>[];
  blank: () => Partial<I>;
}

type NameOf<T> = keyof T & string;

/** A field of the record that a form edits: a name that the record does not have does not compile. */
export type FieldSpec<T> =
  | SimpleField<NameOf<T>>
  | { [K in NameOf<T>]-?: NonNullable<T[K]> extends readonly (infer I extends object)[] ? ListField<K, I> : never }[NameOf<T>];

/** A record that is still being entered: fields are missing, and fields of the items of its lists. */
export type Drafted<T> = {
  [K in keyof T]?: NonNullable<T[K]> extends readonly (infer I extends object)[] ? readonly Partial<I>[] | undefined : T[K] | undefined;
};

type AnyField = SimpleField | ListField;
export type PlainRecord = Record<string, unknown>;

/** Everything in a form is text until it is entered. */
export type FormValues = Record<string, string | Record<string, string>[]>;

/** A form's fields without the record's type, for what treats all of them alike. */
export const plainFields = <T>(fields: readonly FieldSpec<T>[]): readonly AnyField[] => fields;

/** A record as the texts of a form. */
export function toForm<T extends object>(fields: readonly FieldSpec<T>[], record: Drafted<T>): FormValues {
  const values = record as PlainRecord;
  return Object.fromEntries(
    plainFields(fields).map((field): [string, FormValues[string]] => {
      const value = values[field.name];
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

/**
 * The texts of a form as a record, or every fault with its JSON Pointer.
 *
 * @param before - what was edited: whatever the form does not show stays as it is there, in items of lists too
 */
export function fromForm<T extends object>(
  fields: readonly FieldSpec<T>[],
  before: Drafted<T>,
  values: FormValues,
): { record: T; faults: Fault[] } {
  const plain = plainFields(fields);
  const known = before as PlainRecord;
  const record: PlainRecord = unseen(plain, known);
  const faults: Fault[] = [];
  for (const field of plain) {
    const value = values[field.name];
    if (field.kind === 'list') {
      const items = Array.isArray(value) ? value : [];
      const kept = (Array.isArray(known[field.name]) ? known[field.name] : []) as PlainRecord[];
      record[field.name] = items.map((item, i) => ({
        ...unseen(field.fields, kept.find(({ id }) => id !== undefined && id === item.id) ?? {}),
        ...(item.id === undefined ? {} : { id: item.id }),
        ...read(field.fields, item, `/${field.name}/${i}`, faults),
      }));
    } else Object.assign(record, read([field], { [field.name]: typeof value === 'string' ? value : '' }, '', faults));
  }
  // Every field was read by its own rule; what is still wrong the door refuses, field by field.
  return { record: record as T, faults };
}

/** What a form does not show of a record. */
function unseen(fields: readonly AnyField[], record: PlainRecord): PlainRecord {
  return Object.fromEntries(Object.entries(record).filter(([key]) => !fields.some(({ name }) => name === key)));
}

function read(fields: readonly SimpleField[], texts: Record<string, string>, at: string, faults: Fault[]): PlainRecord {
  const record: PlainRecord = {};
  for (const field of fields) {
    const text = (texts[field.name] ?? '').trim();
    const pointer = `${at}/${field.name}`;
    if (text === '') {
      if (field.kind === 'flags') continue;
      if (field.optional === undefined || field.optional === false) faults.push({ pointer, message: 'This is needed.' });
      else if (field.kind === 'text' && field.optional !== 'absent') record[field.name] = '';
      continue;
    }
    if (field.kind === 'text') record[field.name] = text;
    else if (field.kind === 'flags') record[field.name] = text.split(',');
    else if (field.kind === 'choice') record[field.name] = chosen(field.as, text);
    else {
      const parsed = parseQuantity(text, field.kind === 'quantity' ? field.unit : 'step');
      if (parsed.kind !== 'ok') faults.push({ pointer, message: parsed.kind === 'fault' ? parsed.message : 'This is needed.' });
      else if (field.kind === 'integer' && !Number.isInteger(parsed.value)) faults.push({ pointer, message: 'Enter a whole number.' });
      else {
        const doubt = field.kind === 'quantity' ? sizeWords(parsed.value, field.unit) : undefined;
        if (doubt === undefined) record[field.name] = parsed.value;
        else faults.push({ pointer, message: doubt });
      }
    }
  }
  return record;
}

/** Why a figure cannot be one of this trade, and what was meant, maybe. */
function sizeWords(value: number, unit: Unit): string | undefined {
  const usual: LikelySize | undefined = unit in USUAL_SIZES ? USUAL_SIZES[unit as keyof typeof USUAL_SIZES] : undefined;
  const doubt = usual === undefined ? undefined : sizeDoubt(value, usual);
  if (doubt === undefined) return undefined;
  const far = `${formatQuantity(value, unit)} is far off what can be here`;
  return doubt.likely === undefined ? `${far}.` : `${far}. ${formatQuantity(doubt.likely, unit)}? Type it with its prefix.`;
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

/** What was kept of a form, where it still has the form's shape; undefined where it has not. */
export function readFormValues(kept: unknown, fields: readonly AnyField[]): FormValues | undefined {
  if (typeof kept !== 'object' || kept === null) return undefined;
  const values = kept as PlainRecord;
  const isText = (value: unknown): boolean => typeof value === 'string';
  const fits = fields.every(({ kind, name }) => {
    const value = values[name];
    if (kind !== 'list') return isText(value);
    return (
      Array.isArray(value) &&
      value.every((item) => typeof item === 'object' && item !== null && Object.values(item as object).every(isText))
    );
  });
  return fits ? (values as FormValues) : undefined;
}

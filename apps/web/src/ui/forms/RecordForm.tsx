import type { Fault } from '@yield/core';
import { Plus, Trash2 } from 'lucide-react';
import { useEffect, useId, type JSX } from 'react';
import { useController, useFieldArray, useForm, type Control, type FieldErrors, type UseFormRegister } from 'react-hook-form';
import { draftDone, draftTyped } from '../../store/drafts.ts';
import { useAppDispatch } from '../../store/store.ts';
import { useKept } from '../useKept.ts';
import { ErrorNotice } from '../Notice.tsx';
import {
  fromForm,
  itemToForm,
  pathOf,
  plainFields,
  readFormValues,
  toForm,
  unitSign,
  type Drafted,
  type FieldSpec,
  type FormValues,
  type ListField,
  type SimpleField,
} from './fields.ts';

interface Props<T extends object> {
  /** what was typed is kept under this key until it is saved */
  draftKey: string;
  fields: readonly FieldSpec<T>[];
  /** what is edited; what the form does not show of it comes back unchanged */
  value: Drafted<T>;
  submitLabel: string;
  /** saves; answers the faults that the fields' own rules did not find */
  onSubmit: (record: T) => Promise<Fault[]>;
  children?: JSX.Element;
}

/** A form for one record, built from its fields. Nothing typed is lost on reload; faults stand at their field. */
export function RecordForm<T extends object>({ draftKey, fields, value, submitLabel, onSubmit, children }: Props<T>): JSX.Element {
  const dispatch = useAppDispatch();
  const shown = plainFields(fields);
  const [draft] = useKept(draftKey, (kept) => readFormValues(kept, shown));
  const { register, control, handleSubmit, setError, subscribe, formState } = useForm<FormValues>({
    defaultValues: draft ?? toForm(fields, value),
  });
  useEffect(
    () =>
      subscribe({
        formState: { values: true, isDirty: true },
        callback: ({ values }) => void dispatch(draftTyped({ key: draftKey, text: JSON.stringify(values) })),
      }),
    [subscribe, dispatch, draftKey],
  );

  const submit = handleSubmit(async (values) => {
    const { record, faults } = fromForm(fields, value, values);
    const all = faults.length > 0 ? faults : await onSubmit(record);
    if (all.length === 0) {
      dispatch(draftDone(draftKey));
      return;
    }
    for (const { pointer, message } of all) {
      const known = pointer !== '' && shown.some(({ name }) => pointer === `/${name}` || pointer.startsWith(`/${name}/`));
      setError(known ? pathOf(pointer) : 'root', { message });
    }
  });

  return (
    <form onSubmit={(event) => void submit(event)} noValidate className="space-y-4">
      <div className="grid gap-4 sm:grid-cols-2">
        {shown.map((field) =>
          field.kind === 'list' ? (
            <ListInput key={field.name} field={field} control={control} register={register} errors={formState.errors} />
          ) : (
            <Input
              key={field.name}
              field={field}
              path={field.name}
              register={register}
              control={control}
              message={messageAt(formState.errors, field.name)}
            />
          ),
        )}
      </div>
      {formState.errors.root?.message !== undefined && <ErrorNotice>{formState.errors.root.message}</ErrorNotice>}
      <div className="flex flex-wrap items-center gap-3 pt-2">
        <button type="submit" className="btn btn-primary btn-tall" disabled={formState.isSubmitting}>
          {submitLabel}
        </button>
        {children}
      </div>
    </form>
  );
}

function Input({
  field,
  path,
  register,
  control,
  message,
}: {
  field: SimpleField;
  path: string;
  register: UseFormRegister<FormValues>;
  control: Control<FormValues>;
  message: string | undefined;
}): JSX.Element {
  const id = useId();
  if (field.kind === 'flags') return <Flags field={field} path={path} control={control} message={message} />;
  const describedBy = message !== undefined || field.hint !== undefined ? `${id}-words` : undefined;
  const shared = { id, 'aria-invalid': message !== undefined, 'aria-describedby': describedBy, ...register(path) };
  return (
    <div className={field.kind === 'text' ? 'sm:col-span-2' : ''}>
      <label htmlFor={id} className="label mb-1 block">
        {field.label}
        {field.kind !== 'choice' && field.optional === true && <span className="font-normal"> (if known)</span>}
      </label>
      {field.kind === 'choice' ? (
        <select {...shared} className="select w-full min-h-11">
          {field.optional === true && <option value="">–</option>}
          {field.choices.map(({ value, label }) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      ) : (
        <span className={`input w-full min-h-11 ${message === undefined ? '' : 'input-error'}`}>
          <input {...shared} className="grow" autoComplete="off" inputMode={field.kind === 'text' ? 'text' : 'decimal'} />
          <span className="text-quiet">{unitSign(field)}</span>
        </span>
      )}
      {describedBy !== undefined && (
        <p id={describedBy} className={`mt-1 text-sm leading-snug ${message === undefined ? 'text-quiet' : 'text-stop'}`}>
          {message ?? field.hint}
        </p>
      )}
    </div>
  );
}

/** Several of some choices, ticked one by one. */
function Flags({
  field,
  path,
  control,
  message,
}: {
  field: Extract<SimpleField, { kind: 'flags' }>;
  path: string;
  control: Control<FormValues>;
  message: string | undefined;
}): JSX.Element {
  const { field: bound } = useController({ control, name: path });
  const ticked = typeof bound.value === 'string' && bound.value !== '' ? bound.value.split(',') : [];
  const toggle = (value: string): void => {
    const next = ticked.includes(value) ? ticked.filter((other) => other !== value) : [...ticked, value];
    // In the order of the choices, whatever the order of ticking.
    bound.onChange(
      field.choices
        .map((choice) => choice.value)
        .filter((choice) => next.includes(choice))
        .join(','),
    );
  };
  return (
    <fieldset className="sm:col-span-2">
      <legend className="label mb-1">{field.label}</legend>
      <div className="flex flex-wrap gap-x-5">
        {field.choices.map(({ value, label }) => (
          <label key={value} className="flex min-h-11 cursor-pointer items-center gap-2.5">
            <input type="checkbox" className="checkbox checkbox-primary" checked={ticked.includes(value)} onChange={() => toggle(value)} />
            {label}
          </label>
        ))}
      </div>
      <p className={`text-sm leading-snug ${message === undefined ? 'text-quiet' : 'text-stop'}`}>{message ?? field.hint}</p>
    </fieldset>
  );
}

function ListInput({
  field,
  control,
  register,
  errors,
}: {
  field: ListField;
  control: Control<FormValues>;
  register: UseFormRegister<FormValues>;
  errors: FieldErrors<FormValues>;
}): JSX.Element {
  const { fields: items, append, remove } = useFieldArray({ control, name: field.name as never, keyName: 'rowKey' });
  return (
    <fieldset className="border-line border-t pt-4 sm:col-span-2">
      <legend className="sr-only">{field.label}</legend>
      <p className="font-semibold" aria-hidden>
        {field.label}
      </p>
      {field.hint !== undefined && <p className="text-quiet text-sm">{field.hint}</p>}
      <ul className="mt-3 space-y-4">
        {items.map((item, i) => (
          <li key={(item as { rowKey: string }).rowKey} className="flex gap-3">
            <div className="grid min-w-0 flex-1 gap-3 sm:grid-cols-3">
              {field.fields.map((inner) => (
                <Input
                  key={inner.name}
                  field={inner}
                  path={`${field.name}.${i}.${inner.name}`}
                  register={register}
                  control={control}
                  message={messageAt(errors, `${field.name}.${i}.${inner.name}`)}
                />
              ))}
            </div>
            <button
              type="button"
              className="btn btn-ghost btn-square mt-6"
              aria-label={`Remove ${field.itemName} ${i + 1}`}
              onClick={() => remove(i)}
            >
              <Trash2 size={18} aria-hidden />
            </button>
          </li>
        ))}
      </ul>
      <button type="button" className="btn mt-3" onClick={() => append(itemToForm(field, field.blank()))}>
        <Plus size={18} aria-hidden /> Add {field.itemName}
      </button>
    </fieldset>
  );
}

function messageAt(errors: FieldErrors<FormValues>, path: string): string | undefined {
  const found = path.split('.').reduce<unknown>((node, key) => (node as Record<string, unknown> | undefined)?.[key], errors);
  return (found as { message?: string } | undefined)?.message;
}

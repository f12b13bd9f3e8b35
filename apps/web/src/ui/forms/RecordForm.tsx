import { isSameData, type Fault } from '@yield/core';
import { Copy, Plus, Trash2 } from 'lucide-react';
import { useEffect, useId, useState, type JSX } from 'react';
import {
  useController,
  useFieldArray,
  useForm,
  type Control,
  type FieldErrors,
  type UseFormGetValues,
  type UseFormRegister,
} from 'react-hook-form';
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
  const stored = toForm(fields, value);
  const { register, control, handleSubmit, setError, subscribe, formState, reset, getValues } = useForm<FormValues>({
    defaultValues: draft ?? stored,
  });
  const [isKept, setIsKept] = useState(() => draft !== undefined && !isSameData(draft, stored));
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
    all.forEach(({ pointer, message }, i) => {
      const known = pointer !== '' && shown.some(({ name }) => pointer === `/${name}` || pointer.startsWith(`/${name}/`));
      setError(known ? pathOf(pointer) : 'root', { message }, { shouldFocus: known && i === 0 });
    });
  });

  return (
    <form onSubmit={(event) => void submit(event)} noValidate className="space-y-4">
      {isKept && (
        <div role="status" className="bg-raised flex flex-wrap items-center justify-between gap-x-4 gap-y-2 rounded-md px-3 py-2">
          <span>Kept from before, not saved yet.</span>
          <span className="flex flex-wrap gap-2">
            <button type="button" className="btn btn-sm min-h-11" onClick={() => setIsKept(false)}>
              Go on with it
            </button>
            <button
              type="button"
              className="btn btn-sm min-h-11"
              onClick={() => {
                reset(stored);
                dispatch(draftDone(draftKey));
                setIsKept(false);
              }}
            >
              Take what is stored
            </button>
          </span>
        </div>
      )}
      <div className="grid gap-4 sm:grid-cols-2">
        {shown.map((field) =>
          field.kind === 'list' ? (
            <ListInput
              key={field.name}
              field={field}
              control={control}
              register={register}
              getValues={getValues}
              errors={formState.errors}
            />
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
      <div className="bg-ground sticky bottom-0 z-10 -mb-2 flex flex-wrap items-center gap-3 py-2">
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
        {field.kind !== 'choice' && field.optional !== undefined && field.optional !== false && (
          <span className="font-normal"> (if known)</span>
        )}
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
  getValues,
  errors,
}: {
  field: ListField;
  control: Control<FormValues>;
  register: UseFormRegister<FormValues>;
  getValues: UseFormGetValues<FormValues>;
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
            <div className="mt-6 flex flex-col">
              <button
                type="button"
                className="btn btn-ghost btn-square"
                aria-label={`Remove ${field.itemName} ${i + 1}`}
                title="Remove"
                onClick={() => remove(i)}
              >
                <Trash2 size={18} aria-hidden />
              </button>
              <button
                type="button"
                className="btn btn-ghost btn-square"
                aria-label={`Copy ${field.itemName} ${i + 1}`}
                title="Another one like this"
                onClick={() => append(copyOf(field, getValues(`${field.name}.${i}`)))}
              >
                <Copy size={18} aria-hidden />
              </button>
            </div>
          </li>
        ))}
      </ul>
      <button type="button" className="btn mt-3" onClick={() => append(itemToForm(field, field.blank()))}>
        <Plus size={18} aria-hidden /> Add {field.itemName}
      </button>
    </fieldset>
  );
}

/** An item like another one, with an id of its own where it has one. */
function copyOf(field: ListField, item: unknown): Record<string, string> {
  const { id } = itemToForm(field, field.blank());
  return { ...(item as Record<string, string>), ...(id === undefined ? {} : { id }) };
}

function messageAt(errors: FieldErrors<FormValues>, path: string): string | undefined {
  const found = path.split('.').reduce<unknown>((node, key) => (node as Record<string, unknown> | undefined)?.[key], errors);
  return (found as { message?: string } | undefined)?.message;
}

import { provenanceWords, type Provenance } from '@yield/sheet';
import { useState, type JSX } from 'react';
import { problemWords } from '../api/problem.ts';
import { useNameKeyMutation } from '../api/yieldApi.ts';
import { ErrorNotice } from '../ui/Notice.tsx';
import { GradeMark } from '../ui/StatusMark.tsx';

/** Whose signature it is, and whether it is as it was signed; the key of another shop can be named here. */
export function ProvenanceLine({ what, provenance }: { what: string; provenance: Provenance }): JSX.Element {
  const isAltered = provenance.kind === 'altered';
  return (
    <div className="mt-1 text-sm">
      <p className="flex gap-2">
        {isAltered && <GradeMark grade="attention" size={18} />}
        <span className={isAltered ? 'font-medium' : 'text-quiet'}>
          {what}: {provenanceWords(provenance)}.
        </span>
      </p>
      {(provenance.kind === 'elsewhere' || isAltered) && <KeyName of={provenance} />}
    </div>
  );
}

/** Names the key of another shop, or renames it. */
export function KeyName({ of }: { of: { key: string; name?: string } }): JSX.Element {
  const [isNaming, setNaming] = useState(false);
  if (isNaming) return <NameKey of={of} onDone={() => setNaming(false)} />;
  return (
    <button type="button" className="text-action min-h-11 font-medium hover:underline" onClick={() => setNaming(true)}>
      {of.name === undefined ? 'Name this key' : 'Rename this key'}
    </button>
  );
}

function NameKey({ of: { key, name = '' }, onDone }: { of: { key: string; name?: string }; onDone: () => void }): JSX.Element {
  const [typed, setTyped] = useState(name);
  const [save, { isLoading, error }] = useNameKeyMutation();
  return (
    <form
      className="mt-1 flex flex-wrap items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void save({ key, name: typed.trim() }).then((result) => {
          if (result.error === undefined) onDone();
        });
      }}
    >
      <input
        className="input min-h-11 w-44"
        aria-label="Name of this key"
        placeholder="Whose key is it?"
        maxLength={200}
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      <button type="submit" className="btn btn-sm min-h-11" disabled={isLoading}>
        Save the name
      </button>
      {error !== undefined && <ErrorNotice>{problemWords(error).text}</ErrorNotice>}
    </form>
  );
}

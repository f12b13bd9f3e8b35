import { changedByEar, type Chain, type EarChange, type PassageState } from '@yield/core';
import { passageWords } from '@yield/words';
import { useState, type JSX } from 'react';
import { newUuid } from '../../api/newId.ts';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { useDraft } from '../../ui/useDraft.ts';

type Kind = EarChange['kind'];
const KINDS: { value: Kind; label: string }[] = [
  { value: 'level', label: 'Level' },
  { value: 'band', label: 'A band' },
  { value: 'delay', label: 'Delay' },
];

interface Row {
  name: string;
  words: string;
  unit: string;
  most: number;
  least: number;
}
const ROWS: Record<Kind, readonly Row[]> = {
  level: [{ name: 'byDb', words: 'By', unit: 'dB', least: -20, most: 20 }],
  band: [
    { name: 'frequencyHz', words: 'At', unit: 'Hz', least: 10, most: 20_000 },
    { name: 'gainDb', words: 'By', unit: 'dB', least: -20, most: 12 },
    { name: 'q', words: 'Q', unit: '', least: 0.1, most: 20 },
  ],
  delay: [{ name: 'byMs', words: 'Later by', unit: 'ms', least: -50, most: 50 }],
};

/** One change of one channel, with the reason that the ear gave: it goes into the chain, and what it spoils goes stale. */
export function EarChangeForm({
  run,
  passages,
  gains,
  onChange,
}: {
  run: TuneRun;
  passages: readonly PassageState[];
  /** how gains and levels were last read */
  gains: string;
  onChange: (chain: Chain) => Promise<boolean>;
}): JSX.Element {
  const { body } = run.tune.chain;
  const [channelId, setChannel] = useState(body.channels[0]?.id ?? '');
  const [chosen, setPassage] = useState<string>();
  // What is wrong now, until another one is chosen.
  const passage = chosen ?? (passages.find(({ state }) => state === 'wrong') ?? passages[0])?.passage ?? '';
  const [kind, setKind] = useState<Kind>('level');
  const [reason, setReason] = useDraft(`ear-reason/${run.tune.id}`);
  const [texts, setTexts] = useState<Record<string, string>>({});
  const [fault, setFault] = useState<string>();
  const submit = async (): Promise<void> => {
    const figures: Record<string, number> = {};
    for (const { name, words, unit, least, most } of ROWS[kind]) {
      const value = Number((texts[name] ?? '').replace(',', '.').replace('−', '-'));
      if ((texts[name] ?? '').trim() === '' || !(value >= least && value <= most)) {
        setFault(`${words}: a figure between ${least} and ${most}${unit === '' ? '' : ` ${unit}`}.`);
        return;
      }
      figures[name] = value;
    }
    if (reason.trim() === '') {
      setFault('Enter what you heard, so that the change can be understood later.');
      return;
    }
    const change: EarChange =
      kind === 'level'
        ? { kind, channelId, byDb: figures['byDb']! }
        : kind === 'delay'
          ? { kind, channelId, bySecond: figures['byMs']! / 1000 }
          : { kind, channelId, frequencyHz: figures['frequencyHz']!, gainDb: figures['gainDb']!, q: figures['q']! };
    const made = changedByEar(body, change, { id: newUuid(), at: new Date().toISOString(), passage, words: reason.trim() }, gains);
    setFault('fault' in made ? made.fault : undefined);
    if ('chain' in made && (await onChange(made.chain))) {
      setTexts({});
      setReason(null);
    }
  };
  return (
    <form
      className="max-w-2xl space-y-3"
      aria-label="Change by ear"
      onSubmit={(event) => {
        event.preventDefault();
        void submit();
      }}
    >
      <p className="text-quiet text-sm">
        One thing at a time. Enter it in the processor too; gains, levels and responses that stood on it ask to be read again.
      </p>
      <div className="grid gap-3 sm:grid-cols-2">
        <Choice
          label="Channel"
          value={channelId}
          onChange={setChannel}
          choices={body.channels.map(({ id, name }) => ({ value: id, words: name }))}
        />
        <Choice
          label="Because of"
          value={passage}
          onChange={setPassage}
          choices={passages.map((each) => ({ value: each.passage, words: passageWords(each.passage) }))}
        />
      </div>
      <ChoiceField label="What" value={kind} choices={KINDS} onChange={setKind} />
      <div className="flex flex-wrap gap-3">
        {ROWS[kind].map(({ name, words, unit }) => (
          <label key={name} className="w-32">
            <span className="label mb-1 block">{words}</span>
            <span className="input min-h-11 w-full">
              <input
                className="min-w-0 grow"
                aria-label={words}
                inputMode="decimal"
                autoComplete="off"
                value={texts[name] ?? ''}
                onChange={(event) => setTexts({ ...texts, [name]: event.target.value })}
              />
              <span className="text-quiet">{unit}</span>
            </span>
          </label>
        ))}
      </div>
      <label className="block">
        <span className="label mb-1 block">What was heard</span>
        <input className="input min-h-11 w-full" maxLength={300} value={reason} onChange={(event) => setReason(event.target.value)} />
      </label>
      {fault !== undefined && (
        <p role="alert" className="text-stop">
          {fault}
        </p>
      )}
      <button type="submit" className="btn btn-primary btn-tall">
        Change it
      </button>
    </form>
  );
}

function Choice({
  label,
  value,
  choices,
  onChange,
}: {
  label: string;
  value: string;
  choices: readonly { value: string; words: string }[];
  onChange: (value: string) => void;
}): JSX.Element {
  return (
    <label className="block min-w-0">
      <span className="label mb-1 block">{label}</span>
      <select className="select min-h-11 w-full" value={value} onChange={(event) => onChange(event.target.value)}>
        {choices.map((choice) => (
          <option key={choice.value} value={choice.value}>
            {choice.words}
          </option>
        ))}
      </select>
    </label>
  );
}

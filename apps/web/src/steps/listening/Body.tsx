import type { Chain, HeardEntry, PassageState } from '@yield/core';
import { passageWords } from '@yield/words';
import { Check, Ear, X } from 'lucide-react';
import { useState, type JSX } from 'react';
import { newUuid } from '../../api/newId.ts';
import { useEditChain } from '../../tune/useEdit.ts';
import { ErrorNotice } from '../../ui/Notice.tsx';
import { Reveal } from '../../ui/Reveal.tsx';
import { GradeMark } from '../../ui/StatusMark.tsx';
import { useDraft } from '../../ui/useDraft.ts';
import { Checks } from '../kit/Checks.tsx';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';
import { Blind } from './Blind.tsx';
import { EarChangeForm } from './EarChangeForm.tsx';
import { HeardLog } from './HeardLog.tsx';

const STATES = {
  unheard: { grade: 'note', words: 'not heard yet' },
  fine: { grade: 'good', words: 'fine' },
  wrong: { grade: 'attention', words: 'not right' },
  'other-setting': { grade: 'stale', words: 'hear it again' },
} as const;

/** The ear's last word: a verdict for each passage, changes with their reason, two settings compared blind, and the log of it all. */
export function ListeningBody({ run, current }: ViewProps<'listening'>): JSX.Element {
  const { figures, findings } = current.state;
  const { body } = run.tune.chain;
  const { edit } = useEditChain(run.tune);
  const [fault, setFault] = useState<string>();
  const store = async (chain: Chain): Promise<boolean> => {
    const faults = await edit(chain);
    setFault(faults[0]?.message);
    return faults.length === 0;
  };
  const write = (entry: Pick<HeardEntry, 'passage' | 'outcome' | 'words' | 'blind'>): Promise<boolean> => {
    const line: HeardEntry = { ...entry, id: newUuid(), at: new Date().toISOString(), setting: figures.setting };
    return store({ ...body, heard: [...(body.heard ?? []), line] });
  };
  const first = figures.passages.find(({ state }) => state !== 'fine')?.passage;
  return (
    <div className="min-w-0 space-y-5">
      <Checks run={run} current={current} />
      <Verdict
        findings={findings}
        hint="Take passages that you know well, for what they test. Say of each whether it is as it should be; what is not is changed in the chain, and heard again."
      />
      <ol className="divide-line border-line divide-y border-y">
        {figures.passages.map((each) => (
          <Passage key={each.passage} each={each} isFirst={each.passage === first} tuneId={run.tune.id} onSay={write} />
        ))}
      </ol>
      <Own tuneId={run.tune.id} onSay={write} />
      {fault !== undefined && <ErrorNotice>{fault}</ErrorNotice>}
      <Reveal summary="Change something by ear">
        <EarChangeForm run={run} passages={figures.passages} gains={figures.gains} onChange={store} />
      </Reveal>
      <Reveal summary="Compare two settings blind">
        <Blind tuneId={run.tune.id} onDone={(blind) => write({ passage: 'Two settings, compared blind', outcome: 'blind', blind })} />
      </Reveal>
      <HeardLog heard={body.heard ?? []} channels={body.channels} setting={figures.setting} />
    </div>
  );
}

type Say = (entry: Pick<HeardEntry, 'passage' | 'outcome' | 'words'>) => Promise<boolean>;

function Passage({
  each: { passage, state, last },
  isFirst,
  tuneId,
  onSay,
}: {
  each: PassageState;
  isFirst: boolean;
  tuneId: string;
  onSay: Say;
}): JSX.Element {
  const [note, setNote] = useDraft(`heard/${tuneId}/${passage.slice(0, 40)}`);
  const words = passageWords(passage);
  const { grade, words: stateWords } = STATES[state];
  const say = async (outcome: 'fine' | 'wrong'): Promise<void> => {
    const text = note.trim();
    if (await onSay({ passage, outcome, ...(text === '' ? {} : { words: text }) })) setNote(null);
  };
  return (
    <li
      className={`grid items-center gap-x-5 gap-y-2 py-3 md:grid-cols-[minmax(0,1fr)_minmax(0,15rem)_auto] ${isFirst ? 'font-medium' : ''}`}
    >
      <div className="flex min-w-0 gap-3">
        <span className="pt-0.5">
          <GradeMark grade={grade} size={20} />
        </span>
        <p className="min-w-0 break-words">
          {words}
          <span className="text-quiet block text-sm font-normal">
            {stateWords}
            {last?.words === undefined ? '' : `: “${last.words}”`}
          </span>
        </p>
      </div>
      <input
        className="input min-h-11 w-full"
        aria-label={`What was heard: ${words}`}
        placeholder="What was heard"
        maxLength={300}
        value={note}
        onChange={(event) => setNote(event.target.value)}
      />
      <div className="flex gap-2">
        <button type="button" className="btn btn-tall" aria-label={`Fine: ${words}`} onClick={() => void say('fine')}>
          <Check size={18} aria-hidden /> Fine
        </button>
        <button type="button" className="btn btn-tall" aria-label={`Not right: ${words}`} onClick={() => void say('wrong')}>
          <X size={18} aria-hidden /> Not right
        </button>
      </div>
    </li>
  );
}

/** A passage of the tuner's own, by what it tests. */
function Own({ tuneId, onSay }: { tuneId: string; onSay: Say }): JSX.Element {
  const [text, setText] = useDraft(`heard-own/${tuneId}`);
  const words = text.trim();
  const say = async (outcome: 'fine' | 'wrong'): Promise<void> => {
    if (await onSay({ passage: passageWords(words), outcome })) setText(null);
  };
  return (
    <div className="flex flex-wrap items-end gap-2">
      <label className="min-w-0 grow sm:max-w-md">
        <span className="label mb-1 flex items-center gap-2">
          <Ear size={16} aria-hidden /> A passage of your own, by what it tests
        </span>
        <input
          className="input min-h-11 w-full"
          maxLength={120}
          value={text}
          placeholder="Brushes on a cymbal, soft and far back"
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      <button type="button" className="btn btn-tall" disabled={words === ''} onClick={() => void say('fine')}>
        Fine
      </button>
      <button type="button" className="btn btn-tall" disabled={words === ''} onClick={() => void say('wrong')}>
        Not right
      </button>
    </div>
  );
}

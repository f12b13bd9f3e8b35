import { formatQuantity, type Fault, type HouseRules, type Unit } from '@yield/core';
import { HOUSE_QUESTIONS, type HouseQuestion } from '@yield/words';
import { ChevronDown } from 'lucide-react';
import { useState, type JSX, type ReactNode } from 'react';
import { QuantityField } from '../ui/QuantityField.tsx';
import { useQuantityDraft } from '../ui/useDraft.ts';

type Value = HouseRules[keyof HouseRules];

interface Props {
  /** what drafts are kept under */
  draftKey: string;
  rules: HouseRules;
  /** stores an answer; answers what is wrong with it */
  onAnswer: (rules: HouseRules) => Promise<Fault[]>;
  /** what another answer would change, in words; left out where there is nothing that it could */
  impactOf?: (rules: HouseRules) => string;
}

/** Where practitioners disagree: one question after the other, folded to its answer until somebody asks. */
export function HouseQuestions({ draftKey, rules, onAnswer, impactOf }: Props): JSX.Element {
  const [open, setOpen] = useState<string | null>(null);
  return (
    <div className="max-w-3xl space-y-8">
      {HOUSE_QUESTIONS.map(({ title, questions }) => (
        <section key={title} aria-label={title}>
          <h2 className="text-lg">{title}</h2>
          <ul className="divide-line border-line mt-2 divide-y border-y">
            {questions.map((question) => (
              <li key={question.key}>
                <Question
                  draftKey={draftKey}
                  question={question}
                  rules={rules}
                  isOpen={open === question.key}
                  onToggle={() => setOpen(open === question.key ? null : question.key)}
                  onAnswer={async (next) => {
                    const faults = await onAnswer(next);
                    if (faults.length === 0) setOpen(null);
                    return faults;
                  }}
                  {...(impactOf === undefined ? {} : { impactOf })}
                />
              </li>
            ))}
          </ul>
        </section>
      ))}
    </div>
  );
}

const figureWords = (value: Value, unit: string | undefined): string =>
  typeof value === 'number' ? formatQuantity(value, (unit ?? 'dB') as Unit) : `${value}`;

/** The answer in force: its words, or the figure where it is one of one's own. */
function answerWords({ answers, unit }: HouseQuestion, value: Value): string {
  return answers.find((answer) => answer.value === value)?.words ?? figureWords(value, unit);
}

function Question({
  draftKey,
  question,
  rules,
  isOpen,
  onToggle,
  onAnswer,
  impactOf,
}: Omit<Props, 'rules'> & { question: HouseQuestion; rules: HouseRules; isOpen: boolean; onToggle: () => void }): JSX.Element {
  const { key, usual } = question;
  const inForce = rules[key] ?? usual;
  return (
    <>
      <button
        type="button"
        aria-expanded={isOpen}
        className="hover:bg-raised grid min-h-14 w-full cursor-pointer grid-cols-[minmax(0,1fr)_auto] items-center gap-x-4 px-1 py-2 text-left sm:grid-cols-[minmax(0,3fr)_minmax(0,2fr)_auto]"
        onClick={onToggle}
      >
        <span className={isOpen ? 'font-semibold' : ''}>{question.question}</span>
        <span className="text-quiet max-sm:col-start-1 max-sm:row-start-2">{answerWords(question, inForce)}</span>
        <ChevronDown size={18} aria-hidden className={`text-quiet ${isOpen ? 'rotate-180' : ''}`} />
      </button>
      {isOpen && (
        <Answers
          draftKey={draftKey}
          question={question}
          rules={rules}
          inForce={inForce}
          onAnswer={onAnswer}
          {...(impactOf === undefined ? {} : { impactOf })}
        />
      )}
    </>
  );
}

function Answers({
  draftKey,
  question: { key, answers, unit, usual, source, question },
  rules,
  inForce,
  onAnswer,
  impactOf,
}: Props & { question: HouseQuestion; inForce: Value }): JSX.Element {
  const isOwn = !answers.some(({ value }) => value === inForce);
  const [chosen, setChosen] = useState<Value | 'own'>(isOwn ? 'own' : inForce);
  const own = useQuantityDraft(`${draftKey}/own/${key}`, (unit ?? 'dB') as Unit, isOwn ? `${inForce}` : '', -Infinity);
  const [faults, setFaults] = useState<readonly Fault[]>([]);
  const value = chosen === 'own' ? own.value : chosen;
  const isChanged = value !== undefined && value !== inForce;
  const next = { ...rules, [key]: value };
  return (
    <div className="bg-raised border-line mb-3 rounded-md border p-4">
      <fieldset className="space-y-1">
        <legend className="sr-only">{question}</legend>
        {answers.map((answer) => (
          <Answer key={`${answer.value}`} name={key} isOn={chosen === answer.value} onChoose={() => setChosen(answer.value)}>
            <span className="font-medium">
              {answer.words}
              {answer.value === usual && <span className="text-quiet ml-2 text-sm font-normal">the usual one</span>}
            </span>
            <span className="text-quiet block text-sm leading-snug">{answer.cost}</span>
          </Answer>
        ))}
        {unit !== undefined && (
          <div className="flex flex-wrap items-center gap-x-3">
            <Answer name={key} isOn={chosen === 'own'} onChoose={() => setChosen('own')}>
              <span className="font-medium">A figure of one’s own</span>
            </Answer>
            {chosen === 'own' && <QuantityField label="A figure of one’s own" hideLabel unit={unit as Unit} draft={own} className="w-36" />}
          </div>
        )}
      </fieldset>
      <p className="text-quiet mt-3 text-sm">{source}</p>
      {faults.map(({ message }) => (
        <p key={message} role="alert" className="text-stop mt-2">
          {message}
        </p>
      ))}
      {isChanged && (
        <div className="border-line mt-3 flex flex-wrap items-center gap-x-4 gap-y-2 border-t pt-3">
          <button type="button" className="btn btn-primary btn-tall" onClick={() => void onAnswer(next).then(setFaults)}>
            Use this
          </button>
          {impactOf !== undefined && (
            <p role="status" className="min-w-0 flex-1 leading-snug">
              {impactOf(next)}
            </p>
          )}
        </div>
      )}
    </div>
  );
}

function Answer({
  name,
  isOn,
  onChoose,
  children,
}: {
  name: string;
  isOn: boolean;
  onChoose: () => void;
  children: ReactNode;
}): JSX.Element {
  return (
    <label className="hover:bg-ground has-checked:bg-ground flex min-h-11 cursor-pointer items-start gap-3 rounded-md px-2 py-2">
      <input type="radio" name={name} className="radio border-quiet mt-0.5" checked={isOn} onChange={onChoose} />
      <span className="min-w-0">{children}</span>
    </label>
  );
}

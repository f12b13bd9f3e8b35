import { earCertainty, polarityBasis, polarityByEar, type EarAnswer, type EarDriver, type PolarityByEar } from '@yield/core';
import { cabinOf, earAnswer } from '@yield/bench';
import { Undo2 } from 'lucide-react';
import type { JSX } from 'react';
import { useAppSelector } from '../../store/store.ts';
import { useSaveMark } from '../../tune/useMark.ts';
import { stepsOfKind, type StepNow, type TuneRun } from '../../tune/useTuneRun.ts';
import { GradedLine } from '../../ui/FindingLine.tsx';
import { useKept } from '../../ui/useKept.ts';

type Place = Pick<EarDriver, 'side' | 'row'>;

interface Session {
  /** where each driver that takes part sits, by its id */
  places: Record<string, Place>;
  answers: EarAnswer[];
}

const MAX_DRIVERS = 8;
const HEARD = { first: 'The first is fuller.', same: 'I hear no difference.', second: 'The second is fuller.' } as const;
const SIDES: readonly Place['side'][] = ['left', 'right', 'centre'];
const ROWS: readonly Place['row'][] = ['front', 'rear'];

/** The fader and balance procedure: comparisons by ear that narrow down to the odd driver. */
export function Ear({ run }: { run: TuneRun }): JSX.Element {
  const saveMark = useSaveMark(run);
  const isBench = useAppSelector(({ bench }) => bench.open);
  const steps = stepsOfKind(run, 'polarity').filter(({ step }) => step.driver.role !== 'tweeter' && step.driver.role !== 'subwoofer');
  const [kept, keep] = useKept(`ear/${run.tune.id}`, readSession);
  const session = kept ?? { places: guessedPlaces(steps), answers: [] };
  const taking = steps.filter(({ step }) => session.places[step.driver.id] !== undefined);
  const drivers = taking.map(({ step }): EarDriver => ({ name: step.driver.id, ...session.places[step.driver.id]! }));
  const nameOf = new Map(taking.map(({ step, words }) => [step.driver.id, words.subject]));
  const place = (id: string, next: Place | undefined): void => {
    const { [id]: _old, ...rest } = session.places;
    // Another seating makes the answers of before mean something else.
    keep({ places: next === undefined ? rest : { ...rest, [id]: next }, answers: [] });
  };
  const found = drivers.length < 2 || drivers.length > MAX_DRIVERS ? undefined : polarityByEar({ drivers, answers: session.answers });
  const only = found?.verdict === 'one' ? found.candidates[0]?.reversed : undefined;
  const certainty = only === undefined ? undefined : earCertainty({ drivers, answers: session.answers }, only);
  const question = found?.next ?? certainty?.confirm;
  const write = (reversed: readonly string[]): void => {
    for (const { id, step } of taking) {
      const { key: basis, words: basisWords } = polarityBasis(step);
      // A channel that is set reversed on purpose sounds odd with its driver right.
      const isReversed = reversed.includes(step.driver.id) !== (step.channel.isReversed === true);
      saveMark(id, { checks: [isReversed ? 'reversed' : 'right'], values: { way: 'ear' }, basis, basisWords });
    }
    keep(null);
  };
  return (
    <div className="max-w-3xl space-y-4">
      <p className="leading-snug">
        Bass of two drivers against each other thins out, and the ears feel an odd pressure; on one side alone it is full again. Play music
        with steady bass, low-passed where you can, and answer what is fuller.
      </p>
      <Seating steps={steps} places={session.places} onPlace={place} />
      {drivers.length < 2 && <p className="text-attention">Two drivers at least have to take part: say where they sit.</p>}
      {drivers.length > MAX_DRIVERS && (
        <p className="text-attention">{MAX_DRIVERS} drivers at the most: leave some out, and do them afterwards.</p>
      )}
      {found !== undefined && (
        <div className="panel space-y-3" data-testid="ear" aria-live="polite">
          <Answered found={found} nameOf={nameOf} answers={session.answers} isSure={certainty?.isSure === true} onWrite={write} />
          {question !== undefined && (
            <>
              <p className="text-xl leading-snug font-semibold">{question.words}</p>
              <div className="grid gap-3 sm:grid-cols-3">
                {(['first', 'same', 'second'] as const).map((fuller) => (
                  <button
                    key={fuller}
                    type="button"
                    className="btn btn-tall"
                    onClick={() =>
                      keep({ ...session, answers: [...session.answers, { first: question.first, second: question.second, fuller }] })
                    }
                  >
                    {{ first: 'The first is fuller', same: 'No difference', second: 'The second is fuller' }[fuller]}
                  </button>
                ))}
              </div>
            </>
          )}
          {question !== undefined && isBench && (
            <p className="text-quiet" role="status">
              The simulated listener: “
              {HEARD[earAnswer(cabinOf(run.tune.chain.body, run.tune.id), drivers, question, session.answers.length)]}” An ear slips now and
              then.
            </p>
          )}
          {session.answers.length > 0 && (
            <button
              type="button"
              className="btn btn-ghost -ml-3"
              onClick={() => keep({ ...session, answers: session.answers.slice(0, -1) })}
            >
              <Undo2 size={18} aria-hidden /> Take the last answer back
            </button>
          )}
        </div>
      )}
      <p className="text-quiet text-sm">
        All drivers reversed together sound as good as all of them right: an ear cannot tell that. One touch at one driver does.
      </p>
    </div>
  );
}

function Answered({
  found: { verdict, candidates, next },
  nameOf,
  answers,
  isSure,
  onWrite,
}: {
  found: PolarityByEar;
  nameOf: ReadonlyMap<string, string>;
  answers: readonly EarAnswer[];
  /** every driver's part in it is borne out by two answers */
  isSure: boolean;
  onWrite: (reversed: readonly string[]) => void;
}): JSX.Element | null {
  const namesOf = (ids: readonly string[]): string => ids.map((id) => nameOf.get(id) ?? id).join(' and ');
  if (verdict === 'contradiction')
    return (
      <GradedLine
        grade="attention"
        text="These answers contradict each other: no combination of reversed drivers sounds like this."
        next="Take the doubtful one back and listen again; or see to one driver by touch."
      />
    );
  if (verdict === 'several' && next !== undefined)
    return answers.length === 0 ? null : (
      <p className="text-quiet">
        {candidates.length} possibilities are left after {answers.length === 1 ? 'one answer' : `${answers.length} answers`}.
      </p>
    );
  if (verdict === 'several')
    return (
      <GradedLine
        grade="attention"
        text={`No comparison parts these: ${candidates.map(({ reversed }) => (reversed.length === 0 ? 'none reversed' : namesOf(reversed))).join('; or ')}.`}
        next="Disconnect one of them, or see to one by touch."
      />
    );
  const reversed = candidates[0]?.reversed ?? [];
  return (
    <>
      <GradedLine
        large
        {...(reversed.length === 0
          ? {
              grade: isSure ? 'good' : 'note',
              text: isSure ? 'All of them push the same way.' : 'It looks as if all of them push the same way.',
              next: 'Or all of them are reversed together, which sounds alike.',
            }
          : {
              grade: 'attention',
              text: `${isSure ? 'Reversed' : 'Most likely reversed'}: ${namesOf(reversed)}.`,
              next: 'Or all the others are, which sounds alike: a touch at one driver says which.',
            })}
      />
      {isSure ? (
        <button type="button" className="btn btn-primary btn-tall" onClick={() => onWrite(reversed)}>
          Write it down for these drivers
        </button>
      ) : (
        <p className="text-quiet">An ear slips: one more comparison bears it out, or overthrows it. Or see to one driver by touch.</p>
      )}
    </>
  );
}

function Seating({
  steps,
  places,
  onPlace,
}: {
  steps: readonly StepNow<'polarity'>[];
  places: Readonly<Record<string, Place>>;
  onPlace: (id: string, place: Place | undefined) => void;
}): JSX.Element {
  return (
    <table className="w-full text-left">
      <thead>
        <tr className="text-quiet text-sm">
          <th className="py-1 pr-4 font-medium">Driver</th>
          <th className="pr-4 font-medium">Side</th>
          <th className="font-medium">Row</th>
        </tr>
      </thead>
      <tbody className="divide-line border-line divide-y border-y">
        {steps.map(({ step: { driver }, words: { subject } }) => {
          const own = places[driver.id];
          return (
            <tr key={driver.id}>
              <th scope="row" className="py-1 pr-4 font-medium">
                {subject}
              </th>
              <td className="py-1.5 pr-4">
                <select
                  className="select min-h-11 w-32"
                  aria-label={`Side of ${subject}`}
                  value={own?.side ?? ''}
                  onChange={(event) => {
                    const side = SIDES.find((each) => each === event.target.value);
                    onPlace(driver.id, side === undefined ? undefined : { row: 'front', ...own, side });
                  }}
                >
                  <option value="">left out</option>
                  {SIDES.map((side) => (
                    <option key={side} value={side}>
                      {side}
                    </option>
                  ))}
                </select>
              </td>
              <td className="py-1.5">
                <select
                  className="select min-h-11 w-28"
                  aria-label={`Row of ${subject}`}
                  value={own?.row ?? 'front'}
                  disabled={own === undefined}
                  onChange={(event) => {
                    const row = ROWS.find((each) => each === event.target.value);
                    if (own !== undefined && row !== undefined) onPlace(driver.id, { ...own, row });
                  }}
                >
                  {ROWS.map((row) => (
                    <option key={row} value={row}>
                      {row}
                    </option>
                  ))}
                </select>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** Names mostly say where a driver sits; who is not named so is left out until somebody says it. */
function guessedPlaces(steps: readonly StepNow<'polarity'>[]): Record<string, Place> {
  return Object.fromEntries(
    steps.flatMap(({ step: { driver }, words: { subject } }) => {
      const side = /\bleft\b/i.test(subject)
        ? 'left'
        : /\bright\b/i.test(subject)
          ? 'right'
          : /\bcent(re|er)\b/i.test(subject)
            ? 'centre'
            : undefined;
      return side === undefined
        ? []
        : [[driver.id, { side, row: /\b(rear|back|boot)\b/i.test(subject) ? 'rear' : 'front' } satisfies Place]];
    }),
  );
}

function readSession(kept: unknown): Session | undefined {
  const { places, answers } = (kept ?? {}) as Partial<Session>;
  return typeof places === 'object' && Array.isArray(answers) ? { places, answers } : undefined;
}

import { placesOf, searchSound, type Answers, type ChannelNow, type Place } from '@yield/core';
import { lostWords, placeWords, searchContradiction } from '@yield/words';
import { useState, type JSX } from 'react';
import { Link, useParams } from 'react-router';
import { stepsOfKind, useTuneRun, type TuneRun } from '../tune/useTuneRun.ts';
import { GradedLine } from '../ui/FindingLine.tsx';
import { Caution } from '../ui/Notice.tsx';

/** The meter reads nothing: a search from the source to the coil that halves what is left with every look. */
export default function NoSoundScreen(): JSX.Element | null {
  const { tuneId = '', channelId = '' } = useParams();
  const run = useTuneRun(tuneId);
  if (run === null) return null;
  const found = stepsOfKind(run, 'hookup').find(({ step }) => step.channel.id === channelId);
  return (
    <main className="min-w-0 flex-1 space-y-5 px-6 py-6 max-sm:px-4">
      <h1 className="text-2xl">No signal{found === undefined ? '' : `: ${found.step.channel.name}`}</h1>
      {found === undefined ? <p>There is no such channel in this tune.</p> : <SearchOf run={run} of={found.step} />}
    </main>
  );
}

function SearchOf({ run, of }: { run: TuneRun; of: ChannelNow }): JSX.Element {
  const [answers, setAnswers] = useState<Answers>({});
  const places = placesOf(run.now.chain);
  const { next, lost, contradiction } = searchSound(places, answers);
  const answer = (place: Place, isThere: boolean): void => setAnswers({ ...answers, [place]: isThere });
  const wordsOf = (place: Place) => placeWords(place, of.channel, run.now.chain);
  const nameOf = (place: Place): string => wordsOf(place).name;
  const found = lost === undefined ? undefined : lostWords(lost, nameOf);
  return (
    <div className="max-w-3xl space-y-5">
      <p className="text-quiet">
        Play the tone at the working volume. First the probes together on AC volts: the meter has to show zero, or it shows nothing you can
        trust.
      </p>
      {contradiction !== undefined && <GradedLine grade="attention" text={searchContradiction(contradiction, nameOf)} />}
      {next !== undefined && (
        <section className="panel" aria-label="Look here" aria-live="polite">
          <p className="label">Look here</p>
          <p className="text-2xl font-semibold">{nameOf(next)}</p>
          <p className="text-quiet mt-1">{wordsOf(next).look}</p>
          <div className="mt-4 flex flex-wrap gap-3">
            <button type="button" className="btn btn-primary btn-tall" onClick={() => answer(next, true)}>
              {next === 'coil' ? 'A few ohms' : 'Something is there'}
            </button>
            <button type="button" className="btn btn-tall" onClick={() => answer(next, false)}>
              {next === 'coil' ? 'No path' : 'Nothing'}
            </button>
          </div>
        </section>
      )}
      {found !== undefined && (
        <div aria-live="polite" data-testid="lost">
          <GradedLine grade="attention" text={found.text} next={found.next} large />
        </div>
      )}
      <ol className="border-line divide-line divide-y border-y">
        {places.map((place) => {
          const known = answers[place];
          return (
            <li key={place} className="flex min-h-11 flex-wrap items-center justify-between gap-x-4 py-1">
              <span className={place === next ? 'font-semibold' : ''}>{nameOf(place)}</span>
              <span className="text-quiet">{known === undefined ? '' : known ? 'there' : 'nothing'}</span>
            </li>
          );
        })}
      </ol>
      <div className="flex flex-wrap gap-3">
        <button type="button" className="btn" onClick={() => setAnswers({})}>
          Begin anew
        </button>
        <Link to={`/tunes/${run.tune.id}/run/gain:${of.channel.id}`} className="btn">
          Back to the gain
        </Link>
      </div>
      <Caution>
        Amplifiers off while plugs are moved; never touch a live output with a meter on ohms or amperes. Drivers off while a tone plays at
        the terminals. The equipment’s manual, local codes and licensed practice come first.
      </Caution>
    </div>
  );
}

import {
  alignAction,
  alignedChain,
  fixed,
  formatQuantity,
  groupName,
  meetingConditions,
  nextLevel,
  type MeetingFigures,
  type NeighbourSetting,
} from '@yield/core';
import { useState, type JSX } from 'react';
import { useEditChain } from '../../tune/useEdit.ts';
import { Checks } from '../kit/Checks.tsx';
import { ReadingEntry } from '../kit/ReadingEntry.tsx';
import { Tone } from '../kit/Tone.tsx';
import { Verdict } from '../kit/Verdict.tsx';
import type { ViewProps } from '../view.ts';
import { Arrows } from './Arrows.tsx';
import { Trial } from './Trial.tsx';

const PARTS = ['level-lower', 'level-upper', 'level-both'] as const;

/** Two neighbours at their crossover: nine levels, two arrows, and what to try. */
export function MeetingBody({ run, current }: ViewProps<'meeting'>): JSX.Element {
  const { step, state } = current;
  const { figures } = state;
  const { edit } = useEditChain(run.tune);
  const [fault, setFault] = useState<string>();
  const next = nextLevel(step, run.now);
  const names = { 'level-lower': groupName(step.lower), 'level-upper': groupName(step.upper), 'level-both': 'both' };
  const take = async (setting: NeighbourSetting): Promise<void> => {
    const faults = await edit(alignedChain(run.tune.chain.body, alignAction(step, run.now, setting)));
    setFault(faults[0]?.message);
  };
  const { wanted } = figures;
  return (
    <div className="min-w-0 space-y-4">
      <Checks run={run} current={current} />
      <div className="grid gap-x-6 gap-y-3 sm:grid-cols-[minmax(0,17rem)_minmax(0,1fr)_auto]">
        {next === undefined ? (
          <div className="text-quiet self-center">All levels read. Read again after a change.</div>
        ) : (
          <ReadingEntry
            key={`${next.part} ${next.hertz}`}
            run={run}
            current={current}
            kind={next.part}
            unit="dB"
            conditions={meetingConditions(step, run.now, next.hertz)}
            label={`${capital(names[next.part])}${next.part === 'level-both' ? ' together' : ' alone'}, ${formatQuantity(next.hertz, 'Hz')}`}
            main
          />
        )}
        <Verdict
          findings={state.findings}
          hint="Play the tone softly, mute the other ways in the processor, and type what the sound meter shows: slow, C or no weighting."
        >
          {wanted !== undefined && (
            <button type="button" className="btn btn-primary btn-tall" onClick={() => void take(wanted)}>
              Entered in the processor: apply
            </button>
          )}
        </Verdict>
        <Tone hertz={next?.hertz ?? step.cornerHz} levelDbfs={run.tune.settings.rules.toneLevelDbfs} gate={current.gate} />
      </div>
      {fault !== undefined && (
        <p role="alert" className="text-stop">
          {fault}
        </p>
      )}
      <div className="grid gap-6 lg:grid-cols-[minmax(0,1fr)_13rem]">
        <Levels figures={figures} names={names} next={next} />
        <Arrows tones={figures.tones} names={[names['level-lower'], names['level-upper']]} />
      </div>
      <Trial run={run} step={step} figures={figures} onTake={(setting) => void take(setting)} />
    </div>
  );
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

function Levels({
  figures: { tones },
  names,
  next,
}: {
  figures: MeetingFigures;
  names: Record<(typeof PARTS)[number], string>;
  next: { part: (typeof PARTS)[number]; hertz: number } | undefined;
}): JSX.Element {
  const field = { 'level-lower': 'lowerDb', 'level-upper': 'upperDb', 'level-both': 'bothDb' } as const;
  return (
    <div className="overflow-x-auto">
      <table className="w-full min-w-md text-right">
        <thead>
          <tr className="text-quiet align-bottom text-sm">
            <th className="py-1 pr-3 text-left font-medium">Tone</th>
            {PARTS.map((part) => (
              <th key={part} className="px-3 font-medium">
                {capital(names[part])}
              </th>
            ))}
            <th className="px-3 font-medium">Phase difference</th>
            <th className="pl-3 font-medium">Lost</th>
          </tr>
        </thead>
        <tbody className="divide-line border-line divide-y border-y">
          {tones.map((tone) => (
            <tr key={tone.hertz}>
              <th scope="row" className="py-2 pr-3 text-left font-semibold whitespace-nowrap">
                {formatQuantity(tone.hertz, 'Hz')}
              </th>
              {PARTS.map((part) => {
                const db = tone[field[part]];
                const isNext = next?.part === part && next.hertz === tone.hertz;
                return (
                  <td
                    key={part}
                    className={`px-3 whitespace-nowrap ${isNext ? 'bg-raised outline-action outline-2 -outline-offset-2' : ''}`}
                  >
                    {db === undefined ? <span className="text-quiet">{isNext ? 'next' : '–'}</span> : `${fixed(db, 1)} dB`}
                  </td>
                );
              })}
              <td className="px-3 whitespace-nowrap">{tone.phase?.phaseDeg === undefined ? '–' : `${fixed(tone.phase.phaseDeg, 0)}°`}</td>
              <td className="pl-3 whitespace-nowrap">
                {tone.phase === undefined ? '–' : `${fixed(-tone.phase.sumAgainstInPhaseDb, 1)} dB`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

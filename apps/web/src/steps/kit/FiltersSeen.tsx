import { areFiltersConfirmed, type Channel } from '@yield/core';
import type { JSX } from 'react';
import { Link } from 'react-router';
import { GradeMark } from '../../ui/StatusMark.tsx';
import type { TuneRun } from '../../tune/useTuneRun.ts';

/** The first thing to see to before a tone: done elsewhere, so it is a link and no box. */
export function FiltersSeen({ run, channel }: { run: TuneRun; channel: Channel }): JSX.Element {
  const isSeen = areFiltersConfirmed(channel, run.now);
  return (
    <Link
      to={`/tunes/${run.tune.id}/run/filters:${channel.id}`}
      className={`flex min-h-11 items-center gap-2.5 hover:underline ${isSeen ? 'text-quiet' : 'text-attention font-medium'}`}
    >
      <GradeMark grade={isSeen ? 'good' : 'attention'} size={18} />
      {isSeen ? 'filters confirmed' : 'filters not confirmed'}
    </Link>
  );
}

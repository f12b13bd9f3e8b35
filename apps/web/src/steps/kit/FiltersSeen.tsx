import { areFiltersConfirmed, type Channel } from '@yield/core';
import type { JSX } from 'react';
import { Link } from 'react-router';
import { GradeMark } from '../../ui/StatusMark.tsx';
import type { TuneRun } from '../../tune/useTuneRun.ts';

/** The first thing to see to before a tone: done elsewhere, so it is a link and no box. Of several channels the first that is left is named. */
export function FiltersSeen({ run, channels }: { run: TuneRun; channels: readonly Channel[] }): JSX.Element | null {
  const unseen = channels.find((channel) => !areFiltersConfirmed(channel, run.now));
  const shown = unseen ?? channels[0];
  if (shown === undefined) return null;
  return (
    <Link
      to={`/tunes/${run.tune.id}/run/filters:${shown.id}`}
      className={`flex min-h-11 items-center gap-2.5 hover:underline ${unseen === undefined ? 'text-quiet' : 'text-attention font-medium'}`}
    >
      <GradeMark grade={unseen === undefined ? 'good' : 'attention'} size={18} />
      {unseen === undefined
        ? 'filters confirmed'
        : channels.length > 1
          ? `filters of ${unseen.name} not confirmed`
          : 'filters not confirmed'}
    </Link>
  );
}

import { blindWords, type Channel, type HeardEntry } from '@yield/core';
import { passageWords } from '@yield/words';
import type { JSX } from 'react';

const OUTCOMES = { fine: 'fine', wrong: 'not right', changed: 'changed', blind: 'compared blind' } as const;
const SHOWN = 40;

/** Everything that was heard and changed for it, newest first. */
export function HeardLog({
  heard,
  channels,
  setting,
}: {
  heard: readonly HeardEntry[];
  channels: readonly Channel[];
  setting: string;
}): JSX.Element | null {
  if (heard.length === 0) return null;
  const nameOf = (id: string): string => channels.find((channel) => channel.id === id)?.name ?? 'a channel that is gone';
  return (
    <section aria-label="Listening log">
      <h2 className="mb-1 text-lg font-semibold">Listening log</h2>
      <ul className="divide-line border-line divide-y border-y text-sm">
        {[...heard]
          .reverse()
          .slice(0, SHOWN)
          .map((entry) => (
            <li key={entry.id} className="flex flex-wrap gap-x-3 py-2">
              <time dateTime={entry.at} className="text-quiet w-32 shrink-0">
                {new Date(entry.at).toLocaleString([], { dateStyle: 'medium', timeStyle: 'short' })}
              </time>
              <p className="min-w-0 flex-1 basis-60 break-words">
                <span className="font-medium">{passageWords(entry.passage)}</span>: {OUTCOMES[entry.outcome]}
                {entry.words === undefined ? '' : `, “${entry.words}”`}
                {entry.change !== undefined && (
                  <span className="block">
                    {nameOf(entry.change.channelId)}: {entry.change.before} → {entry.change.after}
                  </span>
                )}
                {entry.blind !== undefined && (
                  <span className="block">
                    A {entry.blind.first}, B {entry.blind.second}. {blindWords(entry.blind.right, entry.blind.trials)}
                  </span>
                )}
                {entry.setting !== setting && <span className="text-quiet block">through settings that have changed since</span>}
              </p>
            </li>
          ))}
      </ul>
      {heard.length > SHOWN && <p className="text-quiet text-sm">{heard.length - SHOWN} older lines are kept.</p>}
    </section>
  );
}

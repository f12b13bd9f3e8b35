import { formatQuantity, type Channel, type ChannelNow } from '@yield/core';
import { SlidersHorizontal } from 'lucide-react';
import { lazy, Suspense, useState, type JSX } from 'react';
import type { TuneRun } from '../../tune/useTuneRun.ts';

// Forms come when they are asked for: the gain itself wants none.
const HowSetDialog = lazy(async () => ({ default: (await import('./HowSetDialog.tsx')).HowSetDialog }));

/** What of a channel's gain is not the house's: limits, headroom, blend, tone. */
export function HowSet({ run, step, label = 'How this channel is set' }: { run: TuneRun; step: ChannelNow; label?: string }): JSX.Element {
  const [open, setOpen] = useState(false);
  const own = ownWords(step.channel);
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
      <button type="button" className="btn btn-ghost text-action -ml-3" onClick={() => setOpen(true)}>
        <SlidersHorizontal size={18} aria-hidden /> {label}
      </button>
      {own !== '' && <span className="text-quiet text-sm">{own}</span>}
      {open && (
        <Suspense>
          <HowSetDialog run={run} step={step} onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </div>
  );
}

function ownWords({ powerBasis, wishWatt, headroomDb, blendDb, remoteAt, overlapDb, dummyOhm, dummyWatt }: Channel): string {
  return [
    powerBasis === 'sheet' ? 'by its test sheet' : powerBasis === 'fuse' ? 'by its fuses' : '',
    wishWatt === undefined ? '' : `at most ${formatQuantity(wishWatt, 'W')}`,
    headroomDb === undefined ? '' : `${formatQuantity(headroomDb, 'dB')} headroom`,
    blendDb === undefined || blendDb === 0 ? '' : `${formatQuantity(blendDb, 'dB')} below its ceiling on purpose`,
    remoteAt === undefined ? '' : `remote at ${remoteAt} in everyday use`,
    overlapDb === undefined ? '' : `${formatQuantity(overlapDb, 'dB')} overlap`,
    dummyOhm === undefined
      ? ''
      : `load: a dummy of ${formatQuantity(dummyOhm, 'ohm')}${dummyWatt === undefined ? '' : `, rated ${formatQuantity(dummyWatt, 'W')}`}`,
  ]
    .filter((part) => part !== '')
    .join(', ');
}

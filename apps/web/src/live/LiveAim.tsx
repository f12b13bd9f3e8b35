import { formatQuantity, signedDb, voltageRatioDb } from '@yield/core';
import { useState, type JSX } from 'react';
import { useTonePlaying } from '../tones/tonePlaying.ts';
import { useSoundGuide } from './useSoundGuide.ts';

/** What a live voltage is to come to. */
export interface Aim {
  volt: number;
  toleranceDb: number;
}

/** How far the live voltage is from its target, in large figures and, if wanted, by ear. */
export function LiveAim({ aim: { volt, toleranceDb }, liveVolt }: { aim: Aim; liveVolt: number | undefined }): JSX.Element {
  const [isGuided, setIsGuided] = useState(false);
  const isTonePlaying = useTonePlaying();
  const differenceDb = liveVolt === undefined || liveVolt <= 0 ? null : voltageRatioDb(liveVolt, volt);
  useSoundGuide(isGuided && !isTonePlaying ? differenceDb : null, toleranceDb);
  return (
    <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
      <p className="text-2xl font-semibold" data-testid="live-aim">
        {differenceDb === null ? 'No volts yet: calibrate the input.' : aimWords(differenceDb, toleranceDb)}
      </p>
      <p className="text-quiet">wanted {formatQuantity(volt, 'V')}</p>
      <label className="flex min-h-11 cursor-pointer items-center gap-2.5">
        <input type="checkbox" className="checkbox" checked={isGuided} onChange={(event) => setIsGuided(event.target.checked)} />
        Guide by sound
      </label>
      {isGuided && isTonePlaying && (
        <p role="status" className="text-attention basis-full text-sm">
          Silent while this computer plays the tone: clicks would go into the amplifier. Play the tone from the car’s own source.
        </p>
      )}
      {isGuided && !isTonePlaying && (
        <p className="text-quiet basis-full text-sm">
          Clicks come faster as you near it, a steady tone is the target, low fast clicks are over it. It sounds through this computer: do
          not use it where this computer is wired to the amplifier.
        </p>
      )}
    </div>
  );
}

function aimWords(differenceDb: number, toleranceDb: number): string {
  if (Math.abs(differenceDb) <= toleranceDb) return `On target, ${signedDb(differenceDb)}`;
  return differenceDb < 0 ? `Up ${formatQuantity(-differenceDb, 'dB')}` : `Down ${formatQuantity(differenceDb, 'dB')}: over the target`;
}

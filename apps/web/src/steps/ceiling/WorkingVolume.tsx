import {
  assumedVolume,
  DEFAULT_ASSUMED_PERCENT,
  OUTPUT_NAMES,
  withWorkingVolume,
  type Chain,
  type WorkingVolume as Found,
} from '@yield/core';
import { useState, type JSX } from 'react';
import { useEditChain } from '../../tune/useEdit.ts';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { ErrorNotice } from '../../ui/Notice.tsx';

/** Takes the volume that was found, or a share of the scale where nothing can be measured, over into the chain. */
export function WorkingVolume({ run, working }: { run: TuneRun; working?: Found }): JSX.Element | null {
  const { chain, settings } = run.tune;
  const { source } = chain.body;
  const { edit } = useEditChain(run.tune);
  const [refusal, setRefusal] = useState<string | null>(null);
  const save = async (next: Chain): Promise<void> => setRefusal((await edit(next))[0]?.message ?? null);
  const assumed = assumedVolume(chain.body, settings.rules);
  const next = withWorkingVolume(run.now);
  const isSet = working !== undefined && source.volumeBasis === 'measured' && source.workingVolume === working.step;
  return (
    <>
      {working !== undefined && next !== undefined && !isSet && (
        <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
          <button type="button" className={`btn btn-tall ${working.complete ? 'btn-primary' : ''}`} onClick={() => void save(next)}>
            Take {working.step} as the working volume
          </button>
          <p className="text-quiet text-sm">
            Lowest ceiling: {working.limitedBy.settingsCase.name.toLowerCase()}, {OUTPUT_NAMES[working.limitedBy.output].toLowerCase()}.
            {!working.complete && ' Not every case in use was measured yet.'}
          </p>
        </div>
      )}
      {working === undefined && source.volumeBasis === 'assumed' && source.workingVolume !== assumed && (
        <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
          <button
            type="button"
            className="btn btn-tall"
            onClick={() => void save({ ...chain.body, source: { ...source, workingVolume: assumed, volumeBasis: 'assumed' } })}
          >
            Cannot be measured: take {assumed}
          </button>
          <p className="text-quiet text-sm">
            {settings.rules.assumedVolumePercent ?? DEFAULT_ASSUMED_PERCENT} % of the scale. It stays marked as assumed wherever it is used.
          </p>
        </div>
      )}
      {refusal !== null && <ErrorNotice>{refusal}</ErrorNotice>}
    </>
  );
}

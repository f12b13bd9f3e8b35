import { dialOf, plannedPosition, standingFilters, type DialPosition } from '@yield/bench';
import { filtersOf, type Channel, type Filter } from '@yield/core';
import { useMemo } from 'react';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { useAppSelector } from '../../store/store.ts';

export const dialKeys = (tuneId: string, filterId: string): { click: string; switchedTo: string } => ({
  click: `${tuneId}/${filterId}/click`,
  switchedTo: `${tuneId}/${filterId}/switch`,
});

/** What a channel's filters really do on the bench, by where its dials were left: as planned until one was turned. */
export function useBenchFilters({ tune }: TuneRun, channel: Channel): (Filter & { id: string })[] {
  const knobs = useAppSelector((state) => state.bench.knobs);
  return useMemo(() => {
    const chain = tune.chain.body;
    const positionOf = (filterId: string): DialPosition | undefined => {
      const keys = dialKeys(tune.id, filterId);
      const [click, switchedTo] = [knobs[keys.click], knobs[keys.switchedTo]];
      const filter = filtersOf(channel).find(({ id }) => id === filterId);
      const dial = filter === undefined ? undefined : dialOf(chain, channel, filter);
      if (filter === undefined || dial === undefined) return undefined;
      const planned = plannedPosition(dial, filter);
      return { click: click ?? planned.click, switchedTo: switchedTo ?? planned.switchedTo };
    };
    return standingFilters(chain, channel, tune.id, positionOf);
  }, [tune, channel, knobs]);
}

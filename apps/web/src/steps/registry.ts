import type { KindId } from '@yield/core';
import { lazy } from 'react';
import { GainWhy } from './gain/After.tsx';
import { GainBody } from './gain/Body.tsx';
import { AmplifierBench } from './kit/AmplifierBench.tsx';
import { ProofBody } from './proof/Body.tsx';
import type { StepView } from './view.ts';

// The other stages come with chunks of their own: at the car most visits go to the gains and the proof.
const loads = () => import('./loadViews.ts');
const source = () => import('./sourceViews.ts');
const crossovers = () => import('./crossoverViews.ts');
const phase = () => import('./phaseViews.ts');
const response = () => import('./responseViews.ts');

const LoadFacts = lazy(async () => ({ default: (await loads()).LoadFacts }));
const OhmBench = lazy(async () => ({ default: (await loads()).OhmBench }));

/** What the screen shows of each kind of step. A kind without a view does not compile. */
export const VIEWS: { [K in KindId]: StepView<K> } = {
  coils: { Body: lazy(async () => ({ default: (await loads()).CoilsBody })), Side: LoadFacts, Bench: OhmBench },
  box: { Body: lazy(async () => ({ default: (await loads()).BoxBody })), Side: LoadFacts },
  whole: { Body: lazy(async () => ({ default: (await loads()).WholeBody })), Side: LoadFacts, Bench: OhmBench },
  hookup: { Body: lazy(async () => ({ default: (await loads()).HookupBody })), Side: LoadFacts },
  flat: {
    Body: lazy(async () => ({ default: (await source()).FlatBody })),
    Side: lazy(async () => ({ default: (await source()).SourceFacts })),
  },
  ceiling: {
    hasOwnLog: true,
    Body: lazy(async () => ({ default: (await source()).CeilingBody })),
    Bench: lazy(async () => ({ default: (await source()).SourceBench })),
  },
  factory: {
    hasOwnLog: true,
    Body: lazy(async () => ({ default: (await source()).FactoryBody })),
    Bench: lazy(async () => ({ default: (await source()).SweepBench })),
  },
  input: {
    Body: lazy(async () => ({ default: (await source()).InputBody })),
    Bench: lazy(async () => ({ default: (await source()).ProcessorBench })),
  },
  output: {
    Body: lazy(async () => ({ default: (await source()).OutputBody })),
    Bench: lazy(async () => ({ default: (await source()).ProcessorBench })),
    After: lazy(async () => ({ default: (await source()).OutputWhy })),
  },
  feed: { Body: lazy(async () => ({ default: (await source()).FeedBody })) },
  filters: { Body: lazy(async () => ({ default: (await crossovers()).FiltersBody })) },
  crossover: {
    Body: lazy(async () => ({ default: (await crossovers()).CrossoverBody })),
    Bench: lazy(async () => ({ default: (await crossovers()).FilterBench })),
  },
  gain: { Body: GainBody, Bench: AmplifierBench, After: GainWhy },
  proof: { Body: ProofBody, Bench: AmplifierBench },
  bandwidth: { Body: lazy(async () => ({ default: (await crossovers()).BandwidthBody })), Bench: AmplifierBench },
  polarity: {
    Body: lazy(async () => ({ default: (await phase()).PolarityBody })),
    Side: LoadFacts,
    Bench: lazy(async () => ({ default: (await phase()).PolarityBench })),
  },
  delay: { Body: lazy(async () => ({ default: (await phase()).DelayBody })) },
  meeting: {
    Body: lazy(async () => ({ default: (await phase()).MeetingBody })),
    Bench: lazy(async () => ({ default: (await phase()).MeetingBench })),
  },
  response: {
    Body: lazy(async () => ({ default: (await response()).ResponseBody })),
    Bench: lazy(async () => ({ default: (await response()).ResponseBench })),
  },
  blend: {
    Body: lazy(async () => ({ default: (await response()).BlendBody })),
    Bench: lazy(async () => ({ default: (await response()).BlendBench })),
  },
  handover: { Body: lazy(async () => ({ default: (await response()).HandoverBody })) },
  listening: { Body: lazy(async () => ({ default: (await response()).ListeningBody })) },
  'load-pair': { Body: lazy(async () => ({ default: (await crossovers()).LoadPairBody })), Bench: AmplifierBench },
};

/** The view of a kind that the run names. */
export const viewOf = (kind: string): StepView => VIEWS[kind as KindId] as StepView;

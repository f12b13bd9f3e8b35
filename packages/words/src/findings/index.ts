import { account } from './account.ts';
import { bandwidth } from './bandwidth.ts';
import { ceiling } from './ceiling.ts';
import { channelBalance } from './channelBalance.ts';
import { coils } from './coils.ts';
import { crossover } from './crossover.ts';
import { crossoverAlignment } from './crossoverAlignment.ts';
import { crossoverPlan } from './crossoverPlan.ts';
import { delay } from './delay.ts';
import { enclosureWiring } from './enclosureWiring.ts';
import { factory } from './factory.ts';
import { filters } from './filters.ts';
import { flat } from './flat.ts';
import { frame } from './frame.ts';
import { gain } from './gain.ts';
import { handover } from './handover.ts';
import { hookup } from './hookup.ts';
import { input } from './input.ts';
import { inputRouting } from './inputRouting.ts';
import { listening } from './listening.ts';
import { loadPair } from './loadPair.ts';
import { loadResistance } from './loadResistance.ts';
import { output } from './output.ts';
import { polarity } from './polarity.ts';
import { proof } from './proof.ts';
import { response } from './response.ts';
import { wiring } from './wiring.ts';
import type { FindingCode } from '@yield/core';
import type { WordsOf } from '../said.ts';

/** Words of every finding, complete by type. */
export const FINDINGS = {
  ...account,
  ...bandwidth,
  ...ceiling,
  ...channelBalance,
  ...coils,
  ...crossover,
  ...crossoverAlignment,
  ...crossoverPlan,
  ...delay,
  ...enclosureWiring,
  ...factory,
  ...filters,
  ...flat,
  ...frame,
  ...gain,
  ...handover,
  ...hookup,
  ...input,
  ...inputRouting,
  ...listening,
  ...loadPair,
  ...loadResistance,
  ...output,
  ...polarity,
  ...proof,
  ...response,
  ...wiring,
} satisfies WordsOf<FindingCode>;

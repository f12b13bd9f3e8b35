import { checkNumbers } from '../coreError.ts';
import { formatQuantity } from '../units/formatQuantity.ts';
import type { Hookup, HookupMode } from './hookup.ts';
import { hookupOf } from './planLoads.ts';

export interface HookupPlanInput {
  /** channels of the amplifier */
  outputs: 1 | 2 | 4;
  /** of a one-channel amplifier */
  terminalPairs?: 1 | 2;
  frontOhm: number;
  rearOhm: number;
  subwooferOhm: number;
  minimumStereoOhm?: number;
  minimumBridgedOhm?: number;
  minimumMonoOhm?: number;
}

/** Where on the amplifier: one channel's own pair, or the outer two terminals of a bridged pair. */
export interface HookupOutput {
  /** such as "A left" or "B left + and B right −" */
  terminals: string;
  /** channels that this output takes, from 0 */
  uses: number[];
  mode: HookupMode;
  drives: string;
  loadOhm: number;
  seen: Hookup;
}

export interface HookupPlan {
  id: string;
  name: string;
  outputs: HookupOutput[];
  verdict: Hookup['verdict'];
  lost: string[];
  manualMustAllow: string[];
}

const CHANNEL_NAMES = ['A left', 'A right', 'B left', 'B right'] as const;
const FADER = 'Fader: front and rear share one output, so the source cannot fade between them.';
const BASS_BALANCE = 'Balance for the bass: a bridged pair plays left and right together.';
const BRIDGE_RULE =
  'Bridging, and which two terminals it uses: they are marked at the terminals or in the manual. An input switch or both inputs may be wanted.';

/**
 * The common ways to use an amplifier, with what each channel sees, what is lost and what the manual must allow.
 *
 * @throws {CoreError} `INPUT_INVALID` for a load or lowest load not above 0
 */
export function hookupPlans(input: HookupPlanInput): HookupPlan[] {
  checkNumbers(input, {
    frontOhm: { name: 'front', unit: 'ohm', above: 0 },
    rearOhm: { name: 'rear', unit: 'ohm', above: 0 },
    subwooferOhm: { name: 'subwoofer', unit: 'ohm', above: 0 },
  });
  const { outputs, terminalPairs = 1, frontOhm, rearOhm, subwooferOhm } = input;
  const single = (channel: number, drives: string, loadOhm: number): HookupOutput => ({
    terminals: CHANNEL_NAMES[channel]!,
    uses: [channel],
    mode: 'stereo',
    drives,
    loadOhm,
    seen: hookupOf({ ...input, mode: 'stereo' }, loadOhm),
  });
  const bridged = (first: number, drives: string, loadOhm: number): HookupOutput => ({
    terminals: `${CHANNEL_NAMES[first]!} + and ${CHANNEL_NAMES[first + 1]!} −`,
    uses: [first, first + 1],
    mode: 'bridged',
    drives,
    loadOhm,
    seen: hookupOf({ ...input, mode: 'bridged' }, loadOhm),
  });
  const mono = (drives: string, loadOhm: number): HookupOutput => ({
    terminals: terminalPairs === 2 ? 'both pairs' : 'its one pair',
    uses: [0],
    mode: 'mono',
    drives,
    loadOhm,
    seen: hookupOf({ ...input, mode: 'mono' }, loadOhm),
  });
  const pair = (first: number, where: string, ohm: number): HookupOutput[] => [
    single(first, `${where} left`, ohm),
    single(first + 1, `${where} right`, ohm),
  ];
  const sideBySide = 1 / (1 / frontOhm + 1 / rearOhm);
  const frontAndRear: HookupOutput[] = [
    single(0, 'front and rear left, in parallel', sideBySide),
    single(1, 'front and rear right, in parallel', sideBySide),
  ];
  const parallelRule = `Loads down to ${formatQuantity(sideBySide, 'ohm')} on each channel: ${formatQuantity(frontOhm, 'ohm')} and ${formatQuantity(rearOhm, 'ohm')} side by side.`;

  if (outputs === 4) {
    return [
      plan('four-channels', 'Four channels', [...pair(0, 'front', frontOhm), ...pair(2, 'rear', rearOhm)], [], []),
      plan(
        'front-and-subwoofer',
        'A front pair and one bridged subwoofer',
        [...pair(0, 'front', frontOhm), bridged(2, 'subwoofer', subwooferOhm)],
        ['Rear drivers: there is no output left for them.', BASS_BALANCE],
        [BRIDGE_RULE],
      ),
      plan(
        'front-rear-and-subwoofer',
        'Front and rear in parallel, and one bridged subwoofer',
        [...frontAndRear, bridged(2, 'subwoofer', subwooferOhm)],
        [FADER, BASS_BALANCE],
        [parallelRule, BRIDGE_RULE],
      ),
      plan(
        'two-bridged',
        'Two bridged pairs',
        [bridged(0, 'left', frontOhm), bridged(2, 'right', frontOhm)],
        ['Rear drivers and subwoofer: both pairs are taken.'],
        [BRIDGE_RULE],
      ),
      plan('four-on-two', 'Four drivers on two channels', frontAndRear, [FADER], [parallelRule]),
    ];
  }
  if (outputs === 2) {
    return [
      plan('pair', 'One pair', pair(0, 'front', frontOhm), [], []),
      plan('four-on-two', 'Four drivers on two channels', frontAndRear, [FADER], [parallelRule]),
      plan('bridged', 'Bridged to one subwoofer', [bridged(0, 'subwoofer', subwooferOhm)], [BASS_BALANCE], [BRIDGE_RULE]),
    ];
  }
  const twoSubwoofers = subwooferOhm / 2;
  return [
    plan('mono', 'One subwoofer', [mono('subwoofer', subwooferOhm)], [], []),
    plan(
      'mono-two',
      terminalPairs === 2 ? 'Two subwoofers, one on each pair of terminals' : 'Two subwoofers in parallel',
      [mono('two subwoofers', twoSubwoofers)],
      [],
      [
        `A load of ${formatQuantity(twoSubwoofers, 'ohm')}.${terminalPairs === 2 ? ' Two pairs of terminals on a one-channel amplifier are the same two points: loads on them are in parallel, whichever pair they use.' : ''}`,
      ],
    ),
  ];
}

function plan(id: string, name: string, outputs: HookupOutput[], lost: string[], manualMustAllow: string[]): HookupPlan {
  const verdicts = outputs.map(({ seen }) => seen.verdict);
  const verdict = verdicts.includes('below-minimum') ? 'below-minimum' : verdicts.includes('unknown') ? 'unknown' : 'fits';
  return { id, name, outputs, verdict, lost, manualMustAllow };
}

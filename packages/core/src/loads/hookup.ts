import { checkNumbers } from '../coreError.ts';
import { significant } from '../units/formatQuantity.ts';

/** People write 1.33 ohm for four thirds, and a sum of coils is rounded in binary: closer than this is the same load. */
export const LOAD_SLACK = 0.005;

export type HookupMode = 'stereo' | 'bridged' | 'mono';

export interface HookupInput {
  mode: HookupMode;
  loadOhm: number;
  minimumStereoOhm?: number;
  minimumBridgedOhm?: number;
  minimumMonoOhm?: number;
}

export interface Hookup {
  /** what each amplifier channel works into, in ohms: half of the load when bridged */
  perChannelOhm: number;
  verdict: 'fits' | 'below-minimum' | 'unknown';
  note: string;
}

/**
 * What each amplifier channel sees, held against the lowest loads of the rating plate.
 *
 * Bridged, the load is held against `minimumBridgedOhm` and its half against `minimumStereoOhm`; the stricter counts.
 *
 * @throws {CoreError} `INPUT_INVALID` for a load or lowest load not above 0
 * @see two sources in opposite phase across one load: each carries the full current at half the voltage, so sees half the load
 * @example hookup({ mode: 'bridged', loadOhm: 4 }).perChannelOhm // 2
 */
export function hookup(input: HookupInput): Hookup {
  checkNumbers(input, {
    loadOhm: { name: 'load', unit: 'ohm', above: 0 },
    minimumStereoOhm: { name: 'lowest stereo load', unit: 'ohm', above: 0 },
    minimumBridgedOhm: { name: 'lowest bridged load', unit: 'ohm', above: 0 },
    minimumMonoOhm: { name: 'lowest mono load', unit: 'ohm', above: 0 },
  });
  const { mode, loadOhm, minimumStereoOhm, minimumBridgedOhm, minimumMonoOhm } = input;
  if (mode !== 'bridged') {
    const minimum = mode === 'stereo' ? minimumStereoOhm : minimumMonoOhm;
    return { perChannelOhm: loadOhm, ...judge(loadOhm, minimum, `${mode} load`) };
  }
  const perChannelOhm = loadOhm / 2;
  const halves = `A bridged channel works into half of the load: ${significant(loadOhm)} ohm is ${significant(perChannelOhm)} ohm for each channel.`;
  const asBridged = judge(loadOhm, minimumBridgedOhm, 'bridged load');
  const asStereo = judge(perChannelOhm, minimumStereoOhm, 'stereo load');
  const stricter =
    [asBridged, asStereo].find((j) => j.verdict === 'below-minimum') ??
    [asBridged, asStereo].find((j) => j.verdict === 'fits') ??
    asBridged;
  return { perChannelOhm, verdict: stricter.verdict, note: `${halves} ${stricter.note}` };
}

function judge(ohm: number, minimum: number | undefined, what: string): Pick<Hookup, 'verdict' | 'note'> {
  if (minimum === undefined) {
    return { verdict: 'unknown', note: `No lowest ${what} is given: look it up in the amplifier's manual before connecting.` };
  }
  if (ohm < minimum * (1 - LOAD_SLACK)) {
    return {
      verdict: 'below-minimum',
      note: `${significant(ohm)} ohm is below the lowest ${what} of ${significant(minimum)} ohm: the amplifier would run hot, shut down or fail. Do not connect it.`,
    };
  }
  return { verdict: 'fits', note: `${significant(ohm)} ohm is within the lowest ${what} of ${significant(minimum)} ohm.` };
}

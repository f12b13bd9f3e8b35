import type { Finding } from '../../../findings.ts';
import { DUMMY_APART } from '../../../job/chain.ts';
import { dummyHeat } from '../../../loads/dummyLoad.ts';
import type { ChannelNow } from '../../frame/channels.ts';

/** A clamp and a meter agree on a resistor to this, as a share. Common practice, no source: 2 to 3 % of a clamp, 2 % of a meter, twice. */
const CLAMP_APART = 0.1;

/**
 * What a resistor in the drivers' place means for what was measured on it.
 *
 * @param voltageRms - with the load on; what the gain is set for where nothing was read
 * @param clampAmpere - where a clamp was read
 */
export function dummyFindings({ channel }: ChannelNow, voltageRms: number | undefined, clampAmpere: number | undefined): Finding[] {
  const { dummyOhm, dummyWatt, loadOhm } = channel;
  if (dummyOhm === undefined) return [];
  return [
    ...(Math.abs(dummyOhm / loadOhm - 1) > DUMMY_APART ? [apart(dummyOhm, loadOhm)] : []),
    ...(voltageRms === undefined || clampAmpere === undefined || clampAmpere <= 0 ? [] : clampAgrees(dummyOhm, voltageRms / clampAmpere)),
    ...(voltageRms === undefined || dummyWatt === undefined ? [] : [heat(voltageRms ** 2 / dummyOhm, dummyWatt)]),
  ];
}

function apart(dummyOhm: number, loadOhm: number): Finding {
  const isLighter = dummyOhm > loadOhm;
  return {
    code: 'dummy-apart',
    grade: 'attention',
    figures: { dummyOhm, loadOhm, isLighter },
    action: { kind: 'describe', what: 'dummyOhm' },
  };
}

function clampAgrees(dummyOhm: number, foundOhm: number): Finding[] {
  if (Math.abs(foundOhm / dummyOhm - 1) <= CLAMP_APART) return [];
  return [
    {
      code: 'dummy-current-apart',
      grade: 'attention',
      figures: { dummyOhm, foundOhm },
      action: { kind: 'read', reading: 'clamp-current', unit: 'A' },
    },
  ];
}

/** How long it may be driven, before it is touched. */
function heat(powerWatt: number, ratedWatt: number): Finding {
  const found = dummyHeat({ powerWatt, ratedWatt });
  const figures = { powerWatt, ratedWatt };
  switch (found.kind) {
    case 'steady':
      return {
        code: 'dummy-heat',
        grade: 'note',
        figures,
      };
    case 'bursts':
      return {
        code: 'dummy-heat',
        grade: 'note',
        figures: { ...figures, burstSecond: found.burstSecond, pauseSecond: found.pauseSecond, powerWatt, ratedWatt },
      };
    case 'too-small':
      return {
        code: 'dummy-too-small',
        grade: 'attention',
        figures,
        action: { kind: 'describe', what: 'dummyWatt' },
      };
  }
}

import type { Finding } from '../../../findings.ts';
import { DUMMY_APART } from '../../../job/chain.ts';
import { dummyHeat } from '../../../loads/dummyLoad.ts';
import { formatQuantity } from '../../../units/formatQuantity.ts';
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
    figures: { dummyOhm, loadOhm },
    words: `The dummy load has ${formatQuantity(dummyOhm, 'ohm')}, the drivers ${formatQuantity(loadOhm, 'ohm')}: ${isLighter ? 'what is clean on the lighter load may clip on the drivers' : 'it asks for more current than the drivers do, and clips earlier'}.`,
    next: `Prove it with the drivers, or with a resistor of about ${formatQuantity(loadOhm, 'ohm')}.`,
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
      words: `Voltage and current make ${formatQuantity(foundOhm, 'ohm')} of a dummy load of ${formatQuantity(dummyOhm, 'ohm')}.`,
      next: 'See that the clamp sits round one wire, on AC, and that the drivers are off; a resistor that is hot reads a little more, never a third.',
      action: { kind: 'read', reading: 'clamp-current', unit: 'A' },
    },
  ];
}

/** How long it may be driven, before it is touched. */
function heat(powerWatt: number, ratedWatt: number): Finding {
  const found = dummyHeat({ powerWatt, ratedWatt });
  const figures = { powerWatt, ratedWatt };
  const takes = `The dummy load takes ${formatQuantity(powerWatt, 'W')}, rated ${formatQuantity(ratedWatt, 'W')}`;
  switch (found.kind) {
    case 'steady':
      return { code: 'dummy-heat', grade: 'note', figures, words: `${takes}: it bears that for long, and burns a hand all the same.` };
    case 'bursts':
      return {
        code: 'dummy-heat',
        grade: 'note',
        figures: { ...figures, burstSecond: found.burstSecond, pauseSecond: found.pauseSecond },
        words: `${takes}: bursts of ${found.burstSecond} s at most, ${found.pauseSecond} s of rest after each. It burns a hand for minutes.`,
      };
    case 'too-small':
      return {
        code: 'dummy-too-small',
        grade: 'attention',
        figures,
        words: `${takes}: that is more than ten times its rating. It can crack, open or set fire to what it lies on.`,
        next: 'Take a larger one, or several; a resistor that opened under load leaves the amplifier unloaded, and the proof worth nothing.',
        action: { kind: 'describe', what: 'dummyWatt' },
      };
  }
}

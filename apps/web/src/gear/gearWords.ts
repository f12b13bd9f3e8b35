import type { GearFigure } from '@yield/contract';
import { fixed, formatQuantity, ROLE_NAMES, type EqualiserAtHand, type Gear } from '@yield/core';

/** A piece of gear in a line: what it can do. */
export function gearWords(gear: Gear): string {
  switch (gear.kind) {
    case 'source': {
      const { volumeSteps, preampClaimVolt, ceilingVolt } = gear.body;
      const clean = ceilingVolt === undefined ? [] : [`clean to ${formatQuantity(ceilingVolt, 'V')}`];
      const claim = preampClaimVolt === undefined ? [] : [`preamp ${formatQuantity(preampClaimVolt, 'V')} as claimed`];
      return [`volume 0 to ${volumeSteps}`, ...clean, ...claim].join(', ');
    }
    case 'processor': {
      const { inputs, outputs, outputVolt } = gear.body;
      return `${inputs.length} in, ${outputs.length} out, ${formatQuantity(outputVolt, 'V')} wanted`;
    }
    case 'amplifier': {
      const { ratings, fuseAmpere } = gear.body;
      const powers = ratings.map(
        ({ mode, loadOhm, powerWatt }) => `${formatQuantity(powerWatt, 'W')} ${mode} at ${formatQuantity(loadOhm, 'ohm')}`,
      );
      return [...powers, ...(fuseAmpere === undefined ? [] : [`fuses ${formatQuantity(fuseAmpere, 'A')}`])].join(', ') || 'no powers known';
    }
    case 'driver': {
      const { coils, coilOhm, ratedPowerWatt, role } = gear.body;
      const coil = `${coils === 1 ? '' : `${coils} × `}${formatQuantity(coilOhm, 'ohm')}`;
      return [coil, formatQuantity(ratedPowerWatt, 'W'), ...(role === undefined ? [] : [ROLE_NAMES[role].toLowerCase()])].join(', ');
    }
    case 'meter': {
      const { percent, digits, highestHz, trueRms } = gear.body;
      return `${percent} % and ${digits} digits up to ${formatQuantity(highestHz, 'Hz')}, ${trueRms ? 'true RMS' : 'average responding'}`;
    }
    case 'microphone': {
      const { calibration = [] } = gear.body;
      const [first, last] = [calibration[0], calibration.at(-1)];
      return first === undefined || last === undefined
        ? 'no calibration'
        : `calibrated from ${formatQuantity(first.hertz, 'Hz')} to ${formatQuantity(last.hertz, 'Hz')}, ${calibration.length} points`;
    }
    case 'dial': {
      const { kind, order, table, stops } = gear.body;
      return `${kind === 'highpass' ? 'high-pass' : 'low-pass'}, ${6 * order} dB per octave, ${table.length} ${stops} from ${formatQuantity(table[0]?.cornerHz ?? 0, 'Hz')} to ${formatQuantity(table.at(-1)?.cornerHz ?? 0, 'Hz')}`;
    }
    case 'equaliser':
      return equaliserWords(gear.body.equaliser);
  }
}

export function equaliserWords(equaliser: EqualiserAtHand): string {
  if (equaliser.kind === 'none') return 'none';
  if (equaliser.kind === 'parametric') return `${equaliser.bands} free bands`;
  const { centresHz } = equaliser;
  return `graphic, ${centresHz.length} bands from ${formatQuantity(centresHz[0] ?? 0, 'Hz')} to ${formatQuantity(centresHz.at(-1) ?? 0, 'Hz')}`;
}

/** A share is told with its sign: what was found against what is set. */
export const figureWords = ({ value, unit }: GearFigure): string =>
  unit === 'step'
    ? String(value)
    : unit === '%'
      ? `${value > 0 ? '+' : value < 0 ? '−' : ''}${fixed(Math.abs(value), 1)} %`
      : formatQuantity(value, unit);

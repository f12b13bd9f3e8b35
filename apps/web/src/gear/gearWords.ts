import type { GearFigure } from '@yield/contract';
import { formatQuantity, ROLE_NAMES, type Gear } from '@yield/core';

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
  }
}

export const figureWords = ({ value, unit }: GearFigure): string => (unit === 'step' ? String(value) : formatQuantity(value, unit));

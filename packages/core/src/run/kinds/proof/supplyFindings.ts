import type { Finding } from '../../../findings.ts';
import { cleanAtSupply } from '../../../gain/supplyScale.ts';
import type { ChannelNow } from '../../frame/channels.ts';

/** At an amplifier's terminals: with nothing playing, and while the tone plays. */
export interface SupplyRead {
  restVolt?: number;
  loadedVolt?: number;
}

/** A wire and an alternator that do their work lose no more. Common practice, no source. */
const NOTABLE_SUPPLY_DROP = 1;
/** Below, many amplifiers switch off or distort. Common practice, no source. */
const LOW_SUPPLY_VOLT = 11;
/** Engine running, engine running with much switched on, a rested battery, one that was played down. Common practice, no source. */
const USUAL_SUPPLIES_VOLT = [14.4, 13.8, 12.6, 11.5];
/** Less than this over the clean voltage nobody turns a knob for. */
const NOTABLE_OVER_DB = 0.2;

/** No vehicle of 12 V lies beyond: a flat battery under a starter, a charging one in the cold. Common practice, no source. */
const LEAST_SUPPLY_VOLT = 6;
const MOST_SUPPLY_VOLT = 17;
/** A meter's own wandering; more is another state of the engine. */
const SUPPLY_RISE_VOLT = 0.3;

/** What a channel would do at another supply than the one that was read. */
export interface OtherSupply {
  supplyVolt: number;
  cleanVolt: number;
  powerWatt: number;
  /** how far a full-scale tone at this gain would lie over it; 0 and less is clean */
  overDb?: number;
}

/**
 * What the highest clean voltage would be at other supplies: by where it was seen to flatten under load, else by its plate.
 *
 * @param fullScaleVolt - of a full-scale tone at this gain, under load
 * @returns nothing while neither is known together with the supply it held at
 */
export function otherSupplies(step: ChannelNow, supply: SupplyRead | undefined, fullScaleVolt: number | undefined): OtherSupply[] {
  const known = cleanKnown(step, supply);
  if (known === undefined) return [];
  const isRegulated = step.amplifier.isRegulated === true;
  return USUAL_SUPPLIES_VOLT.map((supplyVolt) => {
    const found = cleanAtSupply({
      ...known,
      supplyVolt,
      isRegulated,
      ...(fullScaleVolt === undefined ? {} : { gainVolt: fullScaleVolt }),
    });
    return { supplyVolt, ...found, powerWatt: found.cleanVolt ** 2 / step.plannedOhm };
  });
}

function cleanKnown({ amplifier, onset, power, plannedOhm }: ChannelNow, supply: SupplyRead | undefined) {
  if (onset !== undefined && supply?.loadedVolt !== undefined && supply.loadedVolt > 0)
    return { cleanVolt: onset.volt, atSupplyVolt: supply.loadedVolt };
  const rated = power.kind === 'known' ? power.holds.find(({ by }) => by === 'rating') : undefined;
  return rated === undefined || amplifier.ratedAtVolt === undefined
    ? undefined
    : { cleanVolt: Math.sqrt(rated.powerWatt * plannedOhm), atSupplyVolt: amplifier.ratedAtVolt };
}

/** Sag parted: what wire and supply lose on the way to the amplifier, apart from what the amplifier itself loses. */
export function supplyFindings(step: ChannelNow, supply: SupplyRead | undefined, fullScaleVolt: number | undefined): Finding[] {
  if (supply === undefined) return [];
  const { amplifier, power } = step;
  const { restVolt, loadedVolt } = supply;
  const odd = [restVolt, loadedVolt].find((volt) => volt !== undefined && (volt < LEAST_SUPPLY_VOLT || volt > MOST_SUPPLY_VOLT));
  if (odd !== undefined)
    return [
      {
        code: 'supply-implausible',
        grade: 'attention',
        figures: { volt: odd },
        action: { kind: 'read', reading: odd === restVolt ? 'supply-rest' : 'supply-loaded', unit: 'V' },
      },
    ];
  const findings: Finding[] = [];
  if (restVolt !== undefined && loadedVolt !== undefined && loadedVolt > restVolt + SUPPLY_RISE_VOLT) {
    findings.push({
      code: 'supply-rises',
      grade: 'attention',
      figures: { restVolt, loadedVolt },
      action: { kind: 'read', reading: 'supply-rest', unit: 'V' },
    });
  }
  if (restVolt !== undefined && loadedVolt !== undefined && restVolt - loadedVolt > NOTABLE_SUPPLY_DROP) {
    findings.push({
      code: 'supply-drops',
      grade: 'attention',
      figures: { restVolt, loadedVolt },
    });
  }
  if (loadedVolt !== undefined && loadedVolt < LOW_SUPPLY_VOLT) {
    findings.push({
      code: 'supply-low',
      grade: 'attention',
      figures: { loadedVolt },
    });
  }
  if (loadedVolt !== undefined && amplifier.ratedAtVolt !== undefined && amplifier.isRegulated !== true && power.kind === 'known') {
    const rated = power.holds.find(({ by }) => by === 'rating');
    if (rated !== undefined) {
      const there = rated.powerWatt * (loadedVolt / amplifier.ratedAtVolt) ** 2;
      findings.push({
        code: 'supply-scales',
        grade: 'note',
        figures: { loadedVolt, ratedAtVolt: amplifier.ratedAtVolt, powerWatt: there },
      });
    }
  }
  return [...findings, ...clipsLower(step, supply, fullScaleVolt)];
}

/** Clean where it was proved, and clipped on the battery alone: it is said before the owner hears it. */
function clipsLower(step: ChannelNow, supply: SupplyRead, fullScaleVolt: number | undefined): Finding[] {
  const { loadedVolt } = supply;
  // Told from what was seen of this amplifier alone: a plate is no measurement.
  if (loadedVolt === undefined || step.onset === undefined) return [];
  const lower = otherSupplies(step, supply, fullScaleVolt).find(
    ({ supplyVolt, overDb }) => supplyVolt < loadedVolt && overDb !== undefined && overDb > NOTABLE_OVER_DB,
  );
  if (lower?.overDb === undefined) return [];
  return [
    {
      code: 'clips-at-lower-supply',
      grade: 'note',
      figures: { supplyVolt: lower.supplyVolt, cleanVolt: lower.cleanVolt, overDb: lower.overDb },
    },
  ];
}

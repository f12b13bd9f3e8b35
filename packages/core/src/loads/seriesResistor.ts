import { checkNumbers } from '../coreError.ts';
import { worstFirst, type Finding } from '../findings.ts';
import { powerRatioDb } from '../levels/decibels.ts';
import { loadNetwork } from './loadNetwork.ts';

export interface SeriesResistorInput {
  /** nominal load without the resistor */
  loadOhm: number;
  /** magnitude of the drivers' impedance at the tone, where it was measured: level and heat follow from it */
  impedanceOhm?: number;
  resistorOhm: number;
  ratedPowerWatt?: number;
  /** RMS, as the source gives it at its most */
  voltageRms: number;
}

export interface SeriesResistor {
  loadOhm: number;
  /** never above 0 */
  levelChangeDb: number;
  coilsWatt: number;
  resistorWatt: number;
  /** of all the power */
  resistorShare: number;
  /** what to buy at least: twice the heat, at the next size that shops have */
  wantedRatingWatt: number;
  findings: Finding[];
}

/** A resistor runs at half of its rating at most: the rating holds on a cold plate in free air, not under a seat. Common practice, no source. */
export const RESISTOR_MARGIN = 2;

/** Wirewound sizes that shops have, in watts. Common practice, no source. */
const STOCK_WATT: readonly number[] = [5, 10, 25, 50, 100, 200, 300, 500, 1000];

/** From this heat on a resistor is too hot to touch within a minute and wants metal under it. Common practice, no source. */
const HOT_WATT = 5;

/**
 * What a resistor in series with a load does: the load that the source sees, the level that is lost, and the heat.
 *
 * @throws {CoreError} `INPUT_INVALID` for figures not above 0
 */
export function seriesResistor(input: SeriesResistorInput): SeriesResistor {
  checkNumbers(input, {
    loadOhm: { name: 'load', unit: 'ohm', above: 0 },
    impedanceOhm: { name: 'impedance at the tone', unit: 'ohm', above: 0 },
    resistorOhm: { name: 'resistor', unit: 'ohm', above: 0 },
    ratedPowerWatt: { name: 'rating of the resistor', unit: 'W', above: 0 },
    voltageRms: { name: 'voltage', unit: 'V', above: 0 },
  });
  const { loadOhm, impedanceOhm, resistorOhm, ratedPowerWatt, voltageRms } = input;
  const solved = loadNetwork({
    coils: { A1: { nominalOhm: impedanceOhm ?? loadOhm } },
    network: 'A1',
    seriesResistorOhm: resistorOhm,
    voltageRms,
  });
  const resistorWatt = solved.resistor?.powerWatt ?? 0;
  const resistorShare = solved.resistor?.powerShare ?? 0;
  const least = resistorWatt * RESISTOR_MARGIN;
  const wantedRatingWatt = STOCK_WATT.find((watt) => watt >= least) ?? Math.ceil(least / 100) * 100;
  const figures = {
    // What the source must not fall under is a nominal figure, whatever the drivers are at one tone.
    loadOhm: loadOhm + resistorOhm,
    levelChangeDb: solved.levelChangeDb ?? 0,
    coilsWatt: (solved.totalPowerWatt ?? 0) - resistorWatt,
    resistorWatt,
    resistorShare,
    wantedRatingWatt,
  };
  return { ...figures, findings: findingsOn(figures, ratedPowerWatt) };
}

function findingsOn(
  { resistorWatt, resistorShare, wantedRatingWatt, levelChangeDb }: Omit<SeriesResistor, 'findings'>,
  ratedPowerWatt: number | undefined,
): Finding[] {
  const findings: Finding[] = [];
  if (ratedPowerWatt !== undefined && resistorWatt > ratedPowerWatt) {
    findings.push({
      code: 'resistor-burns',
      grade: 'stop',
      figures: { resistorWatt, ratedPowerWatt, wantedRatingWatt },
    });
  } else if (ratedPowerWatt !== undefined && resistorWatt * RESISTOR_MARGIN > ratedPowerWatt) {
    findings.push({
      code: 'resistor-hot',
      grade: 'attention',
      figures: { resistorWatt, ratedPowerWatt, wantedRatingWatt },
    });
  } else if (ratedPowerWatt !== undefined) {
    findings.push({
      code: 'resistor-good',
      grade: 'good',
      figures: { resistorWatt, ratedPowerWatt },
    });
  }
  if (resistorShare > 0.25) {
    findings.push({
      code: 'resistor-costs',
      grade: 'attention',
      figures: { resistorShare, levelChangeDb },
    });
  }
  findings.push({
    code: 'resistor-mounting',
    grade: 'note',
    figures: { resistorWatt, isHot: resistorWatt > HOT_WATT },
  });
  return worstFirst(findings);
}

/** A way to hang drivers on one output, at one voltage. */
export interface ResistorWay {
  name: string;
  loadOhm: number;
  /** sound against one driver alone: power in the coils, and two drivers that work together */
  levelDb: number;
  heatWatt: number;
}

/**
 * One driver, two side by side, and two behind a resistor, at the same voltage.
 *
 * @param driverOhm - of each driver, @param voltageRms - at the output; all above 0
 * @see power as V² / R; two drivers in phase and close together add 3 dB to the sum of their powers (mutual coupling)
 */
export function seriesResistorWays(driverOhm: number, resistorOhm: number, voltageRms: number): ResistorWay[] {
  if (!(driverOhm > 0 && resistorOhm > 0 && voltageRms > 0)) return [];
  const pairOhm = driverOhm / 2;
  const behind = pairOhm + resistorOhm;
  const levelOf = (coilsWatt: number, drivers: number): number =>
    powerRatioDb(coilsWatt, voltageRms ** 2 / driverOhm) + 10 * Math.log10(drivers);
  const current = voltageRms / behind;
  return [
    { name: 'One driver', loadOhm: driverOhm, levelDb: 0, heatWatt: 0 },
    { name: 'Two side by side', loadOhm: pairOhm, levelDb: levelOf(voltageRms ** 2 / pairOhm, 2), heatWatt: 0 },
    { name: 'Two behind the resistor', loadOhm: behind, levelDb: levelOf(current ** 2 * pairOhm, 2), heatWatt: current ** 2 * resistorOhm },
  ];
}

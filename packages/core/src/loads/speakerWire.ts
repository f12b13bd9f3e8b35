import { checkNumbers } from '../coreError.ts';
import { voltageRatioDb } from '../levels/decibels.ts';

/** A wire by gauge: AWG for solid and stranded alike, or square millimetres. */
export interface WireGauge {
  name: string;
  areaMm2: number;
  /** of one conductor at 20 °C */
  ohmPerMetre: number;
}

/** Resistivity of annealed copper at 20 °C in ohm metres: 1/58 ohm for a metre of one square millimetre. Source: IEC 60028, from memory. */
const COPPER_OHM_METRE = 1 / 58e6;

/** Area of an AWG size in mm². Source: ASTM B258, from memory: 36 AWG is 0.005 inch, 0000 is 0.46 inch, 39 steps of one ratio between. */
export function awgAreaMm2(gauge: number): number {
  const diameterMm = 0.127 * 92 ** ((36 - gauge) / 39);
  return (Math.PI / 4) * diameterMm ** 2;
}

const awg = (gauge: number): WireGauge => {
  const areaMm2 = awgAreaMm2(gauge);
  return { name: `${gauge} AWG`, areaMm2, ohmPerMetre: (COPPER_OHM_METRE * 1e6) / areaMm2 };
};

/** Most resistance that the standard allows flexible copper. Source: IEC 60228, class 5, plain copper at 20 °C, from memory. */
const metric = (areaMm2: number, ohmPerKilometre: number): WireGauge => ({
  name: `${areaMm2} mm²`,
  areaMm2,
  ohmPerMetre: ohmPerKilometre / 1000,
});

/** Thinnest first. */
export const AWG_GAUGES: readonly WireGauge[] = [20, 18, 16, 14, 12, 10, 8, 6, 4].map(awg);
export const METRIC_GAUGES: readonly WireGauge[] = [
  metric(0.5, 39),
  metric(0.75, 26),
  metric(1, 19.5),
  metric(1.5, 13.3),
  metric(2.5, 7.98),
  metric(4, 4.95),
  metric(6, 3.3),
  metric(10, 1.91),
  metric(16, 1.21),
];

export interface SpeakerWireInput {
  loadOhm: number;
  /** from the amplifier to the driver, one way */
  lengthMetre: number;
  /** into the load, were there no wire */
  powerWatt: number;
}

export interface WireRow {
  gauge: WireGauge;
  /** there and back */
  wireOhm: number;
  /** level at the load against none lost; never above 0 */
  levelChangeDb: number;
  /** heat in the wire */
  lostWatt: number;
  lostShare: number;
  fits: boolean;
}

export interface SpeakerWire {
  currentRms: number;
  rows: WireRow[];
  /** the thinnest that fits */
  recommended?: WireGauge;
}

/** The wire may have this part of the load's resistance: 5 % costs 0.42 dB. Common practice, no source. */
export const WIRE_PART = 0.05;

/** And carries at most so many amperes in a square millimetre, for a tone that lasts. Common practice, no source. */
export const WIRE_AMPERE_PER_MM2 = 6;

/**
 * What each gauge costs over a length, and the thinnest that fits.
 *
 * @throws {CoreError} `INPUT_INVALID` for figures not above 0
 * @see a voltage divider of wire and load: the source holds its voltage, so level and power at the load fall together
 */
export function speakerWire(input: SpeakerWireInput, gauges: readonly WireGauge[]): SpeakerWire {
  checkNumbers(input, {
    loadOhm: { name: 'load', unit: 'ohm', above: 0 },
    lengthMetre: { name: 'length', unit: 'm', above: 0 },
    powerWatt: { name: 'power', unit: 'W', above: 0 },
  });
  const { loadOhm, lengthMetre, powerWatt } = input;
  const currentRms = Math.sqrt(powerWatt / loadOhm);
  const rows = gauges.map((gauge): WireRow => {
    const wireOhm = 2 * lengthMetre * gauge.ohmPerMetre;
    const current = Math.sqrt(powerWatt * loadOhm) / (loadOhm + wireOhm);
    return {
      gauge,
      wireOhm,
      levelChangeDb: voltageRatioDb(loadOhm, loadOhm + wireOhm),
      lostWatt: current ** 2 * wireOhm,
      lostShare: wireOhm / (loadOhm + wireOhm),
      fits: wireOhm <= WIRE_PART * loadOhm && currentRms <= WIRE_AMPERE_PER_MM2 * gauge.areaMm2,
    };
  });
  const recommended = rows.find(({ fits }) => fits)?.gauge;
  return { currentRms, rows, ...(recommended === undefined ? {} : { recommended }) };
}

/** Cross-sections of ferrules in mm². Source: DIN 46228-4, from memory. */
const FERRULES_MM2 = [0.5, 0.75, 1, 1.5, 2.5, 4, 6, 10, 16, 25] as const;
/** Terminals by the largest wire that they take, in mm². Common practice, no source. */
const TERMINALS_MM2 = [2.5, 4, 6, 10, 16, 25] as const;
/** A size of one system goes into the next of the other where it is no more than this much thicker. Common practice, no source. */
const FERRULE_SLACK = 1.06;

export interface WireEnds {
  /** ferrule for one wire; undefined where none is large enough */
  ferruleMm2?: number;
  /** ferrule for two wires in one terminal */
  pairFerruleMm2?: number;
  /** how many wires a terminal takes, side by side and without a strand left over */
  terminals: { areaMm2: number; wires: number }[];
}

/**
 * What a wire's ends want: ferrules, and how many wires a terminal holds.
 *
 * @param areaMm2 - copper of one wire
 */
export function wireEnds(areaMm2: number): WireEnds {
  checkNumbers({ areaMm2 }, { areaMm2: { name: 'wire', unit: 'mm²', above: 0 } });
  const ferrule = (of: number): number | undefined => FERRULES_MM2.find((size) => of <= size * FERRULE_SLACK);
  const [one, two] = [ferrule(areaMm2), ferrule(2 * areaMm2)];
  return {
    ...(one === undefined ? {} : { ferruleMm2: one }),
    ...(two === undefined ? {} : { pairFerruleMm2: two }),
    terminals: TERMINALS_MM2.map((size) => ({ areaMm2: size, wires: Math.floor((size * FERRULE_SLACK) / areaMm2) })),
  };
}

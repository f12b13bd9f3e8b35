import type { ChannelImpedance } from '../impedance/channelImpedance.ts';
import type { Dial, DialSetting } from '../crossovers/dial.ts';
import type { Filter } from '../crossovers/filters.ts';
import type { PassiveParts } from '../crossovers/passive.ts';
import type { Recommended } from '../crossovers/safeCorner.ts';
import type { PowerRating } from '../loads/amplifierPower.ts';
import type { FloorPlan } from './planPlace.ts';
import type { HookupMode } from '../loads/hookup.ts';
import type { SourceControl, SourceInput, SourceOutput } from '../source/sourceControls.ts';
import type { HeardEntry } from './heardEntry.ts';
import type { EqualiserFilter } from '../response/equaliserResponse.ts';
import type { ParametricEqualiser } from '../response/equalisers.ts';

/** The signal path of one vehicle, described by figures. Powers in watts RMS, loads in ohms of nominal impedance. */
export type EqualiserAtHand = ParametricEqualiser | { kind: 'graphic'; centresHz: number[]; q: number } | { kind: 'none' };

export interface Chain {
  source: Source;
  /** between source and amplifiers, where there is one */
  processor?: Processor;
  amplifiers: Amplifier[];
  channels: Channel[];
  /** where somebody listens, as far as it was measured */
  listening?: Listening;
  /** what there is to even a response out with; five free bands where nothing is said */
  equaliserAtHand?: EqualiserAtHand;
  /** what was listened to, oldest first */
  heard?: HeardEntry[];
}

/** The listening place, and what the processor's delays can do. */
export interface Listening {
  /** from each channel's driver to the listener's head, by the channel's id */
  distancesMetre?: Record<string, number>;
  /** for whom: the driver where nothing is said; for both, the middle of what each of the two wants */
  seat?: 'driver' | 'middle' | 'both';
  /** to the passenger's head, for a compromise of both */
  passengerMetre?: Record<string, number>;
  /** delay beyond the distance's, in seconds, by the channel's id: what brings neighbours together at their crossover */
  trimSecond?: Record<string, number>;
  /** what delays are told from, where both are there; the tape measure where nothing is said */
  delaysFrom?: 'tape' | 'sweep';
  /** 20 where nothing is said */
  temperatureCelsius?: number;
  /** finest step of the processor's delays; a sample at 48 kHz where nothing is said */
  stepSecond?: number;
  longestSecond?: number;
  /** seen from above */
  plan?: FloorPlan;
}

export interface Source {
  /** another unit gets another id, a new name does not; "source" where nothing is said */
  id?: string;
  name: string;
  /** highest volume step of the display */
  volumeSteps: number;
  /** the volume at which every gain is set */
  workingVolume: number;
  /** whether that volume was found by measuring the clean ceiling or taken as a fraction of the scale */
  volumeBasis: 'measured' | 'assumed';
  /** RMS voltage of a full-scale tone at the working volume, at the output that feeds the amplifiers */
  outputVolt?: number;
  /** highest clean RMS voltage of that output */
  ceilingVolt?: number;
  /** a factory unit may hold bass back or equalise: its signal is looked at with sweeps */
  isFactory?: boolean;
  /** inputs in use, each with settings of its own; the first one plays the tones */
  inputs?: SourceInput[];
  /** what can be turned on it; all of them where nothing is said */
  controls?: SourceControl[];
  /** outputs in use; the first one feeds the amplifiers */
  outputs?: SourceOutput[];
  /** how its owner is likely to set it; flat alone where nothing is said */
  cases?: SettingsCase[];
  /** claimed voltage of its preamp outputs */
  preampClaimVolt?: number;
  /** load on its speaker outputs while they are measured */
  speakerLoadOhm?: number;
  /** something else on its way that bends the signal, by its name */
  ownControl?: string;
  /** for the corners of its filters */
  dials?: Dial[];
}

/** One way to set the source: every used one has a clean ceiling of its own, and the lowest decides. */
export interface SettingsCase {
  id: string;
  name: string;
  used: boolean;
  /** notches of sub level that it raises, where it does */
  subNotches?: number;
  /** whether bass, loudness or a boost is up in it */
  bassRaised?: boolean;
}

/** A line processor, a factory-signal converter, or one that sums several outputs of the source. */
export interface Processor {
  /** as the source's; "processor" where nothing is said */
  id?: string;
  name: string;
  inputs: { id: string; name: string; output: SourceOutput }[];
  outputs: { id: string; name: string }[];
  /** RMS wanted at its outputs with a full-scale tone */
  outputVolt: number;
  /** highest clean RMS voltage of its outputs, where it is known */
  mostOutputVolt?: number;
  hasClipLight: boolean;
  dials?: Dial[];
}

export interface Amplifier {
  id: string;
  name: string;
  ratings: PowerRating[];
  minimumStereoOhm?: number;
  minimumBridgedOhm?: number;
  minimumMonoOhm?: number;
  /** input voltage for full output at the most and the least sensitive end of the gain knob */
  inputMinVolt?: number;
  inputMaxVolt?: number;
  /** sum of its fuses, held against what the power asks for; where nothing else is known, a guess of the power */
  fuseAmpere?: number;
  /** what its own test sheet says it makes, beside what the plate claims */
  sheetRatings?: PowerRating[];
  /** supply voltage at which its ratings hold, where it says so */
  ratedAtVolt?: number;
  /** its supply is regulated: it makes its power at a low voltage too */
  isRegulated?: boolean;
  /** a one-channel amplifier may have two pairs of terminals: the same two points */
  terminalPairs?: 1 | 2;
  /** channels that it has, where its name does not tell: "4 × 60 W" */
  channelCount?: number;
  /** the source's own amplifier: no gain to set, its speaker outputs have a ceiling instead */
  isInSource?: boolean;
  dials?: Dial[];
}

export interface Channel {
  id: string;
  name: string;
  amplifierId: string;
  mode: HookupMode;
  /** what is printed at the terminals, such as "A" or "A+ B−" */
  terminals: string;
  /** which of the house's tones sets this channel */
  band: 'bass' | 'full-range';
  /** nominal load of this channel's wiring */
  loadOhm: number;
  drivers: Driver[];
  /** how the drivers' coils are wired; unknown until a wiring was chosen */
  wiring?: ChannelWiring;
  /** which of the processor's outputs feeds it */
  processorOutputId?: string;
  /** what is set on the gear before it, in the order of the signal */
  filters?: ActiveFilter[];
  /** parts between the amplifier and single drivers */
  passive?: PassiveFilter[];
  /** plus and minus changed over on purpose, as some crossovers want it */
  isReversed?: boolean;
  /** a tone of its own, where the house's lies in a filter's way */
  toneHz?: number;
  /** recorded level of its tone, in dBFS, where it is not the house's */
  toneLevelDbfs?: number;
  /** what its power is told from; the plate where nothing is said */
  powerBasis?: PowerBasis;
  /** what the tuner wishes for it, in watts: one more limit */
  wishWatt?: number;
  /** kept below its lowest limit, in dB, where it is not the house's */
  headroomDb?: number;
  /** gain overlap of its own, in dB */
  overlapDb?: number;
  /** set down against the other channels on purpose, in dB below its ceiling */
  blendDb?: number;
  /** where its remote level knob stands in everyday use, as it is marked; the gain is set with it turned up fully */
  remoteAt?: string;
  /** the channel on the other side of the vehicle, by id, or "none"; told from the chain where nothing is said */
  pairedWith?: string;
  /** left and right are meant to play at different levels */
  differsFromPair?: boolean;
  /** of the whole load at its terminals, where it was measured or is known */
  impedance?: ChannelImpedance;
  /** bands that are set on the gear before it, to even out what arrives */
  equaliser?: EqualiserFilter[];
  /** what its response is wanted to be, and where */
  responseTarget?: ResponseTarget;
  /** a resistor that stands for the drivers while the channel is measured with its load on: what it has, and what it bears for long */
  dummyOhm?: number;
  dummyWatt?: number;
}

/** What hangs on a channel's terminals while it is measured with its load on: its drivers, or the resistor that stands for them. */
export const connectedLoadOhm = ({ loadOhm, dummyOhm }: Pick<Channel, 'loadOhm' | 'dummyOhm'>): number => dummyOhm ?? loadOhm;

/** A resistor this near is the same load as the drivers: 10 % is 0.4 dB of the voltage where as much is lost in the amplifier as in the load. */
export const DUMMY_APART = 0.1;

/** A wanted response: level where nothing else is said. */
export interface ResponseTarget {
  /** the range that is evened out; what the filters let through where nothing is said */
  fromHz?: number;
  toHz?: number;
  /** rises or falls by so much an octave, around the middle of the range */
  tiltDb?: number;
  /** a bass shelf below its corner */
  shelfDb?: number;
  shelfHz?: number;
  /** above the level that the response has of itself; below 0 more is cut and less is lifted */
  levelDb?: number;
  /** a shape of its own, straight in dB over log frequency between its points; frequencies rise */
  points?: CurvePoint[];
}

/** One point of a curve: frequency in Hz, level in dB. */
export interface CurvePoint {
  hertz: number;
  db: number;
}

/** plate: what is printed; sheet: its own test sheet; fuse: ten watts for an ampere, a guess */
export type PowerBasis = 'plate' | 'sheet' | 'fuse';

export type FilterPlace = 'source' | 'processor' | 'amplifier';

/** A filter that is set on a piece of gear, by a figure or a dial. `cornerHz` is what the setting says. */
export interface ActiveFilter extends Filter {
  id: string;
  place: FilterPlace;
  /** how it is set, where the gear has a dial for it */
  dial?: DialSetting & { id: string };
  /** whether voltages are to prove it; an amplifier's filters are proved where nothing is said */
  isProved?: boolean;
}

export interface PassiveFilter extends PassiveParts {
  id: string;
  driverId: string;
  /** the driver behind these parts goes plus to minus, as second-order networks want it */
  isReversed?: boolean;
  /** of a bought network: its corner and slope as printed; the parts beside are those that would make it */
  printed?: { cornerHz: number; order: 1 | 2 };
  /** there is a capacitor, and nobody knows its value: the one beside is taken for it */
  isUnknown?: boolean;
}

/** A chosen wiring. Its drivers are lettered in their order: A1 is the first coil of the first driver. */
export interface ChannelWiring {
  network: string;
  /** the wires as drawn, where the tuner's own drawing differs from the usual one */
  joins?: [string, string][];
  seriesResistorOhm?: number;
  seriesResistorRatedWatt?: number;
}

export interface Driver {
  id: string;
  name: string;
  coils: 1 | 2 | 4;
  coilOhm: number;
  /** DC resistance of each coil, where it was measured and taken as this driver's own winding */
  coilDcOhm?: number;
  /** of the whole driver */
  ratedPowerWatt: number;
  /** decibels at one metre for one watt */
  sensitivityDb?: number;
  role?: DriverRole;
  usableFromHz?: number;
  usableToHz?: number;
  recommended?: Recommended[];
  /** resonance of its ported enclosure */
  tuningHz?: number;
  /** of the coil, for passive parts */
  inductanceHenry?: number;
}

export type DriverRole = 'tweeter' | 'midrange' | 'woofer' | 'full-range' | 'subwoofer';

/** A shop's own thresholds and schools. */
export interface HouseRules {
  bassToneHz: number;
  otherToneHz: number;
  /** sets line processors; 100 Hz where nothing is said */
  lineToneHz?: number;
  /** recorded level of the tones on the shop's stick or disc */
  toneLevelDbfs: number;
  overlapDb: number;
  headroomDb: number;
  /** what decides a gain: a meter and a computed voltage, or the scope's first flattening; the meter where nothing is said */
  gainBy?: 'meter' | 'scope';
  /** kept below the first flattening, in dB; a tenth of a decibel where nothing is said */
  onsetMarginDb?: number;
  limitThdPercent: number;
  toleranceDb: number;
  loadWhileSetting: 'off' | 'on';
  /** whether the voltage wished at a processor's outputs is of a full-scale tone, or of the tone as recorded; full scale where nothing is said */
  outputsWith?: 'full-scale' | 'tone';
  /** which load powers are reckoned with, where an impedance is known: the nominal one where nothing is said */
  plannedLoad?: 'nominal' | 'lowest' | 'tone';
  /** share of the volume scale taken where the ceiling cannot be measured; 75 where nothing is said */
  assumedVolumePercent?: number;
  /** how far a measured corner may lie from the one that was set; 10 where nothing is said */
  cornerTolerancePercent?: number;
}

export const DEFAULT_RULES: HouseRules = {
  bassToneHz: 40,
  otherToneHz: 1000,
  toneLevelDbfs: 0,
  overlapDb: 0,
  headroomDb: 0,
  limitThdPercent: 1,
  toleranceDb: 0.2,
  loadWhileSetting: 'off',
};

// What each code carries. A code that is not here cannot be found; its words stand in the words package.
import type { FilterFamily, FilterKind } from '../crossovers/filters.ts';
import type { SuspectCause } from '../crossovers/explainVoltages.ts';
import type { QuantityKind } from '../job/quantityKind.ts';
import type { HeldBy } from '../job/targetPower.ts';
import type { SourceInput, SourceOutput } from '../source/sourceControls.ts';
import type { TraceVerdict as Verdict } from '../traces/analyseTrace.ts';

type NoFigures = Readonly<Record<string, never>>;
type DriverRange = {
  groupId: string;
  hertz: number;
  name: string;
  driverName: string;
  cornerHz: number;
  why: string;
};
/** at the gain or at an output; turns of the knob where its range is known */
type LevelOff = {
  at: 'gain' | 'output';
  differenceDb: number;
  targetVolt: number;
  turns?: string;
};

export interface CrossoverPlanFindings {
  'bare-tweeter': { groupId?: string; channelId?: string; name: string };
  'tweeter-by-setting': { groupId: string; name: string };
  'corners-crossed': { groupId: string; highpassHz: number; lowpassHz: number; name: string };
  'filter-twice': {
    groupId: string;
    firstHz: number;
    secondHz: number;
    name: string;
    kind: FilterKind;
    where: string;
    otherWhere: string;
    order: number;
    otherOrder: number;
    levelDb: number;
    hertz: number;
  };
  'no-subsonic': { groupId: string; tuningHz: number; highpassHz: number; name: string };
  'parts-without-filter': { groupId: string; name: string; kind: FilterKind };
  'ways-overlap': { lowerId: string; upperId: string; lowerName: string; upperName: string; hertz?: number };
  'highpass-too-low': DriverRange;
  'lowpass-too-high': DriverRange;
  'no-highpass': { groupId: string; hertz: number; name: string; driverName: string };
  'ways-gap': { lowerId: string; upperId: string; hertz: number; levelDb: number; lowerName: string; upperName: string };
  'ways-oppose': { lowerId: string; upperId: string; hertz: number; phaseDeg: number; lowerName: string; upperName: string; sumDb: number };
}

export interface FrameFindings {
  stale: { reasons: number; what: string; why: readonly string[]; next: string };
  'below-lowest': { loadOhm: number; plannedOhm: number; amplifierName: string };
  'load-too-low': { channelId?: string; loadOhm?: number; perChannelOhm: number; note: string };
  'dummy-too-low': { channelId: string; dummyOhm: number; amplifierName: string };
  'filters-not-seen': { channelId: string; channelName: string };
  'cannot-judge': { of: 'reading' | 'capture' | 'mark' | 'chain'; id?: string; why: string };
  'pair-targets-apart': {
    otherId: string;
    apartDb: number;
    ownVolt: number;
    otherVolt: number;
    channelName: string;
    otherName: string;
    reason: string;
  };
  'pair-alike': { otherId: string; differenceDb: number; isBelowMeter: boolean; ownVolt: number; otherVolt: number; otherName: string };
  'pair-off': { otherId: string; differenceDb: number; ownVolt: number; otherVolt: number; otherName: string };
  'pair-apart': {
    at: 'gain' | 'proof';
    wantedVolt: number;
    otherId: string;
    differenceDb: number;
    ownVolt: number;
    otherVolt: number;
    otherName: string;
  };
  'too-coarse': { voltageRms: number; typedStep: number; meterStep: number };
  'not-seen-to': { missing: number; checks: readonly string[]; isOther: boolean; tickedFor?: string };
  /** where nothing else says what to do */
  next: { help: string };
  'simulated-only': { count: number };
  skipped: { skippedReason: string };
}

export interface AccountFindings {
  /** what a step rests on is denied at another one */
  contradicted: { what: QuantityKind; title: string; because: string; stepId: string; isUnsafe: boolean };
  /** a question that was answered so often that asking again tells nothing */
  'asked-often': { times: number; isStill: boolean };
  'capture-other-tone': { shownHz: number; toneHz: number };
  'capture-too-short': { cycles: number; wantedCycles: number };
  'capture-twice': { fileName: string; otherTitle: string };
  'dc-on-terminals': { dcVolt: number; captureId: string };
  'copper-too-low': { copperOhm: number; loadOhm: number; amplifierName: string };
  'terminals-shared': { channelNames: readonly string[]; terminals: string; togetherOhm: number; isLow: boolean };
  'too-many-channels': { amplifierName: string; used: number; channelCount: number };
  'look-for-distortion': {
    channelName: string;
    thdPercent: number;
    place: 'source' | 'processor';
    seenPercent?: number;
    toVolume?: number;
  };
  'output-of-two-ways': { outputName: string; channelNames: readonly string[] };
}

export interface DelayFindings {
  'distance-missing': { missing: number; from: 'tape' | 'sweep'; channelNames: readonly string[] };
  'delays-stale': { entered?: string; wanted: string };
  'delays-entered': { from: 'tape' | 'sweep' };
  'arrival-unknown': { channels: number; fileName: string; reason?: string };
  'tape-and-sweep-apart': { apartSecond: number; channelName: string };
  'seats-compromise': { offSecond: number; channelName: string };
  'delay-bypassed': { channelName: string; wantedSecond: number };
  'delay-too-long': { leftSecond: number; wantedSecond: number; channelName: string };
  'bass-by-phase': { channelNames: readonly string[] };
}

export interface ChannelBalanceFindings {
  'sides-apart': { louder: string; apartDb: number; louderName: string; quieterName: string };
  'ways-level': { apartDb: number; hasCurve: boolean };
  'ways-apart': { louder: string; apartDb: number; louderName: string; quieterName: string; hasCurve: boolean };
}

export interface CoilsFindings {
  'coil-open': { who?: string; coilOhm: number };
  'coil-shorted': { who?: string; coilOhm: number };
  'coil-sound': { who?: string; coilOhm: number; nominalOhm: number };
  'coil-other': { who?: string; likelyOhm?: number; coilOhm: number; nominalOhm: number; low: number; high: number };
  'coils-sound': { coils: number; leads: string };
  'coil-behind-capacitor': { coilOhm: number; who: string };
  'coils-winding': { lowestRatio: number; highestRatio: number; read: string; nominal: string };
  'coils-unlike': { driverId: string; lowestOhm: number; highestOhm: number; driverName: string; ohms: readonly number[] };
}

export interface LoadResistanceFindings {
  'wiring-unknown': { channelId: string; channelName: string };
  'whole-as-intended': { meterOhm?: number; note?: string; leadNote?: string; expectedOhm?: number };
  'whole-open': { expectedOhm: number; note: string };
  'whole-short': { expectedOhm: number; note: string };
  'whole-other-wiring': { expectedOhm: number; note: string };
  'whole-one-coil-only': { expectedOhm: number; note: string };
  'whole-driver-missing': { expectedOhm: number; note: string };
  'whole-coil-open': { expectedOhm: number; note: string };
  'whole-leads-not-subtracted': { expectedOhm: number; note: string };
  'whole-unexplained': { coilsOhm: number; low: number; high: number };
  'whole-other-nominal': { coilsOhm: number; low: number; high: number; nominalOhm: number; likelyOhm: number; isReadTwice: boolean };
  'leads-unknown': NoFigures;
}

export interface EnclosureWiringFindings {
  'box-as-intended': { meterOhm: number; driverName: string };
}

export interface CeilingFindings {
  'volume-assumed': { workingVolume: number; volumeSteps: number };
  'no-ceiling': NoFigures;
  'clean-so-far': { fullScaleStep: number; workingVolume: number };
  'volume-over-ceiling': { fullScaleStep: number; workingVolume: number; caseName: string; recorded: string };
  'volume-still-assumed': { fullScaleStep: number; workingVolume: number; recorded: string };
  'volume-clean': { fullScaleStep: number; workingVolume: number; volumeSteps: number; recorded: string };
  'steps-contradict': { step: number; caseName: string };
  'flat-not-ticked': { input: SourceInput };
  'row-implausible': { step: number; voltageRms: number; caseName: string; likelyVolt?: number };
  'source-power': { powerWatt: number; loadOhm: number };
  'claim-missed': { voltageRms: number; claimVolt: number; differenceDb: number; output: SourceOutput };
  'claim-met': { voltageRms: number; claimVolt: number; differenceDb: number; output: SourceOutput };
  'tone-clips-early': { toneHz: number; fromStep: number; otherHz: number; otherFromStep: number; caseName: string };
  'sub-level-costs': { costDb?: number; steps: number; notches: number; caseName: string };
  'case-missing': { caseId: string; caseName: string };
}

export interface CrossoverFindings {
  'filter-changed': { thenHz: number; nowHz: number; then: string; present: string };
  'no-sweep': { traceId?: string; fileName?: string; reason: string };
  'corner-accepted': { cornerHz: number; order: number; filter: string };
  'voltages-missing': { missing: number };
  'setting-suspected': { cause: SuspectCause; suspicions: readonly [string, ...string[]] };
  'not-a-filter': { residualDb: number; reason: string; isSuspected: boolean };
  'filter-ambiguous': { candidates: number; filters: readonly string[] };
  'slopes-alike': { order: number; orders: readonly number[] };
  'other-family': { family: FilterFamily; setFamily: FilterFamily };
  'corner-right': { setHz: number; cornerHz: number; offPercent: number; order: number; setOrder: number };
  'corner-off': { setHz: number; cornerHz: number; offPercent: number; order: number; setOrder: number; tryAt?: string };
  'slope-off': { setHz: number; cornerHz: number; offPercent: number; order: number; setOrder: number };
  'left-out-meter': { points: number; tones: readonly string[]; meterBand: string };
  'left-out-other-filter': { points: number; tones: readonly string[]; meterBand?: string };
  'left-out-nothing': { points: number; tones: readonly string[]; meterBand?: string };
  'left-out-other-level': { points: number; tones: readonly string[]; meterBand?: string };
  'passband-out-of-reach': { highestHz: number; meterBand: string };
  'tones-left-out': { tones: number; meterBand: string };
}

export interface FactoryFindings {
  'bass-held-back': { fromVolume: number; db: number; hertz: number; label: string };
  'response-steady': { curves: number; label: string; fromVolume: number; toVolume: number };
  'one-volume': { curves: number; label: string };
  'low-corner': { hertz: number; label: string };
  'high-corner': { hertz: number; label: string };
  equalised: { bumps: number; label: string; bumpTexts: readonly string[]; undo: readonly string[] };
  'flat-response': { withinDb: number; label: string };
  'outputs-alike': { levelDb: number; delaySecond: number; otherLabel: string; label: string; volume: number };
  'outputs-differ': {
    levelDb: number;
    delaySecond: number;
    isReversed: boolean;
    otherLabel: string;
    label: string;
    volume: number;
    parts: readonly string[];
  };
}

export interface InputRoutingFindings {
  'feed-seen': NoFigures;
}

export interface FiltersFindings {
  'ticks-stale': {
    at: 'filters' | 'flat' | 'hookup' | 'input';
    tickedFor?: string;
    present?: string;
    then?: string;
    now?: string;
    why?: string;
    reasons?: number;
  };
  'filters-seen': NoFigures;
}

export interface FlatFindings {
  'control-not-neutral': { control: string; value: string; controlName: string };
  flat: { controls: number };
}

export interface GainFindings {
  'gain-at-end': { voltageRms: number; differenceDb: number; inputMinVolt?: number; workingVolume: number; volumeSteps: number };
  'tone-boosted': { toneHz: number; differenceDb: number; filtersDb: number; restDb: number; cause: string };
  'tone-lost': { toneHz: number; differenceDb: number; filtersDb: number; restDb: number; cause: string };
  'power-unknown': { channelId: string; reason: string };
  'reads-nothing': { at: 'gain' | 'output' | 'load-pair' | 'crossover'; voltageRms?: number };
  'scope-first': NoFigures;
  'scope-unclear': { isFlat: boolean; verdict: Verdict };
  'scope-clean': { byDb: number; voltageRms: number };
  'on-target': { differenceDb: number; targetVolt: number; withinMeterOnly: boolean };
  'level-low': LevelOff;
  'level-high': LevelOff;
  'distorts-upstream': { thdPercent: number; lowVolt: number; highVolt: number; place: 'source' | 'processor' | 'amplifier' };
  'reads-far-off': { differenceDb: number; channelName: string };
  'gain-at-lowest': { differenceDb: number; channelName: string; toVolume?: number };
  'reads-peak': { factor: string };
  'voltage-stuck': { voltageRms: number };
  'held-by': { by: HeldBy; powerWatt: number; nextBy: HeldBy; nextWatt: number };
  'power-guessed': { powerWatt: number };
  'rating-not-made': { onsetVolt: number; ratedWatt: number; loadOhm: number };
  'by-meter': { ratedVolt: number; onsetVolt: number; apartDb: number };
  'fuses-short': { currentAmpere: number; fuseAmpere: number; powerWatt: number };
  'sag-counted': { sagDb: number };
  blended: { blendDb: number };
  'remote-down': { remoteAt: string };
  'case-overdrives': { safeStep?: number; caseId: string; liftDb: number; caseName: string; workingVolume: number };
  'tone-outside': { betterHz?: number; toneHz: number; lossDb: number };
  'tone-near-corner': { betterHz?: number; toneHz: number; lossDb: number };
  'meter-out-of-band': { toneHz: number; highestHz: number };
}

export interface HandoverFindings {
  'volume-unknown': { cases: readonly string[] };
  'handed-over-before': NoFigures;
  'handed-over': NoFigures;
}

export interface HookupFindings {
  'load-unknown': { loadOhm?: number; perChannelOhm: number; note: string };
  'load-fits': { loadOhm: number; perChannelOhm: number; note: string };
  'load-below-minimum': { loadOhm: number; perChannelOhm: number; note: string };
}

export interface InputFindings {
  'input-clean': NoFigures;
  'capture-unjudged': { verdict: string };
  'input-at-lowest': { byDb: number; toVolume?: number };
  'input-clips': { verdict: Verdict; byDb: number };
  'input-set': NoFigures;
  'set-with-case': { liftDb?: number; caseId: string; caseName: string };
}

export interface ListeningFindings {
  'heard-fine': { passages: number };
  'heard-wrong': { passage: string; said?: string };
  'heard-before': { passage: string; said?: string };
}

export interface ProofFindings {
  'dummy-apart': { dummyOhm: number; loadOhm: number; isLighter: boolean };
  'dummy-current-apart': { dummyOhm: number; foundOhm: number };
  'dummy-heat': { powerWatt: number; ratedWatt: number; burstSecond?: number; pauseSecond?: number };
  'dummy-too-small': { powerWatt: number; ratedWatt: number };
  'clamp-implausible': { foundOhm: number; loadOhm: number; isHigh: boolean };
  'impedance-low': { ohm: number; hertz: number };
  'impedance-unknown': { hertz: number };
  'impedance-rise': {
    ohm: number;
    riseRatio: number;
    powerWatt: number;
    currentAmpere: number;
    toneHz: number;
    isApparent: boolean;
    loadOhm: number;
    plannedOhm: number;
  };
  'supply-drops': { restVolt: number; loadedVolt: number };
  'supply-implausible': { volt: number };
  'supply-rises': { restVolt: number; loadedVolt: number };
  'supply-low': { loadedVolt: number };
  'supply-scales': { loadedVolt: number; ratedAtVolt: number; powerWatt: number };
  'clips-at-lower-supply': { supplyVolt: number; cleanVolt: number; overDb: number };
  'no-capture': NoFigures;
  'no-voltage': NoFigures;
  'loaded-above-unloaded': { at: 'proof' | 'load-pair'; differenceDb: number; loadedVolt: number; unloadedVolt: number; loadOhm?: number };
  'capture-uncalibrated': NoFigures;
  'capture-level-apart': {
    captureVolt: number;
    meterVolt: number;
    apartDb: number;
    probeFactor?: number;
  };
  'no-channel': { channel: number };
  'capture-clean': { thdPercent?: number; verdict: Verdict };
  'capture-onset': { byDb: number; thdPercent?: number; verdict: Verdict };
  'capture-clipped': { thdPercent?: number; verdict: Verdict; overdrive: number };
  'capture-distorted': { byDb: number; thdPercent?: number; verdict: Verdict };
  'capture-over-range': { thdPercent?: number; verdict: Verdict };
  'capture-unusable': { thdPercent?: number; verdict: Verdict };
  'drivers-overdriven': { fullScaleWatt: number; driversWatt: number };
  'power-fits': { fullScaleWatt: number; driversWatt: number };
  'power-short': { shortDb: number; fullScaleWatt: number; setForWatt: number };
  sags: { dropDb: number; sourceOhm: number };
}

/** Over a channel's whole range. */
export interface BandwidthFindings {
  'band-clean': { tonesHz: readonly number[] };
  'band-before-gain': NoFigures;
  'band-unclear': { toneHz: number };
  'band-flat': { toneHz: number; byDb: number; channelId: string; isOwn?: boolean; toVolume?: number };
  /** one tone against what the gain's own tone and the filters make of it */
  'band-uneven': { toneHz: number; otherHz: number; byDb: number; isMeant: boolean; checkId: string };
}

export interface LoadPairFindings {
  'flat-without-load': { withoutLoad: Verdict; withLoad: Verdict };
  'clean-both-ways': { withoutLoad: Verdict; withLoad: Verdict };
  'flat-under-load-only': { byDb: number; withoutLoad: Verdict; withLoad: Verdict };
  'pair-captures-unclear': { withoutLoad: Verdict; withLoad: Verdict };
  'drops-too-far': { dropDb: number; sourceOhm: number };
  'pair-read': { dropDb: number; sourceOhm: number };
  'no-drop': { mostOhm: number; unloadedVolt: number; loadedVolt: number };
}

export interface OutputFindings {
  'output-distorts-before': { thdPercent: number };
  'output-at-end': { voltageRms: number; targetVolt: number; differenceDb: number };
  'output-clips': { verdict: Verdict; byDb: number; thdPercent?: number };
  'above-declared': { voltageRms: number; declaredVolt: number };
  'set-with-tone': { settingVolt: number; fullScaleVolt: number };
  'wish-limited': { wishedVolt: number; mostVolt: number; limitedBy: 'processor' | 'amplifier' };
  'other-output-off': { otherId: string; differenceDb: number; ownVolt: number; otherVolt: number; otherName: string; settingVolt: number };
  'outputs-apart': { otherId: string; differenceDb: number; ownVolt: number; otherVolt: number; otherName: string; settingVolt: number };
  'outputs-matched': { others: number; matches: readonly string[] };
}

export interface CrossoverAlignmentFindings {
  'levels-contradict': { hertz: number; advice: string };
  'earlier-was-better': { lossDb: number; bestDb: number; setting: string };
  'not-together': { lossDb: number; promisesDb: number; delaySecond: number; isReversed: boolean; setting: string };
  together: { lossDb: number };
  'best-of-trials': { lossDb: number; trials: number };
  'levels-apart': { hertz: number; apartDb: number; lower: string; upper: string };
}

export interface PolarityFindings {
  'polarity-stale': { then: string; now: string; driverName: string };
  'polarity-right': { way: string; isReversed?: boolean; driverName: string; foundBy?: 'pulse' | 'touch' | 'ear' };
  'polarity-reversed': { way: string; driverName: string; foundBy?: 'pulse' | 'touch' | 'ear' };
  'polarity-unclear': { way: string; driverName: string; foundBy?: 'pulse' | 'touch' | 'ear' };
  'pulse-contradicts': { found: 'right' | 'reversed'; byPulse: 'right' | 'reversed'; driverName: string };
}

export interface ResponseFindings {
  'no-common-range': { places: number };
  'range-not-covered': { first: number; last: number; fromHz: number; toHz: number };
  'in-noise': { first: number; last: number; underDb: number; place: string };
  strained: { hertz: number; percent: number };
  even: { beforeDb?: number; offDb: number; fromHz: number; toHz: number };
  uneven: { beforeDb?: number; offDb: number; fromHz: number; toHz: number };
  'even-band': { withinDb: number; fromHz: number; toHz: number };
  'worse-than-before': { offDb: number; beforeDb: number };
  dip: { hertz: number; offDb: number; spreadDb: number; isOfPlace: boolean; places: number };
  hump: { hertz: number; offDb: number; spreadDb: number; places: number; isOfPlace: boolean };
  'few-places': { places: number };
  'calibration-short': { first: number; last: number; fromHz: number; toHz: number };
  'boost-costs': { boostDb: number };
}

export interface WiringFindings {
  'dead-short': NoFigures;
  'coil-bridged': { coils: string; names: string };
  'no-path': NoFigures;
  'coils-oppose': { driver: string };
  'coil-idle': { driver: string; coils: number; names: string; ownCoils: number };
  'driver-idle': { drivers: number; driverNames: readonly string[] };
  'bridge-network': NoFigures;
  'wiring-good': { coils: number };
  'shares-unlike': { coils: number };
  'all-reversed': NoFigures;
  'driver-reversed': { drivers: string; driverNames: readonly string[]; otherNames: readonly string[] };
  'resistor-burns': { resistorWatt: number; ratedPowerWatt: number; wantedRatingWatt: number };
  'resistor-hot': { resistorWatt: number; ratedPowerWatt: number; wantedRatingWatt: number };
  'resistor-good': { resistorWatt: number; ratedPowerWatt: number };
  'resistor-costs': { resistorShare: number; levelChangeDb: number };
  'resistor-mounting': { isHot: boolean; resistorWatt: number };
}

/** Every code, with what it carries. */
export interface FigureTable
  extends
    AccountFindings,
    CrossoverPlanFindings,
    FrameFindings,
    DelayFindings,
    ChannelBalanceFindings,
    CoilsFindings,
    LoadResistanceFindings,
    EnclosureWiringFindings,
    CeilingFindings,
    CrossoverFindings,
    FactoryFindings,
    InputRoutingFindings,
    FiltersFindings,
    FlatFindings,
    GainFindings,
    HandoverFindings,
    HookupFindings,
    InputFindings,
    ListeningFindings,
    ProofFindings,
    BandwidthFindings,
    LoadPairFindings,
    OutputFindings,
    CrossoverAlignmentFindings,
    PolarityFindings,
    ResponseFindings,
    WiringFindings {}

export type FindingCode = keyof FigureTable;

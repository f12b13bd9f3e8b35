import type { HouseRules } from '@yield/core';

/** One way of working that practitioners have, and what it costs. */
export interface HouseAnswer<V = HouseRules[keyof HouseRules]> {
  value: V;
  words: string;
  cost: string;
}

/** Where practitioners disagree, as a question that a shop answers once. */
export interface HouseQuestion<K extends keyof HouseRules = keyof HouseRules> {
  key: K;
  question: string;
  answers: readonly HouseAnswer<HouseRules[K]>[];
  /** where any figure will do: its unit */
  unit?: string;
  /** what holds where nothing is said */
  usual: NonNullable<HouseRules[K]>;
  /** where the answers come from */
  source: string;
}

export interface HouseGroup {
  title: string;
  questions: readonly HouseQuestion[];
}

const TRADE = 'Common practice, no source.';
const question = <K extends keyof HouseRules>(of: HouseQuestion<K>): HouseQuestion => of;

/** Every question of the house, in the order in which they come up at a car. */
export const HOUSE_QUESTIONS: readonly HouseGroup[] = [
  {
    title: 'Gains',
    questions: [
      question({
        key: 'gainBy',
        question: 'What decides a gain?',
        answers: [
          {
            value: 'meter',
            words: 'A meter and a computed voltage',
            cost: 'Quiet and quick. It believes the rating until the proof under load.',
          },
          {
            value: 'scope',
            words: 'The first flattening on a scope, load on',
            cost: 'What this amplifier really makes. Loud, and it wants a scope.',
          },
        ],
        usual: 'meter',
        source: TRADE,
      }),
      question({
        key: 'onsetMarginDb',
        question: 'How far below the first flattening?',
        answers: [
          { value: 0.1, words: 'A tenth of a decibel', cost: 'All the amplifier can give, but a hot day may use up the margin.' },
          { value: 0.5, words: 'Half a decibel', cost: 'A tenth of the power, for a supply that sags more in use.' },
          { value: 1, words: '1 dB', cost: 'A fifth of the power.' },
        ],
        unit: 'dB',
        usual: 0.1,
        source: '1 dB less is a factor of 0.79 in power.',
      }),
      question({
        key: 'loadWhileSetting',
        question: 'Is the load on while a gain is set?',
        answers: [
          { value: 'off', words: 'Off, then proved with it on', cost: 'Safe for ears and drivers. What sags shows in the proof only.' },
          { value: 'on', words: 'On', cost: 'Rails sag as in use. Loud, and hard on drivers: short bursts.' },
        ],
        usual: 'off',
        source: TRADE,
      }),
      question({
        key: 'overlapDb',
        question: 'Gain overlap for quiet recordings?',
        answers: [
          { value: 0, words: 'None', cost: 'Full-scale music never clips by the gain. Old, quiet recordings stay quiet.' },
          { value: 3, words: '3 dB', cost: 'Quiet music gets twice the power. Full-scale peaks are cut; hiss rises by 3 dB.' },
          { value: 5, words: '5 dB', cost: 'Quiet music gets three times the power. Loud music clips often; hiss rises by 5 dB.' },
          {
            value: 10,
            words: '10 dB',
            cost: 'For the oldest recordings alone. Loud music is clipped hard; drivers get more than their clean power.',
          },
        ],
        unit: 'dB',
        usual: 0,
        source: TRADE,
      }),
      question({
        key: 'headroomDb',
        question: 'How far below what the gear can give?',
        answers: [
          { value: 0, words: 'At it', cost: 'All of the power that the lowest of amplifier, drivers and supply allows.' },
          { value: 1, words: '1 dB below', cost: 'A fifth of the power, nothing that is heard.' },
          { value: 3, words: '3 dB below', cost: 'Half of the power. For drivers that live long.' },
        ],
        unit: 'dB',
        usual: 0,
        source: '3.01 dB less is half of the power.',
      }),
      question({
        key: 'plannedLoad',
        question: 'Which load is power reckoned with, where its impedance is known?',
        answers: [
          {
            value: 'nominal',
            words: 'The nominal one',
            cost: 'Safe at every tone. Where the impedance rises, less power arrives than planned.',
          },
          {
            value: 'lowest',
            words: 'The lowest it has where it plays',
            cost: 'A little more voltage, safe as long as the measured curve is that of the finished box.',
          },
          {
            value: 'tone',
            words: 'What it has at the tone',
            cost: 'The whole rating at that tone. Elsewhere the load is lower: more current, more heat, earlier clipping.',
          },
        ],
        usual: 'nominal',
        source: TRADE,
      }),
      question({
        key: 'toleranceDb',
        question: 'How far may a gain be off?',
        answers: [
          { value: 0.2, words: '0.2 dB', cost: 'Left and right stay together; it takes a steady hand.' },
          { value: 0.5, words: '0.5 dB', cost: 'Quicker; a pair may differ by 1 dB at worst.' },
          { value: 1, words: '1 dB', cost: 'Quick. Left and right may then differ so that a voice leaves the middle.' },
        ],
        unit: 'dB',
        usual: 0.2,
        source: TRADE,
      }),
    ],
  },
  {
    title: 'Tones',
    questions: [
      question({
        key: 'bassToneHz',
        question: 'Which tone for bass?',
        answers: [
          { value: 40, words: '40 Hz', cost: 'The deepest demand of most music; below the range of some meters.' },
          { value: 50, words: '50 Hz', cost: 'Every meter reads it: it is made for the mains.' },
          { value: 100, words: '100 Hz', cost: 'Steady on any meter, but a low-pass takes some of it.' },
        ],
        unit: 'Hz',
        usual: 40,
        source: TRADE,
      }),
      question({
        key: 'otherToneHz',
        question: 'Which tone for everything else?',
        answers: [
          { value: 1000, words: '1 kHz', cost: 'Clear of most filters. Many meters read low above 400 Hz.' },
          { value: 400, words: '400 Hz', cost: 'Read well by most meters; closer to midrange filters.' },
          { value: 315, words: '315 Hz', cost: 'Read well by nearly every meter; mind a high-pass of the doors.' },
        ],
        unit: 'Hz',
        usual: 1000,
        source: TRADE,
      }),
      question({
        key: 'lineToneHz',
        question: 'Which tone for line processors?',
        answers: [
          { value: 100, words: '100 Hz', cost: 'Every meter reads it well.' },
          { value: 1000, words: '1 kHz', cost: 'Clear of bass processing; mind the meter’s range.' },
        ],
        unit: 'Hz',
        usual: 100,
        source: TRADE,
      }),
      question({
        key: 'toneLevelDbfs',
        question: 'How are your tones recorded?',
        answers: [
          { value: 0, words: '0 dBFS', cost: 'The figure on the meter is the full-scale one. A source that clips shows it at once.' },
          { value: -3, words: '−3 dBFS', cost: 'Half of the power while you set; the target is lowered by as much.' },
          { value: -5, words: '−5 dBFS', cost: 'A third of the power while you set; the target is lowered by as much.' },
          { value: -10, words: '−10 dBFS', cost: 'A tenth of the power; small figures, which a coarse meter reads less well.' },
        ],
        unit: 'dBFS',
        usual: 0,
        source: 'As printed on your stick or disc.',
      }),
      question({
        key: 'outputsWith',
        question: 'The target voltage at the processor outputs is for …',
        answers: [
          {
            value: 'full-scale',
            words: 'a full-scale tone',
            cost: 'A tone recorded lower reads lower, and music never exceeds the target.',
          },
          {
            value: 'tone',
            words: 'the tone as it is recorded',
            cost: 'Music exceeds the target by the amount the tone is below full scale.',
          },
        ],
        usual: 'full-scale',
        source: TRADE,
      }),
    ],
  },
  {
    title: 'Volume and limits',
    questions: [
      question({
        key: 'assumedVolumePercent',
        question: 'Which volume where the ceiling cannot be measured?',
        answers: [
          { value: 75, words: 'Three quarters of the scale', cost: 'Clean on most sources. It is marked as assumed.' },
          { value: 80, words: '80 %', cost: 'Louder, and on some sources already clipped. It is marked as assumed.' },
        ],
        unit: '%',
        usual: 75,
        source: TRADE,
      }),
      question({
        key: 'limitThdPercent',
        question: 'THD limit: above it a trace is not clean',
        answers: [
          { value: 1, words: '1 %', cost: 'The usual figure of a rating.' },
          { value: 3, words: '3 %', cost: 'For bass, where it is barely audible. Audible on a tweeter.' },
          { value: 10, words: '10 %', cost: 'Clipped to the eye. Some ratings are given there.' },
        ],
        unit: '%',
        usual: 1,
        source: TRADE,
      }),
      question({
        key: 'cornerTolerancePercent',
        question: 'How far may a measured corner be from its setting?',
        answers: [
          { value: 10, words: '10 %', cost: 'Half a decibel at the corner of a second-order filter.' },
          { value: 20, words: '20 %', cost: 'What unmarked dials are off by; ways meet less evenly.' },
        ],
        unit: '%',
        usual: 10,
        source: TRADE,
      }),
    ],
  },
];

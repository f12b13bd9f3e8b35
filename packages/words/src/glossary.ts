/** A term of the trade as Yield uses it, and what it means. */
export interface Term {
  term: string;
  meaning: string;
}

/** Every term that a newcomer may not know, by the alphabet. Definitions are common knowledge of the trade unless a standard is named. */
export const GLOSSARY: readonly Term[] = [
  {
    term: 'Account',
    meaning:
      'Everything that is known of one thing in the vehicle, from every step: a load, a level, a filter. Figures that contradict each other are shown at each step that relies on them.',
  },
  {
    term: 'Bandwidth check',
    meaning: 'A channel under load at several tones of its range: clean at its low end too, and no boost or filter that nobody knows of.',
  },
  { term: 'Bridging', meaning: 'Two channels of an amplifier driving one load between them. Each channel works into half of the load.' },
  { term: 'Ceiling', meaning: 'The highest clean voltage of a stage. Above it the signal clips.' },
  { term: 'Chain', meaning: 'The signal path of a vehicle: source, processor, amplifiers, channels, drivers.' },
  {
    term: 'Channel balance',
    meaning: 'The levels of all channels against each other, by pink noise and a sound meter at the listening position.',
  },
  { term: 'Clipping', meaning: 'The tops of a wave cut off at the supply rails of a stage. It adds harmonics and heats voice coils.' },
  { term: 'Corner', meaning: 'The frequency at which a filter begins to work: 3 dB down for Butterworth, 6 dB down for Linkwitz–Riley.' },
  { term: 'Crossover', meaning: 'The filters that divide the band between drivers, and the frequency at which two of them meet.' },
  {
    term: 'Damping',
    meaning:
      'How well an amplifier controls a driver’s motion: the load divided by all resistance in series with it, in the wire and in the amplifier.',
  },
  { term: 'dBFS', meaning: 'Recorded level in decibels against a full-scale sine, which is 0 dBFS.' },
  { term: 'Dummy load', meaning: 'A power resistor in place of the drivers, so that full power can be measured without sound.' },
  { term: 'Equaliser band', meaning: 'One bell or shelf: its frequency, its gain in decibels and its Q.' },
  { term: 'Flat', meaning: 'Every control of the source at neutral: tone, loudness, boost, equaliser, fader, balance.' },
  {
    term: 'Full scale',
    meaning: 'The highest level that a recording can hold. A full-scale tone is as loud as music ever gets at this volume.',
  },
  { term: 'Gain', meaning: 'The knob that matches an amplifier’s input to the voltage that feeds it. It is not a volume control.' },
  { term: 'Gain overlap', meaning: 'Gain beyond the match, so that quiet recordings reach full power. Loud ones then clip.' },
  { term: 'Headroom', meaning: 'What is left between the highest level in use and the ceiling, in decibels.' },
  { term: 'High-level input', meaning: 'An amplifier’s or processor’s input for speaker wires instead of a preamp plug.' },
  { term: 'Hook-up', meaning: 'How a load sits on an amplifier: stereo, bridged or mono, and on which terminals.' },
  {
    term: 'Impedance',
    meaning: 'A driver’s opposition to alternating current, in ohms. It changes with frequency; the nominal figure is rounded.',
  },
  { term: 'Load pair', meaning: 'One voltage without and with its load at the same knob. Their ratio gives the output resistance.' },
  {
    term: 'Load resistance',
    meaning: 'What an ohmmeter reads across a whole wiring: copper only, below the nominal impedance by a tenth to a fifth.',
  },
  { term: 'Onset', meaning: 'The level at which a wave just begins to flatten.' },
  { term: 'Passive parts', meaning: 'Capacitors and inductors between the amplifier and a driver.' },
  { term: 'Pink noise', meaning: 'Noise with equal power in each octave.' },
  { term: 'Polarity', meaning: 'Whether a cone moves out with a positive voltage. Reversed, plus and minus are changed over.' },
  { term: 'Proof', meaning: 'A channel under its load at its gain: clean or not, how far it sags, what power arrives.' },
  { term: 'Q', meaning: 'The width of a filter or band: centre frequency over bandwidth. A high Q is narrow.' },
  { term: 'Rails', meaning: 'The supply voltages inside an amplifier. They set the highest output.' },
  {
    term: 'RMS',
    meaning: 'The voltage that heats a resistor as much as a DC voltage of the same figure. For a sine, the peak divided by 1.414.',
  },
  { term: 'Sag', meaning: 'What a load takes off a voltage, in decibels.' },
  {
    term: 'Settings case',
    meaning: 'One way in which the owner is likely to set the source, such as “bass up”. The lowest ceiling of all cases counts.',
  },
  { term: 'Shop', meaning: 'The workshop that uses this Yield: its rules, its meters, its gear.' },
  { term: 'Slope', meaning: 'How steeply a filter falls, in decibels per octave: 6 for each order.' },
  { term: 'Stale', meaning: 'Measured before something that it stands on was changed. Measure it again.' },
  { term: 'Subsonic filter', meaning: 'A high-pass for a subwoofer, just below the tuning of its enclosure.' },
  {
    term: 'Target voltage',
    meaning: 'What the meter has to read at a channel’s terminals for the wanted power: the square root of watts times ohms.',
  },
  { term: 'THD', meaning: 'Total harmonic distortion: harmonics against the fundamental, in percent (IEC 60268-3).' },
  { term: 'Time alignment', meaning: 'Delays set so that sound from all drivers reaches the listener at the same time.' },
  { term: 'Tune', meaning: 'One job on one vehicle: its chain, its readings, its findings.' },
  { term: 'Way', meaning: 'One part of the band with its drivers: bass, midrange, treble.' },
  { term: 'Working volume', meaning: 'The source volume at which every gain is set: the highest clean one.' },
];

/** A term as part of an address: "gain-overlap". */
export const termId = (term: string): string => `term-${term.toLowerCase().replaceAll(/[^a-z0-9]+/g, '-')}`;

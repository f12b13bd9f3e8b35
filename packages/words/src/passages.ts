import { isKnownPassage, type Passage } from '@yield/core';

/** What a passage tests, and where to look when it is wrong. */
const PASSAGE_WORDS: Readonly<Record<Passage, { words: string; next: string }>> = {
  'bass-notes': {
    words: 'Bass notes in a row, all equally loud',
    next: 'One note that sticks out is a cabin resonance: cut it where the response shows it.',
  },
  'drum-hits': {
    words: 'Drum hits, dry and from in front',
    next: 'Check the delay and the polarity of the bass against the front, and their crossover.',
  },
  voice: {
    words: 'A voice, in the middle',
    next: 'Check the delays and levels of left against right, then the polarity of single drivers.',
  },
  hiss: {
    words: 'Nothing at all: no hiss, no whine with the engine running',
    next: 'Hiss: more level early in the chain, less gain at its end. A whine that follows the engine: check the ground and the cable routing.',
  },
  rattles: {
    words: 'A slow sweep from 20 to 200 Hz: nothing rattles',
    next: 'Press on whatever rattles, then fasten or damp it. No setting fixes a rattle. Begin softly: low tones carry no warning that they are loud.',
  },
};

/** A passage in words: what it tests, or as the tuner named it. */
export const passageWords = (passage: string): string => (isKnownPassage(passage) ? PASSAGE_WORDS[passage].words : passage);

/** Where to look when it is wrong; undefined for a passage of the tuner's own. */
export const passageAdvice = (passage: string): string | undefined => (isKnownPassage(passage) ? PASSAGE_WORDS[passage].next : undefined);

import type { MeasuredCurves } from '@yield/core';
import { useDraft } from '../../ui/useDraft.ts';

/** Heads of the one who listens, a hand's breadth apart. */
export const USUAL_PLACES = ['left ear', 'middle of the head', 'right ear'] as const;
const MAX_MICROPHONES = 8;

/** Where the microphone stands, several at once between commas: as it was typed, else the next usual place that was not recorded yet. */
export function usePlace(stepId: string, { places }: MeasuredCurves): [string, (text: string | null) => void] {
  const recorded = new Set(places.map(({ place }) => place));
  return useDraft(`response-place/${stepId}`, USUAL_PLACES.find((place) => !recorded.has(place)) ?? USUAL_PLACES[0]);
}

/** One name for each channel of the recording. */
export function placesFrom(text: string): string[] {
  const places = text
    .split(',')
    .map((place) => place.trim())
    .filter((place) => place !== '');
  return places.length === 0 ? [USUAL_PLACES[0]] : places.slice(0, MAX_MICROPHONES);
}

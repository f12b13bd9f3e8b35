import { soundGuide } from '@yield/core';
import { useEffect, useRef } from 'react';

const CLICK_SECOND = 0.03;
const LOUDNESS = 0.15;

/**
 * Clicks that lead a hand to its target, through this computer's output.
 *
 * @param differenceDb - reading against target; null where nothing is to sound
 */
export function useSoundGuide(differenceDb: number | null, toleranceDb: number): void {
  const aim = useRef({ differenceDb, toleranceDb });
  useEffect(() => {
    aim.current = { differenceDb, toleranceDb };
  }, [differenceDb, toleranceDb]);
  const isOn = differenceDb !== null;
  useEffect(() => {
    if (!isOn) return undefined;
    const context = new AudioContext();
    const oscillator = context.createOscillator();
    const gain = context.createGain();
    gain.gain.value = 0;
    oscillator.connect(gain).connect(context.destination);
    oscillator.start();
    let timer: ReturnType<typeof setTimeout>;
    const beat = (): void => {
      const { differenceDb: off, toleranceDb: within } = aim.current;
      const { hertz, clicksPerSecond } = soundGuide(off ?? 0, within);
      const at = context.currentTime;
      oscillator.frequency.setValueAtTime(hertz, at);
      gain.gain.cancelScheduledValues(at);
      gain.gain.setTargetAtTime(off === null ? 0 : LOUDNESS, at, 0.003);
      // On the target the tone stays; else each click ends by itself.
      if (clicksPerSecond > 0) gain.gain.setTargetAtTime(0, at + CLICK_SECOND, 0.005);
      timer = setTimeout(beat, clicksPerSecond > 0 ? 1000 / clicksPerSecond : 150);
    };
    beat();
    return () => {
      clearTimeout(timer);
      void context.close();
    };
  }, [isOn]);
}

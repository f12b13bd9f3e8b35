import { simulatedMeter, type Waveform } from '@yield/bench';
import { seededRandom, type Meter } from '@yield/core';
import { useEffect, useRef, useState } from 'react';

const REFRESH_MS = 400;

/** What a simulated voltmeter shows, again and again, while its probes sit on a waveform. */
export function useSimulatedMeter(probe: { waveform: Waveform; toneHz: number }, meter: Meter, seed: string): string {
  const now = useRef(probe);
  useEffect(() => {
    now.current = probe;
  });
  const [display, setDisplay] = useState('0.000');
  useEffect(() => {
    const instrument = simulatedMeter(() => now.current, meter, seededRandom(`${seed}/meter`));
    let live = true;
    const show = (): void => void instrument.read().then((shown) => (live ? setDisplay(shown.display) : undefined));
    show();
    const timer = setInterval(show, REFRESH_MS);
    return () => {
      live = false;
      clearInterval(timer);
    };
  }, [meter, seed]);
  return display;
}

import { demoTunes, type DemoTune } from '@yield/bench';

export interface DemoTask {
  /** milliseconds since 1970: the demo's records end then */
  now: number;
}

/** Runs on a worker thread: the demo tunes with their captures. */
export default async function runDemoTask({ now }: DemoTask): Promise<readonly DemoTune[]> {
  return await demoTunes(now);
}

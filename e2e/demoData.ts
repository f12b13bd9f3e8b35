import { DEMO_FOLDER, RunningApp } from './runningApp.ts';

/** Makes the demo's data once for all files. @returns what throws them away */
export default async function demoData(): Promise<() => Promise<void>> {
  const app = await RunningApp.start({ withDemo: true });
  // The list keeps a summary of each tune, which takes a moment to make.
  await (await fetch(`${app.url}/api/v1/tunes`)).json();
  const { folder, remove } = await app.leave();
  process.env[DEMO_FOLDER] = folder;
  return remove;
}

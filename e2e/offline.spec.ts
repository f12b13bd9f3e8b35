import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { HistoryRow, TuneDetail } from '@yield/contract';
import { chromium } from '@playwright/test';
import { expect, test } from './runningApp.ts';
import { scopeCapture } from './captures.ts';
import { demoTune, dropCapture, typeReading } from './steps.ts';

test.use({ serviceWorkers: 'allow' });
test.describe.configure({ mode: 'serial' });

test('without a server the browser is closed and opened, and all that was done is stored once it is back', async ({
  page,
  app,
  context,
}) => {
  const bus = await demoTune(page, 'Mobile library bus');
  const tuneId = bus.split('/').at(-1)!;
  await page.goto(`${bus}/run/gain:reading-right`);
  await expect(page.getByTestId('verdict')).toBeVisible();
  // Everything is in the browser once its worker holds it.
  await page.evaluate(async () => {
    await navigator.serviceWorker.ready;
  });
  await expect
    .poll(() =>
      page.evaluate(async () =>
        (await Promise.all((await caches.keys()).map(async (name) => (await (await caches.open(name)).keys()).length))).reduce(
          (a, b) => a + b,
          0,
        ),
      ),
    )
    .toBeGreaterThan(40);
  await app.stopServer();

  // Closed, and opened on a page of its own.
  await page.close();
  const again = await context.newPage();
  const began = Date.now();
  await again.goto(`${app.url}${bus}/run/gain:reading-right`);
  await expect(again.getByTestId('verdict')).toBeVisible();
  test.info().annotations.push({ type: 'second visit', description: `${Date.now() - began} ms` });
  await typeReading(again, '9.47');
  await expect(again.getByTestId('verdict')).toContainText('On target');

  // A step ticked.
  await again.goto(`${app.url}${bus}/run/filters:front-left`);
  const box = again.getByRole('checkbox').first();
  const wasTicked = await box.isChecked();
  await box.setChecked(!wasTicked, { force: true });

  // A wiring changed.
  await again.goto(`${app.url}${bus}/wiring/bass`);
  await again.getByRole('radio', { name: /^8 ohm/ }).check({ force: true });
  await again.getByRole('button', { name: 'Use this wiring' }).click();
  await expect(again.getByText('In the chain', { exact: true })).toBeVisible();

  // A capture dropped.
  await again.goto(`${app.url}${bus}/run/proof:front-left`);
  await dropCapture(again, scopeCapture({ hertz: 1000, peakVolt: 12, name: 'offline.csv' }));
  await expect(again.getByRole('region', { name: 'Captures' })).toContainText('offline.csv');

  // A tune renamed.
  await again.getByRole('button', { name: 'Name and vehicle of the job' }).click();
  await again.getByLabel('Name of the job').fill('Bus without a server');
  await again.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(again.getByText('Bus without a server').first()).toBeVisible();
  await again.reload();
  await expect(again.getByText('Bus without a server').first()).toBeVisible();
  await expect(again.getByText('5 entries kept in this browser until the server is back')).toBeVisible();

  await app.startServer();
  await expect(again.getByText(/kept in this browser|^Saving |refused/)).toHaveCount(0, { timeout: 30_000 });
  const tune = (await (await again.request.get(`${app.url}/api/v1/tunes/${tuneId}`)).json()) as TuneDetail;
  expect(tune.name).toBe('Bus without a server');
  expect(tune.readings.filter(({ value }) => value === 9.47)).toHaveLength(1);
  expect(tune.traces.filter(({ fileName }) => fileName === 'offline.csv')).toHaveLength(1);
  expect(tune.chain.version).toBe(2);
  const history = (await (await again.request.get(`${app.url}/api/v1/tunes/${tuneId}/history`)).json()) as HistoryRow[];
  const kinds = history.map(({ kind }) => kind).reverse();
  expect(kinds.filter((kind) => kind !== 'capture' && kind !== 'created')).toEqual(['reading', 'mark', 'chain', 'tune']);
  // The reading was taken before the wiring was changed, and says so.
  expect(history.find(({ kind }) => kind === 'reading')!.chainVersion).toBe(1);
});

test('two devices at one tune see each other’s entries, and each other', async ({ page, app, browser }) => {
  const car = await demoTune(page, 'Driving-school car');
  await page.goto(`${car}/run/gain:left`);
  await expect(page.getByTestId('verdict')).toBeVisible();
  const phone = await browser.newContext({ baseURL: app.url, viewport: { width: 390, height: 800 }, serviceWorkers: 'block' });
  const other = await phone.newPage();
  await other.goto(`${car}/run/gain:left`);
  await expect(page.getByText('Also here: another device')).toBeVisible();
  // A key that is pressed before the step stands goes nowhere.
  await expect(other.getByTestId('verdict')).toBeVisible();
  await typeReading(other, '7.77');
  const began = Date.now();
  await expect(page.getByRole('region', { name: 'Readings' })).toContainText('7.77');
  expect(Date.now() - began).toBeLessThan(2000);
  await phone.close();
  await expect(page.getByText('Also here')).toHaveCount(0);

  // What was changed stands in the history, with what it was before.
  await page.goto(`${car}/history`);
  await expect(page.getByRole('listitem').filter({ hasText: 'Reading 7.77' })).toContainText('gain of');
});

test('a page of another origin reads, writes and deletes nothing, by a name that points here neither', async ({ page, app }) => {
  const car = await demoTune(page, 'Driving-school car');
  const api = `/api/v1${car}`;
  const stranger = createServer((_request, response) => response.end('<!doctype html><title>Elsewhere</title>'));
  await new Promise<void>((resolve) => stranger.listen(0, '127.0.0.1', resolve));
  const port = (stranger.address() as AddressInfo).port;
  const ownPort = new URL(app.url).port;
  const browser = await chromium.launch({
    executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
    // Whoever owns a name decides where it points: here, to this very machine.
    args: ['--no-sandbox', '--disable-gpu', '--host-resolver-rules=MAP elsewhere.test 127.0.0.1'],
  });
  const tab = await browser.newPage();
  await tab.goto(`http://elsewhere.test:${port}/`);
  const tried = await tab.evaluate(
    async ({ url, tune }) => {
      const attempt = (path: string, init: RequestInit): Promise<string> =>
        fetch(`${url}${path}`, init).then(
          async (response) => `${response.type} ${response.status} ${(await response.text()).slice(0, 20)}`,
          () => 'refused',
        );
      const json = { 'content-type': 'application/json' };
      return {
        read: await attempt(tune, {}),
        blindRead: await attempt(tune, { mode: 'no-cors' }),
        write: await attempt(`${tune}/edits/00000000-0000-4000-8000-000000000000`, { method: 'PUT', headers: json, body: '{}' }),
        blindWrite: await attempt('/api/v1/tunes', {
          method: 'POST',
          mode: 'no-cors',
          body: '{"id":"00000000-0000-4000-8000-000000000001"}',
        }),
        remove: await attempt(tune, { method: 'DELETE' }),
        events: await new Promise<string>((resolve) => {
          const source = new EventSource(`${url}${tune}/events?device=00000000-0000-4000-8000-000000000000`);
          source.onmessage = () => resolve('heard');
          source.onerror = () => resolve('refused');
        }),
      };
    },
    { url: app.url, tune: api },
  );
  expect(tried).toEqual({
    read: 'refused',
    blindRead: 'refused',
    write: 'refused',
    blindWrite: 'refused',
    remove: 'refused',
    events: 'refused',
  });
  // The name that points here: its page would be of the same origin as what it asks.
  const answer = await tab.goto(`http://elsewhere.test:${ownPort}${api}`);
  expect(answer!.status()).toBe(421);
  const rebound = await tab.evaluate(async (path) => (await fetch(path, { method: 'DELETE' })).status, api);
  expect(rebound).toBe(421);
  await browser.close();
  stranger.close();
  const tune = (await (await page.request.get(`${app.url}${api}`)).json()) as TuneDetail;
  expect(tune.name).toBe('Driving-school car');
});

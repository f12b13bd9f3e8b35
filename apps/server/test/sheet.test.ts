// The owner's sheet as a PDF, read back by other programs: its text, its pages, its papers.
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { OwnerSheet } from '@yield/sheet';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { sheetPdf, type Paper } from '../src/handover/sheetPdf.ts';
import { startTestServer, type TestServer } from './testServer.ts';

const BUS = '3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a0001';
let folder: string;
beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'yield-sheet-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function readBack(pdf: Buffer): { text: string; pages: number; size: string; isTagged: boolean; fonts: string } {
  const file = path.join(folder, `${randomUUID()}.pdf`);
  writeFileSync(file, pdf);
  const info = execFileSync('pdfinfo', [file], { encoding: 'utf8' });
  const field = (name: string): string => new RegExp(`^${name}:\\s*(.*)$`, 'm').exec(info)?.[1] ?? '';
  return {
    text: execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' }).replace(/\s+/g, ' '),
    pages: Number(field('Pages')),
    size: field('Page size'),
    isTagged: field('Tagged') === 'yes',
    fonts: execFileSync('pdffonts', [file], { encoding: 'utf8' }),
  };
}

const LONG = 'A driving-school car with a name so long that no heading of a page would ever hold it on a single line of its own';
const channel = (name: string): OwnerSheet['channels'][0] => ({
  name,
  amplifier: 'Four-channel, 4 × 45 W',
  terminals: 'A left',
  load: '4 Ω, metered 3.6 Ω',
  drivers: 'Door 165 mm, 3.2 Ω',
  set: '22.4 V',
  delivered: '125 W',
  before: '31 W, clipped',
  filters: 'High-pass 80 Hz, 24 dB per octave, Linkwitz-Riley',
  polarity: 'right',
  delay: '2.31 ms',
  equaliser: '63 Hz −4.2 dB, Q 2.10',
  clean: 'clean under load',
});
const sheetOf = (count: number, changes: Partial<OwnerSheet> = {}): OwnerSheet => ({
  job: 'Camper trailer',
  vehicle: 'Trailer, 12 V',
  madeAt: '2026-03-01T10:00:00.000Z',
  isWhole: true,
  system: { source: 'Dash unit', settings: 'Bass 0, Treble 0', processor: '', levels: [] },
  volumes: [
    { name: 'Flat', step: 34, of: 40, isAssumed: false },
    { name: 'Bass at +6', step: 32, of: 40, isAssumed: true },
    { name: 'Night', of: 40, isAssumed: false },
  ],
  leaveAlone: [{ what: 'The gain of Mono, 250 W at 2 Ω', why: 'Turned up it is not louder but clipped.' }],
  channels: Array.from({ length: count }, (_, k) => channel(`Channel ${k + 1}`)),
  open: [],
  ...changes,
});

describe('the owner’s sheet as a PDF', () => {
  it.each<[Paper, string]>([
    ['a4', '595.28 x 841.89 pts (A4)'],
    ['letter', '612 x 792 pts (letter)'],
    ['card', '297.64 x 419.53 pts'],
  ])('on %s has its size, its fonts inside, tags, and text that is found again', async (paper, size) => {
    const { text, size: found, isTagged, fonts, pages } = readBack(await sheetPdf(sheetOf(2), paper));
    expect([found, isTagged, pages]).toEqual([size, true, 1]);
    // Embedded, every one of them: "yes yes" are embedded and a part of the font.
    for (const line of fonts.trim().split('\n').slice(2)) expect(line).toMatch(/IBMPlexSans.*yes yes yes/);
    for (const words of ['Camper trailer', 'Never louder than', '34', '32', 'assumed', 'not measured: leave it off', '250 W at 2 Ω'])
      expect(text).toContain(words);
    expect(text.includes('63 Hz −4.2 dB')).toBe(paper !== 'card');
  });

  it('holds eight channels, long names and forty open points, and loses none', async () => {
    const open = Array.from({ length: 40 }, (_, k) => `Proof: Channel ${k}: not done yet, which is said in a sentence of some length.`);
    const { text, pages } = readBack(await sheetPdf(sheetOf(8, { job: LONG, isWhole: false, open }), 'letter'));
    expect(pages).toBeGreaterThan(1);
    expect(pages).toBeLessThan(5);
    expect(text).toContain(LONG);
    expect(text).toContain('This tune is not finished');
    for (let k = 0; k < 40; k += 1) expect(text).toContain(`Proof: Channel ${k}: not done yet`);
    for (let k = 1; k <= 8; k += 1) expect(text).toContain(`Channel ${k} Door`);
  });

  it('draws wiring and responses, and ends with what all of it rests on', async () => {
    const wiring: NonNullable<OwnerSheet['channels'][0]['wiring']> = {
      terminals: 'Sub',
      drivers: [{ letter: 'A', name: 'Subwoofer, dual coil' }],
      coils: [
        { name: 'A1', driver: 'A', ohm: 2 },
        { name: 'A2', driver: 'A', ohm: 2 },
      ],
      wires: [
        { from: 'amp+', to: 'A1+', kind: 'feed' },
        { from: 'A1-', to: 'A2+', kind: 'series' },
        { from: 'A2-', to: 'amp-', kind: 'feed' },
      ],
    };
    const hertz = [20, 40, 80, 160];
    const responses = [
      {
        name: 'Sub',
        fromHz: 25,
        toHz: 120,
        offDb: 1.4,
        beforeDb: 4.6,
        hertz,
        now: [70, 72, 71, 60],
        wanted: [71, 71, 70, 61],
        before: [70, 79, 71, 60],
      },
    ];
    const readings = Array.from({ length: 300 }, (_, k) => ({
      step: 'Gain: Sub',
      value: `${k}.5 V`,
      at: '2026-03-01T10:00:00.000Z',
      conditions: '50 Hz, −3.0 dBFS, volume 34, no load',
    }));
    const sheet = sheetOf(1, { channels: [{ ...channel('Sub'), wiring }], responses, readings });
    const { text, pages } = readBack(await sheetPdf(sheet, 'a4'));
    for (const words of [
      'Amplifier, Sub',
      'coil 1 · 2',
      'Measured response',
      '1.4 dB off what was wanted',
      '4.6 dB before',
      'Supporting readings: 300',
      '0.5 V',
      '299.5 V',
    ])
      expect(text.replaceAll('\u00a0', ' ')).toContain(words);
    expect(pages).toBeGreaterThan(4);
    // What fits a glovebox has none of it.
    expect(readBack(await sheetPdf(sheet, 'card')).text).not.toContain('rests on');
  });

  describe('over HTTP', () => {
    let server: TestServer;
    beforeAll(async () => {
      server = await startTestServer();
      await server.api.post('/api/v1/demo').expect(200);
    });
    afterAll(() => server.close());
    const pdfOf = async (id: string, query = ''): Promise<Buffer> => {
      const answer = await server.api
        .get(`/api/v1/tunes/${id}/sheet.pdf${query}`)
        .buffer(true)
        .expect(200)
        .expect('content-type', 'application/pdf');
      return answer.body as Buffer;
    };

    it('is made of what is stored, and of an empty tune too', async () => {
      expect(readBack(await pdfOf(BUS)).text).toContain('Mobile library bus');
      const id = randomUUID();
      await server.api.post('/api/v1/tunes').send({ id, name: 'Nothing yet', vehicle: '' }).expect(201);
      expect(readBack(await pdfOf(id, '?paper=card')).text).toContain('Nothing yet');
    });

    it('is refused on another paper, and of a tune that is not there', async () => {
      await server.api.get(`/api/v1/tunes/${BUS}/sheet.pdf?paper=a0`).expect(422);
      await server.api.get(`/api/v1/tunes/${randomUUID()}/sheet.pdf`).expect(404);
    });
  });
});

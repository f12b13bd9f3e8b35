import { describe, expect, it } from 'vitest';
import { calibrationDoubt, calibrationOf, readCalibration } from '../../live/calibration.ts';
import { inputProblem } from '../../live/audioInput.ts';
import { triggerIndex } from '../../live/triggered.ts';
import { fromForm, toForm, type FieldSpec } from '../../ui/forms/fields.ts';
import { readCeilingEntry, volumeFault } from './ceilingEntry.ts';

describe('one row of a volume table as it is typed', () => {
  it.each([
    ['2.31', { kind: 'ok', value: 2.31, resolution: 0.01 }],
    ['2,31', { kind: 'ok', value: 2.31 }],
    ['346m', { kind: 'ok', value: 0.346 }],
    ['2.31f', { kind: 'ok', value: 2.31, eye: 'fuzzy' }],
    ['2.31 x', { kind: 'ok', value: 2.31, eye: 'clipped' }],
    ['2.31C', { kind: 'ok', value: 2.31, eye: 'clean' }],
    ['x', { kind: 'ok', value: 0, eye: 'clipped' }],
    ['', { kind: 'empty' }],
    ['-2', { kind: 'fault', message: expect.stringContaining('DC volts') as string }],
    ['two', { kind: 'fault' }],
  ])('%j', (text, wanted) => expect(readCeilingEntry(text)).toMatchObject(wanted));
  it.each([
    ['0', undefined],
    ['35', undefined],
    ['36', 'The scale ends at 35.'],
    ['-1', 'A step of the volume is a whole number.'],
    ['2.5', 'A step of the volume is a whole number.'],
    ['', 'A step of the volume is a whole number.'],
  ])('takes %j for a step of 35: %s', (text, fault) => expect(volumeFault(text, 35)).toBe(fault));
});

describe('a live input’s calibration', () => {
  const input = { label: 'Line in', sampleRateHz: 48_000 };
  it('is what full scale is worth at its peak', () => {
    // A sine of 1.5 V RMS that reads 0.3 of full scale RMS.
    expect(calibrationOf(1.5, 0.3, input)).toEqual({ fullScaleVolt: 5, ...input });
    expect(calibrationOf(1.5, 0, input)).toBeUndefined();
  });
  it('is doubted for another input or another rate', () => {
    const calibration = { fullScaleVolt: 5, ...input };
    expect(calibrationDoubt(calibration, input)).toBeUndefined();
    expect(calibrationDoubt(calibration, { ...input, label: 'Other' })).toContain('“Line in”');
    expect(calibrationDoubt(calibration, { ...input, sampleRateHz: 44_100 })).toContain('now runs at 44100 Hz');
  });
  it('is read back, and nothing else is', () => {
    const calibration = { fullScaleVolt: 5, ...input };
    expect(readCalibration(JSON.stringify(calibration))).toEqual(calibration);
    for (const text of ['', 'x', '{}', '{"fullScaleVolt":"5"}', 'null']) expect(readCalibration(text)).toBeUndefined();
  });
});

describe('a live input that will not open', () => {
  it.each([
    ['NotAllowedError', 'may not use the audio input'],
    ['NotFoundError', 'No audio input is connected'],
    ['OverconstrainedError', 'No audio input is connected'],
    ['NotReadableError', 'Another program is using'],
    ['TypeError', 'could not be opened'],
  ])('%s is put in words', (name, words) => {
    const error = Object.assign(new Error('x'), { name });
    expect(inputProblem(error).message).toContain(words);
    expect(inputProblem(error).next.length).toBeGreaterThan(20);
  });
});

describe('the trigger', () => {
  const sine = (offset: number): Float32Array =>
    Float32Array.from({ length: 400 }, (_, n) => 0.3 + Math.sin((2 * Math.PI * (n + offset)) / 100));
  it.each([0, 10, 37, 99])('finds the rising crossing of the middle, whatever the phase: %i', (offset) => {
    const index = triggerIndex(sine(offset), 200);
    expect((index + offset) % 100).toBeLessThanOrEqual(1);
  });
  it('begins at the first sample where nothing crosses', () => expect(triggerIndex(new Float32Array(400), 200)).toBe(0));
});

describe('several choices in a form', () => {
  const fields: FieldSpec<{ inputs?: string[]; used: boolean; feeds?: string }>[] = [
    { kind: 'flags', name: 'inputs', label: 'x', choices: [{ value: 'disc', label: 'Disc' }] },
    { kind: 'choice', name: 'used', label: 'x', as: 'boolean', choices: [] },
    { kind: 'choice', name: 'feeds', label: 'x', optional: true, choices: [] },
  ];
  it.each([[{ inputs: ['disc', 'phone'], used: true, feeds: 'a' }], [{ used: false }]])('come back as they were: %j', (record) => {
    expect(fromForm(fields, {}, toForm(fields, record))).toEqual({ record, faults: [] });
  });
});

import type { Channel, Source } from '@yield/core';
import { describe, expect, it } from 'vitest';
import { AMPLIFIER_FIELDS, channelFields, SOURCE_FIELDS } from './chain/chainFields.ts';
import { moved, zoomed } from './trace/view.ts';
import { differences } from './ui/differences.ts';
import { fromForm, pathOf, readFormValues, toForm } from './ui/forms/fields.ts';
import { readKept } from './ui/useKept.ts';

describe('a form', () => {
  const source: Source = { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured', outputVolt: 3.1, isFactory: false };

  it('gives back the record that it was filled with, left-out fields left out', () => {
    expect(fromForm(SOURCE_FIELDS, {}, toForm(SOURCE_FIELDS, source))).toEqual({ record: source, faults: [] });
  });

  it('keeps the ids of list items and reads units, commas and choices', () => {
    const channel: Omit<Channel, 'id'> = {
      name: 'Left',
      amplifierId: 'a',
      terminals: 'L',
      mode: 'stereo',
      band: 'bass',
      loadOhm: 2,
      drivers: [{ id: 'd1', name: 'Sub', coils: 2, coilOhm: 4, ratedPowerWatt: 300 }],
    };
    const fields = channelFields([{ id: 'a', name: 'A' }]);
    const form = toForm(fields, channel);
    form.loadOhm = '2,0 ohm';
    expect(fromForm(fields, {}, form)).toEqual({ record: channel, faults: [] });
  });

  it('points at every fault, inside lists too', () => {
    const form = toForm(AMPLIFIER_FIELDS, { name: '', terminalPairs: 1, ratings: [{ mode: 'stereo', loadOhm: 4 }] });
    form.minimumStereoOhm = 'two';
    const { faults } = fromForm(AMPLIFIER_FIELDS, {}, form);
    expect(faults.map(({ pointer }) => pointer)).toEqual(['/name', '/minimumStereoOhm', '/ratings/0/powerWatt']);
    expect(pathOf('/ratings/0/powerWatt')).toBe('ratings.0.powerWatt');
  });

  it('leaves alone what it does not show, in items of lists too', () => {
    const driver = { id: 'd1', name: 'Sub', coils: 2, coilOhm: 4, ratedPowerWatt: 300, tuningHz: 32, inductanceHenry: 1e-3 } as const;
    const channel: Channel = {
      id: 'c',
      name: 'Bass',
      amplifierId: 'a',
      terminals: 'L',
      mode: 'stereo',
      band: 'bass',
      loadOhm: 2,
      drivers: [driver],
      toneHz: 50,
      filters: [],
    };
    const fields = channelFields([{ id: 'a', name: 'A' }]);
    const form = toForm(fields, channel);
    form.name = 'Bass, rear';
    expect(fromForm(fields, channel, form).record).toEqual({ ...channel, name: 'Bass, rear' });
    // Emptied is gone, though it was there before.
    (form.drivers as Record<string, string>[])[0]!.sensitivityDb = '';
    expect(fromForm(fields, { ...channel, drivers: [{ ...driver, sensitivityDb: 90 }] }, form).record.drivers).toEqual([driver]);
  });

  it('wants whole volume steps', () => {
    const form = toForm(SOURCE_FIELDS, { ...source, workingVolume: 30.5 });
    expect(fromForm(SOURCE_FIELDS, source, form).faults).toEqual([{ pointer: '/workingVolume', message: 'Enter a whole number.' }]);
  });
});

describe('what this browser kept', () => {
  const figures = (kept: unknown): number[] | undefined =>
    Array.isArray(kept) && kept.every(Number.isFinite) ? (kept as number[]) : undefined;
  it.each([
    ['', undefined],
    ['[1,2]', [1, 2]],
    ['{"of":"another version"}', undefined],
    ['[1,', undefined],
  ])('is read where it has its shape, and let go of where it has not: %s', (text, wanted) => {
    expect(readKept(text, figures)).toEqual(wanted);
  });
  it('of a form is let go of where the form has other fields now', () => {
    const fields = [{ kind: 'text', name: 'name', label: 'x' }] as const;
    expect(readFormValues({ name: 'a' }, fields)).toEqual({ name: 'a' });
    for (const kept of [{ title: 'a' }, { name: 3 }, null, []]) expect(readFormValues(kept, fields)).toBeUndefined();
  });
});

describe('the view of a trace', () => {
  const total = 10_000_000;
  it('zooms around the pointer and stays within the record', () => {
    expect(zoomed({ from: 0, to: 1000 }, 0.5, 0.5, total)).toEqual({ from: 250, to: 750 });
    expect(zoomed({ from: 0, to: 1000 }, 2, 0.5, total)).toEqual({ from: 0, to: 2000 });
    expect(zoomed({ from: 0, to: total }, 2, 0.5, total)).toEqual({ from: 0, to: total });
    expect(zoomed({ from: 100, to: 120 }, 0.1, 0, total)).toEqual({ from: 100, to: 116 });
  });
  it('stops at both ends', () => {
    expect(moved({ from: 100, to: 200 }, -5, total)).toEqual({ from: 0, to: 100 });
    expect(moved({ from: 100, to: 200 }, 1e9, total)).toEqual({ from: total - 100, to: total });
  });
});

describe('differences', () => {
  it('names each leaf that differs, counted as people count', () => {
    expect(differences({ a: 1, list: [{ x: 'p' }, { x: 'q' }] }, { a: 1, list: [{ x: 'p' }, { x: 'r' }] })).toEqual([
      { path: '2, x', mine: 'q', theirs: 'r' },
    ]);
  });
  it('says where in the words of the trade, with names and units', () => {
    const chain = (loadOhm: number, isReversed?: boolean) => ({
      channels: [{ name: 'Front left', loadOhm, ...(isReversed === undefined ? {} : { isReversed }) }],
    });
    expect(differences(chain(4), chain(2, true))).toEqual([
      { path: 'Front left, load', mine: '4\u00a0Ω', theirs: '2\u00a0Ω' },
      { path: 'Front left, plus and minus changed over', mine: '(nothing)', theirs: 'yes' },
    ]);
  });
  it('rounds what a computer keeps to what people read', () => {
    expect(differences({ loadOhm: 4 / 3 }, { loadOhm: 8 / 3 })).toEqual([{ path: 'load', mine: '1.33\u00a0Ω', theirs: '2.67\u00a0Ω' }]);
  });
  it('says what is missing on one side', () => {
    expect(differences({ fuse: 30 }, {})).toEqual([{ path: 'fuse', mine: '30', theirs: '(nothing)' }]);
    expect(differences({}, { amps: [{ name: 'Mono' }] })[0]!.path).toBe('amps');
  });
});

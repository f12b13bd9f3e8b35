import { describe, expect, it } from 'vitest';
import { AMPLIFIER_FIELDS, channelFields, SOURCE_FIELDS } from './chain/chainFields.ts';
import { moved, zoomed } from './trace/view.ts';
import { differences } from './ui/differences.ts';
import { fromForm, pathOf, toForm } from './ui/forms/fields.ts';

describe('a form', () => {
  const source = { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured', outputVolt: 3.1, isFactory: false };

  it('gives back the record that it was filled with, left-out fields left out', () => {
    expect(fromForm(SOURCE_FIELDS, toForm(SOURCE_FIELDS, source))).toEqual({ record: source, faults: [] });
  });

  it('keeps the ids of list items and reads units, commas and choices', () => {
    const channel = {
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
    expect(fromForm(fields, form)).toEqual({ record: channel, faults: [] });
  });

  it('points at every fault, inside lists too', () => {
    const form = toForm(AMPLIFIER_FIELDS, { name: '', terminalPairs: 1, ratings: [{ mode: 'stereo', loadOhm: 4 }] });
    form.minimumStereoOhm = 'two';
    const { faults } = fromForm(AMPLIFIER_FIELDS, form);
    expect(faults.map(({ pointer }) => pointer)).toEqual(['/name', '/minimumStereoOhm', '/ratings/0/powerWatt']);
    expect(pathOf('/ratings/0/powerWatt')).toBe('ratings.0.powerWatt');
  });

  it('wants whole volume steps', () => {
    const form = toForm(SOURCE_FIELDS, { ...source, workingVolume: 30.5 });
    expect(fromForm(SOURCE_FIELDS, form).faults).toEqual([{ pointer: '/workingVolume', message: 'A whole number is wanted here.' }]);
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
      { path: 'list 2 x', mine: 'q', theirs: 'r' },
    ]);
  });
  it('says what is missing on one side', () => {
    expect(differences({ fuse: 30 }, {})).toEqual([{ path: 'fuse', mine: '30', theirs: '(nothing)' }]);
    expect(differences({}, { amps: [{ name: 'Mono' }] })[0]!.path).toBe('amps');
  });
});

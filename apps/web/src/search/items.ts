import type { GearRow, TuneListRow } from '@yield/contract';
import { formatQuantity, KINDS, kindOfStep, type ReadingIntake } from '@yield/core';
import { GLOSSARY, termId } from '@yield/words';
import { guidePath } from '../guide/guidePath.ts';
import { SECTIONS } from '../guide/sections.ts';
import { pathToNext, type TuneRun } from '../tune/useTuneRun.ts';
import type { Found } from './finder.ts';

/** Screens that need no tune, and what each kind of step is for. */
export const generalItems = (): Found[] => [
  { id: 'go/tunes', kind: 'go to', title: 'Tunes', words: 'all jobs', to: '/', rank: 20 },
  { id: 'go/gear', kind: 'go to', title: 'Gear', words: 'sources, processors, amplifiers and drivers of the shop', to: '/gear', rank: 21 },
  {
    id: 'go/loads',
    kind: 'go to',
    title: 'Load planner',
    words: 'wirings, powers and other calculations without a tune',
    to: '/loads',
    rank: 22,
  },
  { id: 'go/tones', kind: 'go to', title: 'Test tones', words: 'sines, sweeps, pink noise, pulses as files', to: '/tones', rank: 23 },
  { id: 'go/shop', kind: 'go to', title: 'House rules of the shop', words: 'meter, microphone, house curve', to: '/shop', rank: 24 },
  { id: 'go/guide', kind: 'go to', title: 'Guide', words: 'stage by stage, formulas, glossary', to: '/guide', rank: 25 },
  ...KINDS.map(({ kind, title, help, stage }): Found => ({
    id: `help/${kind}`,
    kind: 'help',
    title: `What is ${title}?`,
    words: help,
    to: guidePath(stage),
  })),
];

export const tuneItems = (tunes: readonly TuneListRow[]): Found[] =>
  tunes.map(({ id, name, vehicle }) => ({ id: `tune/${id}`, kind: 'tune', title: name, words: vehicle, to: `/tunes/${id}` }));

export const gearItems = (gear: readonly GearRow[]): Found[] =>
  gear.map(({ id, kind, name }) => ({
    id: `gear/${kind}/${id}`,
    kind,
    title: name,
    words: '',
    to: `/gear?find=${encodeURIComponent(name)}`,
  }));

export const guideItems = (): Found[] => [
  ...SECTIONS.map(({ id, title, plain }): Found => ({ id: `guide/${id}`, kind: 'guide', title, words: plain, to: `/guide#${id}` })),
  ...GLOSSARY.map(({ term, meaning }): Found => ({
    id: `term/${term}`,
    kind: 'term',
    title: term,
    words: meaning,
    to: `/guide#${termId(term)}`,
  })),
];

/** Steps, readings and captures of the tune at hand, and what can be done on it. */
export function runItems(
  run: TuneRun,
  does: { toggleBench: () => void; voidIt: (of: 'reading' | 'trace', id: string, reason: string) => void },
): Found[] {
  const { tune, steps } = run;
  const base = `/tunes/${tune.id}`;
  const titleOf = (stepId: string): string => steps.find(({ id }) => id === stepId)?.title ?? kindOfStep(stepId)?.title ?? stepId;
  const figureOf = ({ stepId, kind, value }: (typeof tune.readings)[number]): string => {
    const intake = kindOfStep(stepId)?.intakes.find((each): each is ReadingIntake => each.type === 'reading' && each.kind === kind);
    return formatQuantity(value, intake?.unit ?? 'V');
  };
  const counted = run.now.records.readings.filter(({ voidedReason }) => voidedReason === undefined);
  const last = [...counted].sort((a, b) => (a.takenAt < b.takenAt ? 1 : -1))[0];
  const views = [
    ['chain', 'Chain', 'what is in the vehicle'],
    ['crossovers', 'Crossovers', 'filters of all ways'],
    ['findings', 'Findings', 'everything that is wrong, worst first'],
    ['tones', 'Tones of this tune', 'what its steps play'],
    ['sheet', 'Owner’s sheet', 'sign, print, PDF'],
    ['history', 'History', 'every change'],
    ['settings', 'House rules of this tune', 'and its meter'],
  ] as const;
  return [
    { id: 'do/next', kind: 'do', title: 'What wants doing next', words: 'the step that is next', to: pathToNext(run, tune.id), rank: 0 },
    ...(last === undefined
      ? []
      : [
          {
            id: 'do/void',
            kind: 'do',
            title: `Void the last reading: ${figureOf(last)}`,
            words: titleOf(last.stepId),
            run: () => does.voidIt('reading', last.id, 'typed or taken wrongly'),
            rank: 2,
          },
        ]),
    { id: 'do/bench', kind: 'do', title: 'Simulated bench', words: 'open or close it', run: does.toggleBench, rank: 3 },
    ...views.map(([path, title, words], k): Found => ({
      id: `view/${path}`,
      kind: 'go to',
      title,
      words,
      to: `${base}/${path}`,
      rank: 4 + k,
    })),
    ...steps.map(({ id, title, words }): Found => ({ id: `step/${id}`, kind: 'step', title, words: words.where, to: `${base}/run/${id}` })),
    ...run.now.records.readings.map((reading): Found => ({
      id: `reading/${reading.id}`,
      kind: 'reading',
      title: figureOf(reading),
      words: `${titleOf(reading.stepId)}${reading.voidedReason === undefined ? '' : ', void'}`,
      to: `${base}/run/${reading.stepId}`,
    })),
    ...run.now.records.traces.map(({ id, fileName, stepId }): Found => ({
      id: `capture/${id}`,
      kind: 'capture',
      title: fileName,
      words: titleOf(stepId),
      to: `${base}/traces/${id}`,
    })),
  ];
}

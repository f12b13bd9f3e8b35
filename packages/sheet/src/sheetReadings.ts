import {
  type Conditions,
  fixed,
  formatQuantity,
  OVERLOAD_OHM,
  type ReadingIntake,
  recordsAt,
  type RunStep,
  type Situation,
} from '@yield/core';

/** One figure that the sheet rests on, and what held when it was read. */
export interface SheetReading {
  step: string;
  value: string;
  /** ISO 8601 */
  at: string;
  conditions: string;
}

/** Every reading and capture that counts, in the order of the run. Void ones are in the record, not here. */
export function sheetReadings(now: Situation, steps: readonly RunStep[]): SheetReading[] {
  return steps.flatMap(({ id, title, kind }) => {
    const { readings, traces } = recordsAt(now, id);
    const unitOf = (of: string) => kind.intakes.find((each): each is ReadingIntake => each.type === 'reading' && each.kind === of)?.unit;
    return [
      ...readings.map(({ kind: of, value, takenAt, conditions }): SheetReading => {
        const unit = unitOf(of);
        const words = value >= OVERLOAD_OHM ? 'OL' : unit === undefined ? `${value}` : formatQuantity(value, unit);
        return { step: title, value: words, at: takenAt, conditions: conditionWords(conditions) };
      }),
      ...traces.map(({ fileName, takenAt, conditions }): SheetReading => ({
        step: title,
        value: `capture ${fileName}`,
        at: takenAt,
        conditions: conditionWords(conditions),
      })),
    ].sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0));
  });
}

/** What held, in a line. */
export function conditionWords(conditions: Conditions): string {
  const simulated = conditions.isSimulated === true ? ['simulated'] : [];
  if (conditions.at === 'ohm') {
    const { nominalOhm, leadOhm } = conditions;
    return [`nominal ${formatQuantity(nominalOhm, 'ohm')}`, `leads ${formatQuantity(leadOhm, 'ohm')}`, ...simulated].join(', ');
  }
  const { toneHz, toneLevelDbfs, sourceVolume, at } = conditions;
  const sweep = at !== 'load' && conditions.sweep !== undefined;
  return [
    sweep ? 'sweep' : formatQuantity(toneHz, 'Hz'),
    `${fixed(toneLevelDbfs, 1)} dBFS`,
    `volume ${sourceVolume}`,
    ...(at === 'load' ? [conditions.load === 'on' ? `load ${formatQuantity(conditions.loadOhm, 'ohm')}` : 'no load'] : []),
    ...(at === 'air' ? [conditions.sweep?.labels.join(', ') ?? conditions.position] : []),
    ...simulated,
  ].join(', ');
}

import { formatQuantity, OVERLOAD_OHM, plainFigure, type Cause, type CauseKind, type MeterDiagnosis, type OhmBand } from '@yield/core';
import type { JSX } from 'react';
import { GradeMark } from '../ui/StatusMark.tsx';

const CAUSE: Record<CauseKind, string> = {
  'as-intended': 'as intended',
  'other-wiring': 'other wiring',
  'one-coil-only': 'one coil only',
  'driver-missing': 'driver missing',
  'coil-open': 'open coil',
  short: 'short',
  open: 'open circuit',
  'leads-not-subtracted': 'leads not taken off',
};

const VERDICT: Record<MeterDiagnosis['verdict'], { grade: 'good' | 'attention' | 'stop'; words: string }> = {
  matches: { grade: 'good', words: 'As intended' },
  differs: { grade: 'attention', words: 'Not as intended' },
  open: { grade: 'attention', words: 'Open: no path' },
  short: { grade: 'stop', words: 'Short' },
};

const MAX_CAUSES = 5;

interface Props {
  expected: OhmBand;
  diagnosis?: MeterDiagnosis;
  meterOhm?: number;
  leadOhm: number;
}

/** What the meter should read, what it reads, and the verdict. */
export function DiagnosisFigures({ expected, diagnosis, meterOhm, leadOhm }: Props): JSX.Element {
  const verdict = diagnosis === undefined ? undefined : VERDICT[diagnosis.verdict];
  return (
    <div className="flex min-w-0 flex-wrap items-end gap-x-8 gap-y-3">
      <div>
        <p className="label">Should read, leads taken off</p>
        <p className={`font-semibold whitespace-nowrap ${diagnosis === undefined ? 'text-4xl' : 'text-2xl'}`}>{bandWords(expected)}</p>
      </div>
      {diagnosis !== undefined && meterOhm !== undefined && verdict !== undefined && (
        <>
          <div>
            <p className="label">Reads{leadOhm > 0 && `, ${plainFigure(leadOhm)} Ω taken off`}</p>
            <p className="figure whitespace-nowrap">{meterOhm >= OVERLOAD_OHM ? 'OL' : formatQuantity(diagnosis.coilsOhm, 'ohm')}</p>
          </div>
          <p className="flex items-center gap-2.5 pb-1 text-xl font-semibold">
            <GradeMark grade={verdict.grade} size={24} /> {verdict.words}
          </p>
        </>
      )}
    </div>
  );
}

/** Where the reading lies on the scale, and the likeliest causes with the figures they would give. */
export function DiagnosisView({
  expected,
  diagnosis,
  isNearest = false,
}: Pick<Props, 'expected' | 'diagnosis'> & {
  /** none of the causes gives the figure: they are only the nearest */
  isNearest?: boolean;
}): JSX.Element {
  const causes = diagnosis?.verdict === 'matches' ? diagnosis.causes.slice(1, 3) : (diagnosis?.causes.slice(0, MAX_CAUSES) ?? []);
  return (
    <div className="min-w-0 space-y-4" aria-live="polite" data-testid="diagnosis">
      <ResistanceScale expected={expected} causes={causes} {...(diagnosis === undefined ? {} : { ohm: diagnosis.coilsOhm })} />
      {causes.length > 0 && (
        <section aria-label="Likely causes">
          <h3 className="text-sm font-semibold">{headingOf(diagnosis?.verdict === 'matches', isNearest)}</h3>
          <ol className="divide-line border-line mt-2 divide-y border-y">
            {causes.map((cause, i) => (
              <li
                key={`${cause.kind} ${cause.expectedOhm}`}
                className="grid grid-cols-[1.5rem_5.5rem_minmax(0,1fr)] items-baseline gap-x-3 py-2.5"
              >
                <span className="text-quiet">{i + 1}</span>
                <span className="text-right font-semibold whitespace-nowrap">
                  {cause.kind === 'open' ? 'OL' : formatQuantity(cause.expectedOhm, 'ohm')}
                </span>
                <span className="min-w-0 leading-snug">
                  <span className="font-medium">{CAUSE[cause.kind]}.</span> {cause.note}
                </span>
              </li>
            ))}
          </ol>
        </section>
      )}
      {diagnosis?.notes.map((note) => (
        <p key={note} className="text-quiet flex max-w-prose gap-2.5 text-sm leading-snug">
          <span className="pt-0.5">
            <GradeMark grade="note" size={16} />
          </span>
          {note}
        </p>
      ))}
    </div>
  );
}

function headingOf(isAsIntended: boolean, isNearest: boolean): string {
  if (isAsIntended) return 'These would read the same on this meter';
  return isNearest ? 'Closest single faults (none matches this reading)' : 'Likely causes, most likely first';
}

export function bandWords({ low, high }: OhmBand): string {
  return `${formatQuantity(low, 'ohm').replace(/\s*Ω$/, '')} to ${formatQuantity(high, 'ohm')}`;
}

/** One scale for the band, the reading and the causes, in even steps of ratio: a coil more or less is the same distance everywhere. */
function ResistanceScale({ expected, ohm, causes }: { expected: OhmBand; ohm?: number; causes: readonly Cause[] }): JSX.Element {
  const figures = [
    expected.low,
    expected.high,
    ...causes.map(({ expectedOhm }) => expectedOhm),
    ...(ohm === undefined ? [] : [ohm]),
  ].filter((figure) => figure > 0.01 && figure < 1e3);
  const low = Math.log(Math.min(...figures) / 1.6);
  const high = Math.log(Math.max(...figures) * 1.6);
  const at = (figure: number): string => `${Math.max(0, Math.min(100, (100 * (Math.log(Math.max(figure, 1e-3)) - low)) / (high - low)))}%`;
  const width = `${(100 * Math.log(expected.high / Math.max(expected.low, 0.01))) / (high - low)}%`;
  return (
    <div className="relative h-12 max-w-2xl" aria-hidden>
      <div className="bg-line absolute top-5 h-0.5 w-full" />
      <div className="bg-good/25 border-good absolute top-2 h-6 rounded-sm border-x-2" style={{ left: at(expected.low), width }} />
      {marksOf(causes).map(({ expectedOhm, numbers }) => (
        <span key={expectedOhm} className="absolute top-3.5 -translate-x-1/2 text-center" style={{ left: at(expectedOhm) }}>
          <span className="bg-quiet mx-auto block h-3.5 w-0.5" />
          <span className="text-quiet block text-xs whitespace-nowrap">{numbers.join(', ')}</span>
        </span>
      ))}
      {ohm !== undefined && ohm < 1e3 && (
        <span className="absolute top-0 -translate-x-1/2" style={{ left: at(ohm) }}>
          <svg width="18" height="22" viewBox="0 0 18 22">
            <path d="M1 1h16L9 13zM9 13v9" fill="var(--action)" stroke="var(--action)" strokeWidth="2" />
          </svg>
        </span>
      )}
    </div>
  );
}

/** Causes whose figures nearly meet share one mark. */
function marksOf(causes: readonly Cause[]): { expectedOhm: number; numbers: number[] }[] {
  const marks: { expectedOhm: number; numbers: number[] }[] = [];
  causes.forEach(({ expectedOhm }, i) => {
    if (expectedOhm <= 0.01 || expectedOhm >= 1e3) return;
    const near = marks.find((mark) => Math.abs(Math.log(mark.expectedOhm / expectedOhm)) < 0.06);
    if (near === undefined) marks.push({ expectedOhm, numbers: [i + 1] });
    else near.numbers.push(i + 1);
  });
  return marks;
}

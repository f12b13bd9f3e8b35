import { equaliserResponse, fixed, formatQuantity, readCurve, signedDb, type EqualiserFit, type EqualiserFitInput } from '@yield/core';
import { Save } from 'lucide-react';
import { useId, useMemo, useState, type JSX } from 'react';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { GradedLine } from '../ui/FindingLine.tsx';
import { QuantityField } from '../ui/QuantityField.tsx';
import { saveFile } from '../ui/saveFile.ts';
import { useDraft, useQuantityDraft } from '../ui/useDraft.ts';
import { useFit } from '../workers/useFit.ts';
import { bandsCsv, leftFinding } from './fitWords.ts';
import { FitPicture } from './FitPicture.tsx';

const EXAMPLE = '20 74\n25 79\n31.5 84\n40 88\n50 86\n63 81\n80 78\n100 77\n125 79\n160 84\n200 82\n250 78\n315 77\n400 77';
const OCTAVES = [31.5, 63, 125, 250, 500, 1000, 2000, 4000, 8000, 16_000];
type Kind = EqualiserFitInput['equaliser']['kind'];

/** Filters that even a measured response out, as far as that is wise; each can be switched off, its effect seen at once. */
export function EqualiserTool(): JSX.Element {
  const id = useId();
  const [text, setText] = useDraft('desk/response', EXAMPLE);
  const [kind, setKind] = useDraft('desk/equaliser', 'parametric');
  const from = useQuantityDraft('desk/fit-from', 'Hz', '25');
  const to = useQuantityDraft('desk/fit-to', 'Hz', '300');
  const bands = useQuantityDraft('desk/fit-bands', 'step', '5');
  const boost = useQuantityDraft('desk/fit-boost', 'dB', '3', -1e-9);
  const cut = useQuantityDraft('desk/fit-cut', 'dB', '12', -1e-9);
  const curve = useMemo(() => readCurve(text), [text]);
  const input = useMemo((): EqualiserFitInput | undefined => {
    const given = [from.value, to.value, bands.value, boost.value, cut.value];
    if (curve.faults.length > 0 || given.some((value) => value === undefined)) return undefined;
    return {
      response: { frequenciesHz: curve.frequenciesHz, levelDb: curve.levelDb },
      fromHz: from.value!,
      toHz: to.value!,
      equaliser:
        kind === 'graphic'
          ? { kind: 'graphic', centresHz: OCTAVES, q: 1.4 }
          : { kind: 'parametric', bands: Math.max(1, Math.min(32, Math.round(bands.value!))) },
      maxBoostDb: boost.value!,
      maxCutDb: cut.value!,
    };
  }, [curve, kind, from.value, to.value, bands.value, boost.value, cut.value]);
  const { fit, faults, isBusy } = useFit(input);
  return (
    <div className="grid grid-cols-1 gap-8 lg:grid-cols-[19rem_minmax(0,1fr)]">
      <div className="panel space-y-4 self-start">
        <div>
          <label htmlFor={id} className="label mb-1 block">
            Response: frequency and decibels, a line for each
          </label>
          <textarea
            id={id}
            className="textarea min-h-48 w-full font-mono"
            spellCheck={false}
            value={text}
            aria-invalid={curve.faults.length > 0}
            onChange={(event) => setText(event.target.value)}
          />
          {curve.faults.length > 0 && (
            <ul role="alert" className="text-stop mt-1 text-sm">
              {curve.faults.slice(0, 4).map(({ message }) => (
                <li key={message}>{message}</li>
              ))}
            </ul>
          )}
        </div>
        <ChoiceField<Kind>
          label="Equaliser"
          value={kind === 'graphic' ? 'graphic' : 'parametric'}
          choices={[
            { value: 'parametric', label: 'Parametric' },
            { value: 'graphic', label: 'Graphic, octaves' },
          ]}
          onChange={setKind}
        />
        <div className="grid grid-cols-2 gap-3">
          <QuantityField label="From" unit="Hz" draft={from} />
          <QuantityField label="To" unit="Hz" draft={to} />
          <QuantityField label="Most boost" unit="dB" draft={boost} />
          <QuantityField label="Most cut" unit="dB" draft={cut} />
          {kind !== 'graphic' && <QuantityField label="Bands" unit="step" draft={bands} />}
        </div>
        {faults.map(({ message }) => (
          <p key={message} role="alert" className="text-stop text-sm">
            {message}
          </p>
        ))}
      </div>
      {fit === undefined || input === undefined ? (
        <p className="text-quiet">{isBusy ? 'Working it out …' : 'Paste a response and enter the range to correct.'}</p>
      ) : (
        <Proposal key={JSON.stringify(fit.filters)} input={input} fit={fit} />
      )}
    </div>
  );
}

function Proposal({ input, fit }: { input: EqualiserFitInput; fit: EqualiserFit }): JSX.Element {
  const [off, setOff] = useState<ReadonlySet<number>>(new Set());
  const { frequenciesHz, levelDb } = input.response;
  const after = useMemo(() => {
    const out = fit.filters.filter((_, i) => off.has(i));
    if (out.length === 0) return fit.correctedDb;
    const { magnitudeDb } = equaliserResponse({ filters: out, frequenciesHz });
    return fit.correctedDb.map((db, i) => db - magnitudeDb[i]!);
  }, [fit, off, frequenciesHz]);
  const used = fit.filters.filter(({ gainDb }) => gainDb !== 0);
  const boosts = Math.max(0, ...used.map(({ gainDb }) => gainDb));
  return (
    <div className="min-w-0 space-y-5">
      <p className="text-3xl font-semibold" data-testid="fit">
        {fixed(fit.beforeDb, 1)} dB off level before, {fixed(fit.afterDb, 1)} dB after
      </p>
      <FitPicture frequenciesHz={frequenciesHz} before={levelDb} after={after} range={{ from: input.fromHz, to: input.toHz }} />
      {used.length === 0 ? (
        <p>Nothing to even out here.</p>
      ) : (
        <table className="w-full max-w-2xl text-left">
          <thead>
            <tr className="text-quiet text-sm">
              <th className="py-1 pr-4 font-medium">On</th>
              <th className="px-3 text-right font-medium">Frequency</th>
              <th className="px-3 text-right font-medium">Gain</th>
              <th className="px-3 text-right font-medium">Q</th>
            </tr>
          </thead>
          <tbody className="divide-line border-line divide-y border-y">
            {fit.filters.map((filter, i) =>
              filter.gainDb === 0 ? null : (
                <tr key={filter.frequencyHz}>
                  <td className="pr-4">
                    <label className="flex min-h-11 cursor-pointer items-center gap-3">
                      <input
                        type="checkbox"
                        className="checkbox"
                        aria-label={`Filter at ${formatQuantity(filter.frequencyHz, 'Hz')}`}
                        checked={!off.has(i)}
                        onChange={() => setOff(new Set(off.has(i) ? [...off].filter((k) => k !== i) : [...off, i]))}
                      />
                    </label>
                  </td>
                  <td className="px-3 text-right font-medium">{formatQuantity(filter.frequencyHz, 'Hz')}</td>
                  <td className="px-3 text-right">{signedDb(filter.gainDb)}</td>
                  <td className="px-3 text-right">{fixed(filter.q, 2)}</td>
                </tr>
              ),
            )}
          </tbody>
        </table>
      )}
      <div className="space-y-2">
        {boosts > 0 && (
          <GradedLine
            grade="note"
            text={`Boosts take ${formatQuantity(boosts, 'dB')} of headroom at their frequencies.`}
            next="After a boost the gains and ceilings behind it want another look."
          />
        )}
        {fit.left.map((stretch) => (
          <GradedLine key={`${stretch.reason} ${stretch.fromHz}`} {...leftFinding(stretch)} />
        ))}
      </div>
      {used.length > 0 && (
        <button type="button" className="btn btn-tall" onClick={() => saveFile(bandsCsv(used), 'equaliser.csv', 'text/csv')}>
          <Save size={18} aria-hidden /> Save as CSV
        </button>
      )}
    </div>
  );
}

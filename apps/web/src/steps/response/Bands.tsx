import { type EqualiserFilter } from '@yield/core';
import { Plus } from 'lucide-react';
import type { JSX } from 'react';

/** A band of the table: as it is set, or switched off for the ear. */
export interface TriedBand extends EqualiserFilter {
  isOff?: boolean;
}

/** What a band lifts or takes at most. */
export const BAND_DB = [-24, 12] as const;

const FIELDS = [
  { name: 'frequencyHz', words: 'Frequency', unit: 'Hz', step: 1, min: 10, max: 20_000 },
  { name: 'gainDb', words: 'Gain', unit: 'dB', step: 0.5, min: BAND_DB[0], max: BAND_DB[1] },
  { name: 'q', words: 'Q', unit: '', step: 0.1, min: 0.1, max: 20 },
] as const;
const NEW_BAND: EqualiserFilter = { kind: 'peak', frequencyHz: 100, gainDb: -3, q: 2 };

/** Bands, each on or off and changed by hand or key; what changes is seen at once in the picture. */
export function Bands({
  bands,
  most,
  onChange,
}: {
  bands: readonly TriedBand[];
  most: number;
  onChange: (bands: TriedBand[]) => void;
}): JSX.Element {
  const change = (index: number, changes: Partial<TriedBand>): void =>
    onChange(bands.map((band, k) => (k === index ? { ...band, ...changes } : band)));
  return (
    <div className="max-w-2xl">
      {bands.length > 0 && (
        <table className="w-full text-left">
          <thead>
            <tr className="text-quiet text-sm">
              <th className="py-1 pr-3 font-medium">On</th>
              {FIELDS.map(({ name, words, unit }) => (
                <th key={name} className="px-2 font-medium">
                  {words}
                  {unit === '' ? '' : `, ${unit}`}
                </th>
              ))}
            </tr>
          </thead>
          <tbody className="divide-line border-line divide-y border-y">
            {bands.map((band, index) => (
              <tr key={index}>
                <td className="pr-3">
                  <label className="flex min-h-11 cursor-pointer items-center">
                    <input
                      type="checkbox"
                      className="checkbox"
                      aria-label={`Band ${index + 1}`}
                      checked={band.isOff !== true}
                      onChange={(event) => change(index, { isOff: !event.target.checked })}
                    />
                  </label>
                </td>
                {FIELDS.map(({ name, words, step, min, max }) => (
                  <td key={name} className="px-2 py-1">
                    <input
                      type="number"
                      className="input min-h-11 w-full max-w-28"
                      aria-label={`${words} of band ${index + 1}`}
                      value={band[name]}
                      step={step}
                      min={min}
                      max={max}
                      onChange={(event) => {
                        const value = Number(event.target.value);
                        if (event.target.value !== '' && value >= min && value <= max) change(index, { [name]: value });
                      }}
                    />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {bands.length < most && (
        <button type="button" className="btn btn-ghost text-action mt-1 -ml-3" onClick={() => onChange([...bands, NEW_BAND])}>
          <Plus size={18} aria-hidden /> A band by hand
        </button>
      )}
    </div>
  );
}

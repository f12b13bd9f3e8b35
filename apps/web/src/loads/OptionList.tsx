import { formatQuantity, networkWords, significant, type LoadCoil, type PlannedWiring } from '@yield/core';
import { useState, type JSX } from 'react';
import { GradeMark } from '../ui/StatusMark.tsx';

/** The wirings from the lowest load to the highest: load, what the amplifier makes, and the verdict by shape and word. */
export function OptionList({
  wirings,
  coils,
  selected,
  onSelect,
  bare,
}: {
  wirings: readonly PlannedWiring[];
  coils: readonly LoadCoil[];
  selected: string | undefined;
  onSelect: (network: string) => void;
  /** a resistor stands before them that these loads do not count */
  bare: boolean;
}): JSX.Element {
  const unequal = wirings.filter(({ balanced }) => !balanced);
  const allUnequal = unequal.length === wirings.length;
  const [withUnequal, setWithUnequal] = useState(false);
  const shown = wirings.filter(({ balanced, network }) => balanced || allUnequal || withUnequal || network === selected);
  const most = Math.max(...wirings.map(({ usableWatt, hookup }) => (hookup.verdict === 'below-minimum' ? 0 : (usableWatt ?? 0))));
  return (
    <fieldset className="min-w-0">
      <legend className="text-sm font-semibold">
        {shown.length === 1 ? 'One way to wire it' : `${shown.length} ways to wire it`}, by load{bare && ', without the resistor'}
      </legend>
      <div className="border-line divide-line mt-2 max-h-[32rem] divide-y overflow-y-auto border-y max-lg:max-h-80">
        {shown.map((wiring) => (
          <Option
            key={wiring.network}
            wiring={wiring}
            coils={coils}
            most={most}
            checked={wiring.network === selected}
            onSelect={() => onSelect(wiring.network)}
          />
        ))}
      </div>
      {unequal.length > 0 && !allUnequal && (
        <label className="mt-1 flex min-h-11 cursor-pointer items-center gap-2.5 text-sm">
          <input
            type="checkbox"
            className="checkbox checkbox-primary checkbox-sm"
            checked={withUnequal}
            onChange={(event) => setWithUnequal(event.target.checked)}
          />
          also the {unequal.length} that share the power unequally
        </label>
      )}
    </fieldset>
  );
}

function Option({
  wiring,
  coils,
  most,
  checked,
  onSelect,
}: {
  wiring: PlannedWiring;
  coils: readonly LoadCoil[];
  most: number;
  checked: boolean;
  onSelect: () => void;
}): JSX.Element {
  const { network, parsed, loadOhm, usableWatt, hookup, verdict, balanced } = wiring;
  const tooLow = hookup.verdict === 'below-minimum';
  const grade = tooLow ? 'stop' : verdict === 'high' || hookup.verdict === 'unknown' ? 'note' : 'good';
  const word = tooLow
    ? 'too low'
    : hookup.verdict === 'unknown'
      ? 'lowest load unknown'
      : verdict === 'high'
        ? 'high, little power'
        : 'fits';
  return (
    <label
      className={`relative grid min-h-14 cursor-pointer grid-cols-[1.25rem_4.5rem_minmax(0,1fr)] items-center gap-x-3 px-2 py-1.5 has-focus-visible:outline-3 has-focus-visible:-outline-offset-2 has-focus-visible:outline-(--action) ${checked ? 'bg-raised' : 'hover:bg-raised'}`}
    >
      <input
        type="radio"
        name="wiring"
        className="sr-only"
        checked={checked}
        onChange={onSelect}
        aria-label={`${significant(loadOhm)} ohm, ${networkWords(parsed, coils)}, ${word}`}
      />
      {checked && <span className="bg-action absolute inset-y-0 left-0 w-1 rounded-r" aria-hidden />}
      <GradeMark grade={grade} size={18} />
      <span className="text-right text-xl font-semibold whitespace-nowrap">{formatQuantity(loadOhm, 'ohm')}</span>
      <span className="min-w-0">
        <span className="flex items-baseline justify-between gap-2">
          <span className={tooLow ? 'text-stop text-sm font-medium' : 'text-quiet text-sm'}>
            {word}
            {balanced ? '' : ', unequal'}
          </span>
          {usableWatt !== undefined && !tooLow && <span className="font-medium whitespace-nowrap">{formatQuantity(usableWatt, 'W')}</span>}
        </span>
        <span className="bg-line mt-0.5 mb-1 block h-1.5 overflow-hidden rounded-full" aria-hidden>
          {!tooLow && usableWatt !== undefined && most > 0 && (
            <span className="bg-action block h-full rounded-full" style={{ width: `${(100 * usableWatt) / most}%` }} />
          )}
        </span>
        <span className="text-quiet block text-[0.8125rem] leading-tight" title={network}>
          {networkWords(parsed, coils)}
        </span>
      </span>
    </label>
  );
}

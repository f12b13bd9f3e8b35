import {
  canonicalText,
  coilsOf,
  formatQuantity,
  joinsOf,
  judgeWiring,
  networkText,
  parseNetwork,
  planLoads,
  powersOf,
  readWiring,
  sameJoin,
  sameWires,
  type DriverSpec,
  type Finding,
  type Join,
  type LoadCoil,
  type LoadPlan,
  type Network,
  type OhmBand,
  type PlanAmplifier,
  type WiringPowers,
  type WiringReading,
} from '@yield/core';
import { Download, PencilLine, Printer, Undo2 } from 'lucide-react';
import { useMemo, useRef, useState, type JSX, type ReactNode } from 'react';
import { FindingLine } from '../ui/FindingLine.tsx';
import { QuantityField } from '../ui/QuantityField.tsx';
import { saveFile } from '../ui/saveFile.ts';
import { readKept } from '../ui/useKept.ts';
import { useDraft, useQuantityDraft } from '../ui/useDraft.ts';
import { ConnectionList } from './ConnectionList.tsx';
import { DriverPowers } from './DriverPowers.tsx';
import { OptionList } from './OptionList.tsx';
import { svgText } from './saveSvg.ts';
import { WiringDrawing } from './WiringDrawing.tsx';

/** What is planned: drivers on one channel of an amplifier. */
export interface PlannerSubject {
  /** choices and own drawings are kept under this key */
  draftKey: string;
  title: string;
  drivers: DriverSpec[];
  driverNames: ReadonlyMap<string, string>;
  amplifier: PlanAmplifier;
  terminalPairs: 1 | 2;
  /** what is printed at the terminals */
  amplifierWords: string;
  /** the wiring that is in the chain now */
  chosen?: { network: string; joins?: Join[] };
  /** in series with the whole wiring */
  resistorOhm?: number;
}

/** A wiring as it stands on the screen: planned or drawn by the tuner. */
export interface WiringOnScreen {
  coils: LoadCoil[];
  joins: Join[];
  reading: WiringReading;
  /** undefined where the drawing is no network of series and parallel groups */
  network?: Network;
  /** the wires differ from the usual drawing of this network */
  isOwn: boolean;
  loadOhm?: number;
  powers?: WiringPowers;
  findings: Finding[];
}

export interface WiringWork {
  plan: LoadPlan;
  wiring: WiringOnScreen;
  selected: string | undefined;
  select: (network: string) => void;
  toggleJoin: (join: Join) => void;
  clear: () => void;
  undo: (() => void) | undefined;
}

/** Plans, the chosen wiring and the tuner's own wires on it; all kept over a reload. */
export function useWiring(subject: PlannerSubject, wishedLoadOhm: number | undefined): WiringWork {
  const { draftKey, drivers, amplifier, terminalPairs, chosen, resistorOhm = 0 } = subject;
  const [selectedDraft, setSelected] = useDraft(`${draftKey}/network`);
  const [ownDraft, setOwn] = useDraft(`${draftKey}/joins`);
  const [past, setPast] = useState<string[]>([]);
  const plan = useMemo(
    () => planLoads({ drivers, amplifier, ...(wishedLoadOhm === undefined ? {} : { wishedLoadOhm }) }),
    [drivers, amplifier, wishedLoadOhm],
  );
  const coils = useMemo(() => coilsOf(drivers), [drivers]);
  const terminals = useMemo(() => new Set(coils.map(({ name }) => name)), [coils]);

  const known = (network: string): boolean => plan.wirings.some((w) => w.network === network);
  const chosenNetwork = chosen === undefined ? undefined : parseNetwork(chosen.network, terminals);
  const fromChain = chosenNetwork === undefined ? undefined : canonicalText(chosenNetwork);
  const likeChosen = plan.wirings.find(({ parsed }) => canonicalText(parsed) === fromChain)?.network;
  const firstFit = plan.wirings.find(({ hookup, balanced }) => hookup.verdict !== 'below-minimum' && balanced) ?? plan.wirings.at(-1);
  const selected = known(selectedDraft) ? selectedDraft : (likeChosen ?? firstFit?.network);

  const wiring = useMemo((): WiringOnScreen => {
    // A wiring of the chain that is none of the usual ones is shown as the wires that make it.
    const chosenJoins =
      chosen?.joins ??
      (chosen !== undefined && likeChosen === undefined ? joinsOf(parseNetwork(chosen.network, terminals), terminalPairs) : undefined);
    const own = ownJoins(ownDraft, terminals) ?? (known(selectedDraft) ? undefined : chosenJoins);
    const network = selected === undefined ? undefined : parseNetwork(selected, terminals);
    const usual = network === undefined ? [] : joinsOf(network, terminalPairs);
    const joins = own ?? usual;
    const reading = readWiring(coils, joins);
    const drawn = reading.network;
    const isOwn = own !== undefined && !sameWires(own, usual);
    const powers = drawn === undefined ? undefined : powersOf(drawn, drivers, amplifier, resistorOhm);
    const loadOhm = reading.loadOhm === undefined ? undefined : reading.loadOhm + resistorOhm;
    return {
      coils,
      joins: [...joins],
      reading,
      ...(drawn === undefined ? {} : { network: network !== undefined && !isOwn ? network : drawn }),
      isOwn,
      ...(loadOhm === undefined ? {} : { loadOhm }),
      ...(powers === undefined ? {} : { powers }),
      findings: [...(powers === undefined ? [] : loadFindings(powers)), ...judgeWiring(reading, coils)],
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `known` follows from the plan
  }, [ownDraft, selectedDraft, selected, coils, terminals, terminalPairs, drivers, amplifier, plan, chosen, likeChosen, resistorOhm]);

  const change = (joins: Join[] | null): void => {
    setPast([...past, ownDraft]);
    setOwn(joins === null ? null : JSON.stringify(joins));
  };
  const last = past.at(-1);
  return {
    plan,
    wiring,
    selected: wiring.isOwn ? undefined : selected,
    select: (network) => {
      setPast([]);
      setOwn(null);
      setSelected(network);
    },
    toggleJoin: (join) => {
      const without = wiring.joins.filter((other) => !sameJoin(other, join));
      change(without.length < wiring.joins.length ? without : [...wiring.joins, join]);
    },
    clear: () => change([]),
    undo:
      last === undefined
        ? undefined
        : () => {
            setOwn(last === '' ? null : last);
            setPast(past.slice(0, -1));
          },
  };
}

/** The kept wires, where they still fit the drivers. */
function ownJoins(draft: string, coils: ReadonlySet<string>): Join[] | undefined {
  const joins = readKept(draft, readJoins);
  if (joins === undefined) return undefined;
  const fits = joins.every((join) => join.every((terminal) => terminal.startsWith('amp') || coils.has(terminal.slice(0, -1))));
  return fits ? joins : undefined;
}

function readJoins(kept: unknown): Join[] | undefined {
  const isJoin = (join: unknown): boolean =>
    Array.isArray(join) && join.length === 2 && join.every((terminal) => typeof terminal === 'string');
  return Array.isArray(kept) && kept.every(isJoin) ? (kept as Join[]) : undefined;
}

/** The load against the amplifier's lowest one. */
function loadFindings({ hookup }: WiringPowers): Finding[] {
  if (hookup.verdict === 'fits') return [];
  const isLow = hookup.verdict === 'below-minimum';
  return [
    {
      code: isLow ? LOW_LOAD : 'load-unknown',
      grade: isLow ? 'stop' : 'attention',
      figures: { perChannelOhm: hookup.perChannelOhm },
      words: hookup.note,
      ...(isLow ? { next: 'Choose a higher load.' } : {}),
    },
  ];
}

/** A load below the amplifier's lowest one: it stops connecting, not planning. */
export const LOW_LOAD = 'load-too-low';

/** The ways to wire on the left, the chosen one drawn on the right. */
export function WiringPlanner({
  subject,
  inputs,
  action,
}: {
  subject: PlannerSubject;
  /** what stands above the list: the drivers and the amplifier */
  inputs: ReactNode;
  action?: (wiring: WiringOnScreen) => ReactNode;
}): JSX.Element {
  const wished = useQuantityDraft(`${subject.draftKey}/wished`, 'ohm');
  const work = useWiring(subject, wished.value);
  const { plan, wiring, selected, select } = work;
  return (
    <div className="grid grid-cols-1 gap-x-8 gap-y-6 lg:grid-cols-[minmax(0,19.5rem)_minmax(0,1fr)]">
      <div className="min-w-0 space-y-5 print:hidden">
        {inputs}
        <div>
          <QuantityField label="Wished load (if any)" unit="ohm" draft={wished} className="max-w-44" />
          {plan.wished !== undefined && (
            <div className="mt-2 text-sm leading-snug" aria-live="polite">
              <p className={plan.wished.networks.length === 0 ? 'text-attention font-medium' : 'text-good font-medium'}>
                {plan.wished.words}
              </p>
              {plan.wished.purchases.length > 0 && (
                <>
                  <p className="mt-1">What would give it, every coil at the same power:</p>
                  <ul className="list-disc pl-5">
                    {plan.wished.purchases.map(({ words }) => (
                      <li key={words}>{words}</li>
                    ))}
                  </ul>
                </>
              )}
            </div>
          )}
        </div>
        <OptionList
          wirings={plan.wirings}
          coils={wiring.coils}
          selected={selected}
          onSelect={select}
          bare={subject.resistorOhm !== undefined}
        />
      </div>
      <SelectedWiring subject={subject} work={work} action={action?.(wiring)} />
    </div>
  );
}

function SelectedWiring({ subject, work, action }: { subject: PlannerSubject; work: WiringWork; action: ReactNode }): JSX.Element {
  const { wiring, plan } = work;
  const { coils, joins, reading, network, loadOhm, powers, findings, isOwn } = wiring;
  const [editing, setEditing] = useState(false);
  const svg = useRef<SVGSVGElement | null>(null);
  const text = network === undefined ? '' : networkText(network);
  const planned = isOwn ? undefined : plan.wirings.find((w) => w.network === text);
  const { resistorOhm } = subject;
  const meter = planned === undefined ? undefined : shifted(planned.meterOhm, resistorOhm ?? 0);
  const resistor = resistorOhm === undefined ? {} : { resistorOhm };
  return (
    <section className="@container min-w-0" aria-label="The wiring">
      <div className="flex flex-wrap items-end justify-between gap-x-8 gap-y-3">
        <div className="flex flex-wrap items-end gap-x-8 gap-y-2">
          <div>
            <p className="label">The amplifier sees</p>
            <p className="figure whitespace-nowrap" data-testid="load">
              {loadOhm === undefined ? (reading.kind === 'short' ? '0 Ω' : '–') : formatQuantity(loadOhm, 'ohm')}
            </p>
          </div>
          {powers?.amplifierWatt !== undefined && (
            <Fact
              name="and makes"
              value={formatQuantity(powers.amplifierWatt, 'W')}
              note={powers.amplifierBasis === 'rated' ? 'on its plate' : 'estimated from its plate'}
            />
          )}
          {powers?.hookup !== undefined && subject.amplifier.mode === 'bridged' && (
            <Fact name="each channel works into" value={formatQuantity(powers.hookup.perChannelOhm, 'ohm')} note="half, since bridged" />
          )}
          {meter !== undefined && (
            <Fact
              name="an ohmmeter reads"
              value={`${formatQuantity(meter.low, 'ohm').replace(/\s?Ω/, '')} to ${formatQuantity(meter.high, 'ohm')}`}
              note="leads taken off"
            />
          )}
        </div>
        <div className="print:hidden">{action}</div>
      </div>
      <div className="mt-4 space-y-2" aria-live="polite" data-testid="judgement">
        {findings.map((finding, i) => (
          <FindingLine key={finding.words} finding={finding} large={i === 0 && finding.grade === 'stop'} />
        ))}
        {resistorOhm !== undefined && loadOhm !== undefined && (
          <p className="text-attention max-w-prose leading-snug">
            {formatQuantity((100 * resistorOhm) / loadOhm, '%')} of the power ends as heat in the resistor
            {powers?.usableWatt !== undefined && `: ${formatQuantity((powers.usableWatt * resistorOhm) / loadOhm, 'W')} at the most`}.
          </p>
        )}
        {planned !== undefined && resistorOhm === undefined && planned.hookup.verdict !== 'below-minimum' && (
          <p className="text-quiet max-w-prose leading-snug">{planned.tradeOff}</p>
        )}
      </div>
      <div className="mt-4 grid grid-cols-1 gap-x-8 gap-y-5 @min-[50rem]:grid-cols-[minmax(0,1fr)_17rem] print:grid-cols-1">
        <div className="sheet-drawing min-w-0">
          <WiringDrawing
            wiring={{
              coils,
              joins,
              reading,
              terminalPairs: subject.terminalPairs,
              amplifierWords: subject.amplifierWords,
              driverNames: subject.driverNames,
              ...resistor,
            }}
            title={`${subject.title}: ${text === '' ? 'own wiring' : text}`}
            svgRef={svg}
            {...(editing ? { onJoin: work.toggleJoin } : {})}
          />
          <div className="mt-3 flex flex-wrap gap-2 print:hidden">
            <button
              type="button"
              className={`btn btn-tall ${editing ? 'btn-primary' : ''}`}
              aria-pressed={editing}
              onClick={() => setEditing(!editing)}
            >
              <PencilLine size={18} aria-hidden /> {editing ? 'Done joining' : 'Join terminals'}
            </button>
            {work.undo !== undefined && (
              <button type="button" className="btn btn-tall" onClick={work.undo}>
                <Undo2 size={18} aria-hidden /> Undo
              </button>
            )}
            {editing && joins.length > 0 && (
              <button type="button" className="btn btn-tall btn-ghost" onClick={work.clear}>
                Take all out
              </button>
            )}
            <span className="flex-1" />
            <button
              type="button"
              className="btn btn-tall btn-ghost"
              onClick={() => svg.current !== null && saveFile(svgText(svg.current), `${fileName(subject.title)}.svg`, 'image/svg+xml')}
            >
              <Download size={18} aria-hidden /> SVG
            </button>
            <button type="button" className="btn btn-tall btn-ghost" onClick={() => window.print()}>
              <Printer size={18} aria-hidden /> Print
            </button>
          </div>
        </div>
        <div className="min-w-0 space-y-6">
          <ConnectionList
            joins={joins}
            kinds={reading.kinds}
            coils={coils}
            {...resistor}
            {...(editing ? { onRemove: work.toggleJoin } : {})}
          />
          {powers?.amplifierWatt !== undefined && <DriverPowers drivers={powers.drivers} names={subject.driverNames} />}
        </div>
      </div>
    </section>
  );
}

const shifted = ({ low, high }: OhmBand, ohm: number): OhmBand => ({ low: low + ohm, high: high + ohm });

const fileName = (title: string): string =>
  title
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, '-')
    .replaceAll(/^-|-$/g, '') || 'wiring';

function Fact({ name, value, note }: { name: string; value: string; note: string }): JSX.Element {
  return (
    <div>
      <p className="label">{name}</p>
      <p className="text-xl leading-tight font-semibold whitespace-nowrap">{value}</p>
      <p className="text-quiet text-xs">{note}</p>
    </div>
  );
}

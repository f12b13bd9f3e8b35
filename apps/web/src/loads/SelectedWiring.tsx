import { findingKey } from '../ui/findingKey.ts';
import { formatQuantity, networkText, type LoadPlan, type OhmBand } from '@yield/core';
import { Download, PencilLine, Printer, Undo2 } from 'lucide-react';
import { useRef, useState, type JSX, type ReactNode, type RefObject } from 'react';
import { FindingLine } from '../ui/FindingLine.tsx';
import { saveFile } from '../ui/saveFile.ts';
import { ConnectionList } from './ConnectionList.tsx';
import { DriverPowers } from './DriverPowers.tsx';
import { svgText } from './saveSvg.ts';
import type { PlannerSubject, WiringOnScreen, WiringWork } from './useWiring.ts';
import { WiringDrawing } from './WiringDrawing.tsx';
import { useToday } from '../ui/useToday.ts';

/** The wiring as the planner lists it; undefined for one that the tuner drew. */
type PlannedWiring = LoadPlan['wirings'][number] | undefined;

/** The chosen wiring: its figures, what is said of it, its drawing and its wires. */
export function SelectedWiring({ subject, work, action }: { subject: PlannerSubject; work: WiringWork; action: ReactNode }): JSX.Element {
  const today = useToday();
  const { wiring, plan } = work;
  const { coils, joins, reading, network, powers, isOwn } = wiring;
  const [editing, setEditing] = useState(false);
  const svg = useRef<SVGSVGElement | null>(null);
  const text = network === undefined ? '' : networkText(network);
  const planned = isOwn ? undefined : plan.wirings.find((w) => w.network === text);
  const { resistorOhm } = subject;
  const resistor = resistorOhm === undefined ? {} : { resistorOhm };
  return (
    <section className="@container min-w-0" aria-label="The wiring">
      <p className="hidden text-sm print:block">
        {subject.printed ?? subject.title}. {today}
      </p>
      <div className="flex flex-wrap items-end justify-between gap-x-8 gap-y-3">
        <WiringFacts subject={subject} wiring={wiring} planned={planned} />
        <div className="print:hidden">{action}</div>
      </div>
      <WiringJudgement wiring={wiring} planned={planned} resistorOhm={resistorOhm} />
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
          <DrawingTools work={work} title={subject.title} svg={svg} editing={editing} onEditing={setEditing} />
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

/** Load, power and what an ohmmeter should read. */
function WiringFacts({
  subject,
  wiring,
  planned,
}: {
  subject: PlannerSubject;
  wiring: WiringOnScreen;
  planned: PlannedWiring;
}): JSX.Element {
  const { loadOhm, powers, reading } = wiring;
  const own = wiring.network === undefined ? undefined : subject.expectedOhm?.(wiring.network);
  const meter = own ?? (planned === undefined ? undefined : shifted(planned.meterOhm, subject.resistorOhm ?? 0));
  return (
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
  );
}

/** What is said of the wiring, and what the choice costs. */
function WiringJudgement({
  wiring: { findings, loadOhm, powers },
  planned,
  resistorOhm,
}: {
  wiring: WiringOnScreen;
  planned: PlannedWiring;
  resistorOhm: number | undefined;
}): JSX.Element {
  return (
    <div className="mt-4 space-y-2" aria-live="polite" data-testid="judgement">
      {findings.map((finding, i) => (
        <FindingLine key={findingKey(finding)} finding={finding} large={i === 0 && finding.grade === 'stop'} />
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
  );
}

/** Joining, taking back, saving and printing. */
function DrawingTools({
  work,
  title,
  svg,
  editing,
  onEditing,
}: {
  work: WiringWork;
  title: string;
  svg: RefObject<SVGSVGElement | null>;
  editing: boolean;
  onEditing: (editing: boolean) => void;
}): JSX.Element {
  return (
    <div className="mt-3 flex flex-wrap gap-2 print:hidden">
      <button
        type="button"
        className={`btn btn-tall ${editing ? 'btn-primary' : ''}`}
        aria-pressed={editing}
        onClick={() => onEditing(!editing)}
      >
        <PencilLine size={18} aria-hidden /> {editing ? 'Done joining' : 'Join terminals'}
      </button>
      {work.undo !== undefined && (
        <button type="button" className="btn btn-tall" onClick={work.undo}>
          <Undo2 size={18} aria-hidden /> Undo
        </button>
      )}
      {editing && work.wiring.joins.length > 0 && (
        <button type="button" className="btn btn-tall btn-ghost" onClick={work.clear}>
          Take all out
        </button>
      )}
      <span className="flex-1" />
      <button
        type="button"
        className="btn btn-tall btn-ghost"
        onClick={() => svg.current !== null && saveFile(svgText(svg.current), `${fileName(title)}.svg`, 'image/svg+xml')}
      >
        <Download size={18} aria-hidden /> SVG
      </button>
      <button type="button" className="btn btn-tall btn-ghost" onClick={() => window.print()}>
        <Printer size={18} aria-hidden /> Print
      </button>
    </div>
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

import {
  blocksDc,
  coilOf,
  coilWords,
  formatQuantity,
  hasBranch,
  isAmplifierTerminal,
  neighbour,
  terminalWords,
  wiringLayout,
  type Block,
  type Join,
  type JoinKind,
  type LoadCoil,
  type Terminal,
  type WiringLayout,
  type WiringReading,
} from '@yield/core';
import { useMemo, useRef, useState, type JSX, type KeyboardEvent, type PointerEvent, type RefObject } from 'react';

export interface DrawnWiring {
  coils: LoadCoil[];
  joins: readonly Join[];
  reading: WiringReading;
  terminalPairs: 1 | 2;
  /** what is printed at the amplifier's terminals */
  amplifierWords: string;
  /** in series with the whole wiring, in the first wire */
  resistorOhm?: number;
  /** names of the drivers by letter */
  driverNames: ReadonlyMap<string, string>;
}

interface Props {
  wiring: DrawnWiring;
  title: string;
  svgRef?: RefObject<SVGSVGElement | null>;
  /** two terminals were chosen one after the other; without it the drawing only shows */
  onJoin?: (join: Join) => void;
}

const WIRE: Record<JoinKind, { stroke: string; width: number; dash?: string }> = {
  feed: { stroke: 'var(--ink)', width: 3.5 },
  series: { stroke: 'var(--wave-4)', width: 3, dash: '9 5' },
  parallel: { stroke: 'var(--wave-2)', width: 3 },
};

const FONT = { fontFamily: "'IBM Plex Sans', 'Source Sans 3', system-ui, sans-serif" };

/** A wiring terminal by terminal: amplifier, coils, and every wire with its number. Terminals can be joined by pointer and by key. */
export function WiringDrawing({ wiring, title, svgRef, onJoin }: Props): JSX.Element {
  const { coils, joins, terminalPairs } = wiring;
  const layout = useMemo(() => wiringLayout(coils, joins, terminalPairs), [coils, joins, terminalPairs]);
  const [picked, setPicked] = useState<Terminal | null>(null);
  const own = useRef<SVGSVGElement>(null);
  const svg = svgRef ?? own;

  const choose = (terminal: Terminal): void => {
    if (onJoin === undefined) return;
    if (picked === null) setPicked(terminal);
    else {
      setPicked(null);
      if (picked !== terminal) onJoin([picked, terminal]);
    }
  };
  const onKey = (event: KeyboardEvent<SVGGElement>, terminal: Terminal): void => {
    if (event.key === 'Enter' || event.key === ' ') choose(terminal);
    else if (event.key === 'Escape' && picked !== null) setPicked(null);
    else if (event.key.startsWith('Arrow')) {
      const next = neighbour(layout, terminal, event.key);
      if (next !== undefined) svg.current?.querySelector<SVGGElement>(`[data-terminal="${next}"]`)?.focus();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  /** A drag from terminal to terminal joins them too; where the pointer went up tells which one. */
  const draggedFrom = useRef<Terminal | null>(null);
  const terminalAt = (element: Element | null): Terminal | undefined => element?.closest<SVGGElement>('[data-terminal]')?.dataset.terminal;
  const onPointerDown = (event: PointerEvent<SVGSVGElement>): void => {
    draggedFrom.current = terminalAt(event.target as Element) ?? null;
  };
  const onPointerUp = (event: PointerEvent<SVGSVGElement>): void => {
    const from = draggedFrom.current;
    const to = terminalAt(document.elementFromPoint(event.clientX, event.clientY));
    draggedFrom.current = null;
    if (from === null || to === undefined || to === from || onJoin === undefined) return;
    setPicked(null);
    onJoin([from, to]);
  };

  return (
    <figure className="min-w-0">
      {/* On a phone the terminals stay large enough for a thumb, and the drawing is moved instead. */}
      <div className={onJoin === undefined ? '' : 'relative overflow-x-auto'}>
        <svg
          ref={svg}
          viewBox={`0 0 ${layout.width} ${layout.height}`}
          className={`h-auto w-full ${onJoin === undefined ? '' : 'min-w-[40rem]'}`}
          style={{ maxWidth: layout.width * 1.15, ...FONT }}
          role={onJoin === undefined ? 'img' : 'group'}
          aria-label={title}
          {...(onJoin === undefined ? {} : { onPointerDown, onPointerUp })}
        >
          <title>{title}</title>
          <Wires layout={layout} wiring={wiring} />
          {layout.blocks.map((block) => (
            <BlockDrawing key={block.driver} block={block} wiring={wiring} />
          ))}
          {[...layout.terminals].map(([terminal, { x, y }]) => (
            <g
              key={terminal}
              data-terminal={terminal}
              transform={`translate(${x} ${y})`}
              className={onJoin === undefined ? '' : 'terminal cursor-pointer touch-none'}
              {...(onJoin === undefined
                ? {}
                : {
                    role: 'button',
                    tabIndex: 0,
                    'aria-pressed': picked === terminal,
                    'aria-label': terminalLabel(terminal, wiring),
                    onKeyDown: (event: KeyboardEvent<SVGGElement>) => onKey(event, terminal),
                    onClick: () => choose(terminal),
                  })}
            >
              {onJoin !== undefined && <rect x={-22} y={-18} width={44} height={36} rx={8} fill="transparent" />}
              {picked === terminal && <circle r={16} fill="none" stroke="var(--action)" strokeWidth={3} />}
              <TerminalMark plus={terminal.endsWith('+')} />
            </g>
          ))}
        </svg>
      </div>
      {onJoin !== undefined && (
        <figcaption className="text-quiet mt-1 min-h-6 text-sm print:hidden" aria-live="polite">
          {picked === null
            ? 'Choose a terminal, then the one it goes to; the same two again take the wire out. Arrow keys move, Enter chooses.'
            : `From ${terminalWords(picked, coils)} to … Escape lets go.`}
        </figcaption>
      )}
    </figure>
  );
}

function terminalLabel(terminal: Terminal, { coils, joins }: DrawnWiring): string {
  const to = joins.filter((join) => join.includes(terminal)).map(([a, b]) => terminalWords(a === terminal ? b : a, coils));
  return `${terminalWords(terminal, coils)}, ${to.length === 0 ? 'not joined' : `joined to ${to.join(' and ')}`}`;
}

function TerminalMark({ plus }: { plus: boolean }): JSX.Element {
  return (
    <>
      <circle r={10} fill={plus ? 'var(--ink)' : 'var(--ground)'} stroke="var(--ink)" strokeWidth={2} />
      <path
        d={plus ? 'M-5 0H5M0 -5V5' : 'M-5 0H5'}
        stroke={plus ? 'var(--ground)' : 'var(--ink)'}
        strokeWidth={2.2}
        strokeLinecap="round"
      />
    </>
  );
}

function Wires({ layout, wiring }: { layout: WiringLayout; wiring: DrawnWiring }): JSX.Element {
  const { reading, joins, resistorOhm } = wiring;
  const behindResistor = resistorOhm === undefined ? -1 : resistorWire(joins);
  return (
    <>
      {layout.wires.map(({ path }, i) => {
        const { stroke, width, dash } = WIRE[reading.kinds[i] ?? 'feed'];
        return (
          <g key={path} fill="none">
            {/* The ground around a wire lets it pass over another without seeming joined to it. */}
            <path d={path} stroke="var(--ground)" strokeWidth={width + 5} />
            <path d={path} stroke={stroke} strokeWidth={width} {...(dash === undefined ? {} : { strokeDasharray: dash })} />
          </g>
        );
      })}
      {layout.wires.map(({ path, badge }, i) => (
        <Badge
          key={path}
          number={i + 1}
          kind={reading.kinds[i] ?? 'feed'}
          x={badge.x}
          y={badge.y}
          {...(i === behindResistor && resistorOhm !== undefined ? { resistor: formatQuantity(resistorOhm, 'ohm') } : {})}
        />
      ))}
    </>
  );
}

/** The wire that carries everything, so that a resistor in it is in series with all: the only one at the amplifier's plus, or at its minus. */
export function resistorWire(joins: readonly Join[]): number {
  const at = (end: string): number[] =>
    joins.flatMap((join, i) => (join.some((terminal) => isAmplifierTerminal(terminal) && terminal.endsWith(end)) ? [i] : []));
  return [at('+'), at('-')].find((wires) => wires.length === 1)?.[0] ?? -1;
}

/** The wire's number: square on wires from the amplifier, round on series jumpers, a flat oval on parallel ones. */
export function Badge({
  number,
  kind,
  x,
  y,
  resistor,
}: {
  number: number;
  kind: JoinKind;
  x: number;
  y: number;
  /** its figure, where one sits in this wire */
  resistor?: string;
}): JSX.Element {
  const { stroke } = WIRE[kind];
  return (
    <g transform={`translate(${x} ${y})`}>
      {kind === 'feed' && <rect x={-10} y={-10} width={20} height={20} rx={2} fill={stroke} />}
      {kind === 'series' && <circle r={10.5} fill="var(--ground)" stroke={stroke} strokeWidth={2.2} />}
      {kind === 'parallel' && (
        <rect x={-12.5} y={-8.5} width={25} height={17} rx={8.5} fill="var(--ground)" stroke={stroke} strokeWidth={2.2} />
      )}
      {resistor !== undefined && (
        <>
          <rect x={12} y={-10} width={62} height={20} fill="var(--ground)" stroke="var(--stop)" strokeWidth={2.2} />
          <text x={43} y={4.2} fontSize={12} fontWeight={600} textAnchor="middle" fill="var(--ink)">
            {resistor}
          </text>
        </>
      )}
      <text
        y={4.2}
        fontSize={12}
        fontWeight={600}
        textAnchor="middle"
        fill={kind === 'feed' ? 'var(--ground)' : 'var(--ink)'}
        style={{ fontVariantNumeric: 'tabular-nums' }}
      >
        {number}
      </text>
    </g>
  );
}

function BlockDrawing({ block, wiring }: { block: Block; wiring: DrawnWiring }): JSX.Element {
  const { coils, reading, driverNames } = wiring;
  const { x, y, width, height, side, kind, driver } = block;
  const inner = side === 'left' ? -1 : 1;
  const edge = side === 'left' ? x + width : x;
  const textX = x + 14;
  return (
    <g>
      <rect x={x} y={y} width={width} height={height} rx={6} fill="var(--raised)" stroke="var(--line)" strokeWidth={1.5} />
      <text x={textX} y={y + 23} fontSize={15} fontWeight={600} fill="var(--ink)">
        {kind === 'amplifier' ? 'Amplifier' : driver}
      </text>
      {kind === 'driver' && (
        <text x={textX + 22} y={y + 23} fontSize={13} fill="var(--quiet)">
          {shortened(driverNames.get(driver) ?? '', 25)}
        </text>
      )}
      {kind === 'amplifier' &&
        terminalPairsOf(wiring).map((words, i) => (
          <text key={words} x={textX} y={y + 34 + 72 * i + 41} fontSize={13} fill="var(--quiet)">
            {words}
          </text>
        ))}
      {block.coils.map(({ name: coil, plusY, minusY }) => {
        const state = reading.states.get(coil);
        const share = reading.shares.get(coil) ?? 0;
        const spec = coils.find((c) => c.name === coil);
        if (spec === undefined) return null;
        const middle = (plusY + minusY) / 2;
        const coilX = edge + inner * 30;
        const labelX = side === 'left' ? x + 14 : x + 52;
        const dead = state !== 'works' && state !== 'reversed';
        return (
          <g key={coil}>
            <path
              d={coilPath(edge, coilX, plusY, minusY)}
              fill="none"
              stroke={dead ? 'var(--quiet)' : 'var(--ink)'}
              strokeWidth={2}
              {...(dead ? { strokeDasharray: '3 3' } : {})}
            />
            {blocksDc(spec) && <CapacitorMark x={edge + inner * 9} y={plusY} />}
            <text x={labelX} y={middle - 2} fontSize={13} fontWeight={500} fill="var(--ink)">
              {`coil${coilWords(spec, coils).slice(spec.driver.length).replace(' coil', '')} · ${formatQuantity(spec.nominalOhm, 'ohm')}`}
            </text>
            <text x={labelX} y={middle + 14} fontSize={12} fill={state === 'works' ? 'var(--quiet)' : 'var(--stop)'}>
              {state === 'works' ? partOf(spec, coils, share) : stateWords(state)}
            </text>
          </g>
        );
      })}
    </g>
  );
}

function terminalPairsOf({ joins, terminalPairs, amplifierWords }: DrawnWiring): string[] {
  if (terminalPairs === 1) return [shortened(amplifierWords, 24)];
  const used = joins.flat().some((terminal) => coilOf(terminal) === 'amp2');
  return [`${shortened(amplifierWords, 12)}, first pair`, used ? 'second, the same points' : 'second pair, not used'];
}

/** A coil's share of the power, or behind which parts it plays. */
function partOf({ branch }: LoadCoil, coils: readonly LoadCoil[], share: number): string {
  if (branch === undefined) return hasBranch(coils) ? 'its own range' : `${formatQuantity(100 * share, '%')} of the power`;
  const values = branch.parts.flatMap(({ capacitanceFarad, inductanceHenry }) => [
    ...(capacitanceFarad === undefined ? [] : [formatQuantity(capacitanceFarad, 'F')]),
    ...(inductanceHenry === undefined ? [] : [formatQuantity(inductanceHenry, 'H')]),
  ]);
  return `behind ${values.join(', ')}`;
}

/** Two plates in the lead from the plus terminal. */
function CapacitorMark({ x, y }: { x: number; y: number }): JSX.Element {
  return (
    <g stroke="var(--ink)" strokeWidth={2.4}>
      <rect x={x - 3} y={y - 4} width={6} height={8} fill="var(--raised)" stroke="none" />
      <path d={`M${x - 3} ${y - 9}V${y + 9}M${x + 3} ${y - 9}V${y + 9}`} fill="none" />
    </g>
  );
}

const stateWords = (state: string | undefined): string =>
  state === 'reversed' ? 'reversed' : state === 'shorted' ? 'shorted' : 'not in the circuit';

/** Four loops between the two terminals. */
function coilPath(edge: number, x: number, plusY: number, minusY: number): string {
  const loops = 4;
  const step = (minusY - plusY) / loops;
  const bulge = x > edge ? 1 : 0;
  const arcs = Array.from({ length: loops }, () => `a${step / 2} ${step / 2} 0 0 ${bulge} 0 ${step}`).join('');
  return `M${edge} ${plusY}H${x}${arcs}H${edge}`;
}

const shortened = (text: string, most: number): string => (text.length <= most ? text : `${text.slice(0, most - 1)}…`);

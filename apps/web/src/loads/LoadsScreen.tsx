import type { JSX } from 'react';
import { Navigate, NavLink, useParams } from 'react-router';
import { Caution } from '../ui/Notice.tsx';
import { useTitle } from '../ui/useTitle.ts';
import { EqualiserTool } from './EqualiserTool.tsx';
import { HookupTool } from './HookupTool.tsx';
import { LoadTable } from './LoadTable.tsx';
import { LoudTool } from './LoudTool.tsx';
import { MeterTool } from './MeterTool.tsx';
import { PassiveTool } from './PassiveTool.tsx';
import { PhaseTool } from './PhaseTool.tsx';
import { PlannerTool } from './PlannerTool.tsx';
import { ResistorTool } from './ResistorTool.tsx';
import { WireTool } from './WireTool.tsx';

const TOOLS = [
  { id: 'wiring', name: 'Wiring', title: 'Plan a wiring', Tool: PlannerTool },
  { id: 'table', name: 'Load tables', title: 'Loads of one to four drivers', Tool: LoadTable },
  { id: 'meter', name: 'Meter check', title: 'Does the ohmmeter agree?', Tool: MeterTool },
  { id: 'hook-up', name: 'Hook-up', title: 'Ways to use the amplifier', Tool: HookupTool },
  { id: 'resistor', name: 'Series resistor', title: 'What a series resistor costs', Tool: ResistorTool },
  { id: 'wire', name: 'Speaker wire', title: 'How thick the wire', Tool: WireTool },
  { id: 'passive', name: 'Passive parts', title: 'Capacitors and inductors before a driver', Tool: PassiveTool },
  { id: 'loud', name: 'How loud', title: 'How loud it gets', Tool: LoudTool },
  { id: 'phase', name: 'Two channels', title: 'One channel against another', Tool: PhaseTool },
  { id: 'equaliser', name: 'Equaliser', title: 'Even a response out', Tool: EqualiserTool },
] as const;

/** The desk: everything about loads that wants no tune. What lies on it stays over a reload. */
export default function LoadsScreen(): JSX.Element {
  const { tool = 'wiring' } = useParams();
  const current = TOOLS.find(({ id }) => id === tool);
  useTitle(current?.title);
  if (current === undefined) return <Navigate to="/loads/wiring" replace />;
  return (
    <main className="mx-auto w-full max-w-[90rem] min-w-0 flex-1 px-6 py-5 max-sm:px-4">
      <nav aria-label="Tools" className="border-line -mx-1 mb-5 flex gap-1 overflow-x-auto border-b print:hidden">
        {TOOLS.map(({ id, name }) => (
          <NavLink
            key={id}
            to={`/loads/${id}`}
            className={({ isActive }) =>
              `flex min-h-11 shrink-0 items-center border-b-3 px-3 font-medium ${isActive ? 'border-action text-ink' : 'text-quiet hover:text-ink border-transparent'}`
            }
          >
            {name}
          </NavLink>
        ))}
      </nav>
      <h1 className="mb-4 text-2xl">{current.title}</h1>
      <current.Tool />
      {!['loud', 'equaliser', 'phase'].includes(current.id) && (
        <div className="mt-8 max-w-prose">
          <Caution>
            Wire and meter with the amplifier switched off and its fuse out. What the amplifier’s manual allows, local codes and licensed
            practice come first.
          </Caution>
        </div>
      )}
    </main>
  );
}

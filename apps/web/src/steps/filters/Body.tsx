import { findingKey } from '../../ui/findingKey.ts';
import { channelGroups, filterChecks, groupName, alikeGroups, powerShare, provedNow, groupDb, type FilterCheck } from '@yield/core';
import { ChartSpline } from 'lucide-react';
import { useMemo, type JSX } from 'react';
import { Link } from 'react-router';
import { useMark } from '../../tune/useMark.ts';
import { FindingLine } from '../../ui/FindingLine.tsx';
import type { ViewProps } from '../view.ts';
import { limitOf } from '../../crossovers/laneBands.ts';
import { ResponseCurves } from '../../crossovers/ResponseCurves.tsx';

/** Every filter of a channel set on the gear and looked at, before the channel's first tone. */
export function FiltersBody({ run, current }: ViewProps<'filters'>): JSX.Element {
  const { step, state } = current;
  const { channel } = step;
  const chain = run.tune.chain.body;
  const checks = filterChecks(channel, chain);
  const { ticked, toggle } = useMark(run, current);
  const groups = useMemo(() => alikeGroups(channelGroups(channel)), [channel]);
  const proved = provedNow(run.now);
  // With several ways on one channel each has a limit of its own: no one shade tells them apart.
  const unsafeHz = groups.length === 1 ? limitOf(groups[0]!, powerShare(chain, groups[0]!)) : undefined;
  const findings = state.findings.filter(({ grade }) => grade !== 'stop');
  return (
    <div className="min-w-0 space-y-4">
      {state.status !== 'stop' && (
        <>
          <p>
            Set each of these on the gear, look at it, and tick it. No tone plays on this channel before; any change of a setting asks for a
            new look.
          </p>
          <ul className="border-line divide-line divide-y border-y">
            {checks.map((check) => (
              <FilterTick key={check.id} check={check} ticked={ticked.has(check.id)} onToggle={() => toggle(check.id)} />
            ))}
          </ul>
        </>
      )}
      <ResponseCurves
        label={`What ${channel.name} gets over frequency`}
        curves={groups.map((group) => ({ name: groupName(group), db: (hertz) => groupDb(group, hertz, proved) }))}
        unsafeBelowHz={unsafeHz}
      />
      <div className="space-y-3" aria-live="polite" data-testid="verdict">
        {findings.length === 0 && state.status !== 'stop' && <p className="text-quiet">{left(checks, ticked)}</p>}
        {findings.map((finding, i) => (
          <FindingLine key={findingKey(finding)} finding={finding} large={i === 0} />
        ))}
      </div>
      <Link to={`/tunes/${run.tune.id}/crossovers`} className="btn btn-tall">
        <ChartSpline size={18} aria-hidden /> Change the crossovers
      </Link>
    </div>
  );
}

function left(checks: readonly FilterCheck[], ticked: ReadonlySet<string>): string {
  const count = checks.filter(({ id }) => !ticked.has(id)).length;
  return count === 1 ? 'One is left.' : `${count} are left.`;
}

function FilterTick({ check, ticked, onToggle }: { check: FilterCheck; ticked: boolean; onToggle: () => void }): JSX.Element {
  return (
    <li>
      <label className="flex min-h-14 cursor-pointer items-center gap-4 py-2">
        <input type="checkbox" className="checkbox checkbox-primary" checked={ticked} onChange={onToggle} />
        <span className="min-w-0">
          <span className={`block leading-snug ${ticked ? '' : 'font-medium'}`}>{check.words}</span>
          {check.how !== undefined && <span className="text-action block text-lg leading-tight font-semibold">{check.how}</span>}
        </span>
      </label>
    </li>
  );
}

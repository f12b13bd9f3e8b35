import { findingKey } from '../../ui/findingKey.ts';
import { coilsOf, channelDrivers, channelNetwork, formatQuantity, joinsOf, readWiring } from '@yield/core';
import type { JSX } from 'react';
import { Link } from 'react-router';
import { ConnectionList } from '../../loads/ConnectionList.tsx';
import { WiringDrawing } from '../../loads/WiringDrawing.tsx';
import { FindingLine, GradedLine } from '../../ui/FindingLine.tsx';
import { Checks } from '../kit/Checks.tsx';
import type { ViewProps } from '../view.ts';

/** Connect the wiring to the amplifier: what the channel will see, the terminals, and what to see to first. */
export function HookupBody({ run, current }: ViewProps<'hookup'>): JSX.Element {
  const { step, state } = current;
  const { channel, amplifier, hookup } = step;
  const findings = state.findings.filter(({ grade }) => grade !== 'stop');
  return (
    <div className="min-w-0 space-y-4">
      <Checks run={run} current={current} />
      <div className="flex flex-wrap items-end gap-x-10 gap-y-2">
        <div>
          <p className="label">Load</p>
          <p className="figure whitespace-nowrap">{formatQuantity(channel.loadOhm, 'ohm')}</p>
        </div>
        {channel.mode === 'bridged' && (
          <div>
            <p className="label">Each channel of the pair sees</p>
            <p className="text-3xl font-semibold whitespace-nowrap">{formatQuantity(hookup.perChannelOhm, 'ohm')}</p>
          </div>
        )}
        <p className="text-quiet pb-1">
          on <span className="text-ink font-medium">{channel.terminals}</span>, {channel.mode}
          {channel.wiring?.seriesResistorOhm !== undefined && `, with ${formatQuantity(channel.wiring.seriesResistorOhm, 'ohm')} in series`}
        </p>
      </div>
      <div className="space-y-3" aria-live="polite" data-testid="verdict">
        {findings.map((finding) => (
          <FindingLine key={findingKey(finding)} finding={finding} large={finding.grade !== 'good'} />
        ))}
        {channel.mode === 'mono' && amplifier.terminalPairs === 2 && (
          <GradedLine
            grade="note"
            text="Both pairs of terminals are the same two points: loads on them are in parallel, and one subwoofer can use either pair."
            next="With the amplifier off an ohmmeter beeps from plus to plus and from minus to minus."
          />
        )}
      </div>
      <Drawing run={run} current={current} />
    </div>
  );
}

function Drawing({ run, current }: ViewProps<'hookup'>): JSX.Element {
  const { channel, amplifier } = current.step;
  const network = channelNetwork(channel);
  const path = `/tunes/${run.tune.id}/wiring/${channel.id}`;
  if (network === undefined) {
    return (
      <p className="text-quiet">
        How the coils are wired is not known.{' '}
        <Link to={path} className="text-action font-medium hover:underline">
          Plan the wiring
        </Link>{' '}
        and it is drawn here.
      </p>
    );
  }
  const drivers = channelDrivers(channel);
  const coils = coilsOf(drivers);
  const pairs = channel.mode === 'mono' ? (amplifier.terminalPairs ?? 1) : 1;
  const joins = channel.wiring?.joins ?? joinsOf(network, pairs);
  const reading = readWiring(coils, joins);
  const resistorOhm = channel.wiring?.seriesResistorOhm;
  const resistor = resistorOhm === undefined ? {} : { resistorOhm };
  return (
    <div className="grid grid-cols-1 gap-y-4">
      <WiringDrawing
        title={`${channel.name} on ${channel.terminals}`}
        wiring={{
          coils,
          joins,
          reading,
          terminalPairs: pairs,
          amplifierWords: channel.terminals,
          driverNames: new Map(drivers.map(({ name }, i) => [name, channel.drivers[i]?.name ?? ''])),
          ...resistor,
        }}
      />
      <ConnectionList joins={joins} kinds={reading.kinds} coils={coils} {...resistor} />
    </div>
  );
}

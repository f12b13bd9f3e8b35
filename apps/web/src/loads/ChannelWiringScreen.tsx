import type { TuneDetail } from '@yield/contract';
import {
  canonicalText,
  channelDrivers,
  channelNetwork,
  formatQuantity,
  joinsOf,
  MAX_DRIVERS,
  networkText,
  ohmsNow,
  passiveWords,
  sameWires,
  stepId,
  wholeDiagnosis,
  wiredLoadOhm,
  type Amplifier,
  type Chain,
  type Channel,
  type ChannelWiring,
  type Network,
} from '@yield/core';
import { useMemo, useState, type JSX } from 'react';
import { Link, Navigate, useNavigate, useParams } from 'react-router';
import { draftDone } from '../store/drafts.ts';
import { useAppDispatch } from '../store/store.ts';
import { useEditChain } from '../tune/useEdit.ts';
import { useTuneRun, useTune } from '../tune/useTuneRun.ts';
import { Loading } from '../ui/Loading.tsx';
import { Caution, ErrorNotice } from '../ui/Notice.tsx';
import { QuantityField } from '../ui/QuantityField.tsx';
import { Reveal } from '../ui/Reveal.tsx';
import { useQuantityDraft, type QuantityDraft } from '../ui/useDraft.ts';
import { LOW_LOAD, type PlannerSubject, type WiringOnScreen } from './useWiring.ts';
import { WiringPlanner } from './WiringPlanner.tsx';

/** The wiring of one channel of a tune: planned, drawn, and put into the chain. */
export default function ChannelWiringScreen(): JSX.Element {
  const { tuneId = '', channelId = '' } = useParams();
  const data = useTune(tuneId);
  if (data === undefined) return <Loading what="the chain" />;
  const { channels, amplifiers } = data.chain.body;
  const channel = channels.find(({ id }) => id === channelId);
  const amplifier = amplifiers.find(({ id }) => id === channel?.amplifierId);
  if (channel === undefined || amplifier === undefined) return <Navigate to={`/tunes/${tuneId}/chain`} replace />;
  return <ChannelWiringOf key={channelId} tune={data} channel={channel} amplifier={amplifier} />;
}

function ChannelWiringOf({ tune, channel, amplifier }: { tune: TuneDetail; channel: Channel; amplifier: Amplifier }): JSX.Element {
  const draftKey = `wiring/${tune.id}/${channel.id}`;
  const resistor = useQuantityDraft(`${draftKey}/resistor`, 'ohm', figureText(channel.wiring?.seriesResistorOhm));
  const resistorWatt = useQuantityDraft(`${draftKey}/resistor-watt`, 'W', figureText(channel.wiring?.seriesResistorRatedWatt));
  const run = useTuneRun(tune.id);
  const subject = useMemo((): PlannerSubject => {
    const drivers = channelDrivers(channel);
    return {
      draftKey,
      title: `${tune.name}, ${channel.name}`,
      drivers,
      driverNames: new Map(drivers.map(({ name }, i) => [name, channel.drivers[i]?.name ?? ''])),
      amplifier: { ...amplifier, mode: channel.mode },
      terminalPairs: channel.mode === 'mono' ? (amplifier.terminalPairs ?? 1) : 1,
      amplifierWords: channel.terminals,
      ...(channel.wiring === undefined ? {} : { chosen: channel.wiring }),
      ...(resistor.value === undefined ? {} : { resistorOhm: resistor.value }),
      // One band for one reading: the same as at the metering step.
      expectedOhm: (network) =>
        run === null
          ? undefined
          : wholeDiagnosis({ ...channel, wiring: wiringOf(network, resistor.value) }, run.now, 0, ohmsNow(run.now))?.expectedOhm,
      printed: `${tune.name}${tune.vehicle === '' ? '' : `, ${tune.vehicle}`}. ${amplifier.name}, ${channel.terminals}`,
    };
  }, [draftKey, tune.name, tune.vehicle, channel, amplifier, resistor.value, run]);
  const others = tune.chain.body.channels.filter(({ drivers }) => drivers.length > 0);
  return (
    <main className="min-w-0 flex-1 px-6 py-5 max-sm:px-4">
      <div className="mb-5 flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1">
        <h1 className="text-2xl">Wiring: {channel.name}</h1>
        <label className="flex items-center gap-2 text-sm print:hidden">
          <span className="text-quiet">Channel</span>
          <ChannelSelect tuneId={tune.id} channels={others} current={channel.id} />
        </label>
      </div>
      {channel.drivers.length === 0 ? (
        <section className="panel max-w-xl">
          <p>{channel.name} has no drivers yet. Enter them with their coils to see every way to wire them.</p>
          <Link to={`/tunes/${tune.id}/chain`} className="btn btn-primary btn-tall mt-4">
            Enter drivers
          </Link>
        </section>
      ) : channel.drivers.length > MAX_DRIVERS ? (
        <p>
          The planner takes up to {MAX_DRIVERS} drivers on one channel; {channel.name} has {channel.drivers.length}.
        </p>
      ) : (
        <WiringPlanner
          subject={subject}
          inputs={<Facts tuneId={tune.id} channel={channel} amplifier={amplifier} resistor={resistor} resistorWatt={resistorWatt} />}
          action={(wiring) => (
            <UseWiring
              tune={tune}
              channel={channel}
              wiring={wiring}
              terminalPairs={subject.terminalPairs}
              {...(resistor.value === undefined ? {} : { resistorOhm: resistor.value })}
              {...(resistorWatt.value === undefined ? {} : { resistorRatedWatt: resistorWatt.value })}
            />
          )}
        />
      )}
      <div className="mt-6 max-w-prose">
        <Caution>
          Wire with the amplifier switched off and its fuse out. A load below what the manual allows can set an amplifier on fire; the
          manual, local codes and licensed practice come first.
        </Caution>
      </div>
    </main>
  );
}

const wiringOf = (network: Network, resistorOhm: number | undefined): ChannelWiring => ({
  network: networkText(network),
  ...(resistorOhm === undefined ? {} : { seriesResistorOhm: resistorOhm }),
});

const figureText = (value: number | undefined): string => (value === undefined ? '' : `${value}`);

function ChannelSelect({ tuneId, channels, current }: { tuneId: string; channels: readonly Channel[]; current: string }): JSX.Element {
  const navigate = useNavigate();
  return (
    <select
      className="select min-h-11"
      value={current}
      aria-label="Channel"
      onChange={(event) => void navigate(`/tunes/${tuneId}/wiring/${event.target.value}`)}
    >
      {channels.map(({ id, name }) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </select>
  );
}

function Facts({
  tuneId,
  channel,
  amplifier,
  resistor,
  resistorWatt,
}: {
  tuneId: string;
  channel: Channel;
  amplifier: Amplifier;
  resistor: QuantityDraft;
  resistorWatt: QuantityDraft;
}): JSX.Element {
  const minimum = { stereo: amplifier.minimumStereoOhm, bridged: amplifier.minimumBridgedOhm, mono: amplifier.minimumMonoOhm }[
    channel.mode
  ];
  return (
    <div className="panel text-[0.9375rem] leading-snug">
      <p>
        <span className="font-semibold">{amplifier.name}</span>
        <br />
        <span className="text-quiet">
          {channel.terminals}, {channel.mode};{' '}
          {minimum === undefined ? 'lowest load unknown' : `lowest load ${formatQuantity(minimum, 'ohm')}`}
        </span>
      </p>
      <ul className="mt-3 space-y-1">
        {channelDrivers(channel).map(({ name, coils, coilOhm, ratedPowerWatt }, i) => (
          <li key={name}>
            <span className="font-semibold">{name}</span> {channel.drivers[i]?.name}
            <br />
            <span className="text-quiet">
              {coils === 1 ? 'one coil' : `${coils} coils`} of {formatQuantity(coilOhm, 'ohm')}, {formatQuantity(ratedPowerWatt ?? 0, 'W')}
              {(channel.passive ?? [])
                .filter(({ driverId }) => driverId === channel.drivers[i]?.id)
                .map((parts) => `; ${passiveWords(parts)}`)
                .join('')}
            </span>
          </li>
        ))}
      </ul>
      <Link to={`/tunes/${tuneId}/chain`} className="text-action mt-3 inline-flex min-h-11 items-center font-medium hover:underline">
        Change them in the chain
      </Link>
      <Reveal summary="Series resistor in this channel">
        <div className="grid grid-cols-2 gap-3">
          <QuantityField label="Resistor" unit="ohm" draft={resistor} />
          <QuantityField label="Its rating" unit="W" draft={resistorWatt} />
        </div>
        <p className="text-quiet mt-2 text-sm">
          It lifts the load and turns its share of the power into heat: see{' '}
          <Link to="/loads/resistor" className="text-action hover:underline">
            what a resistor costs
          </Link>
          .
        </p>
      </Reveal>
    </div>
  );
}

/** Puts the wiring on the screen into the chain; the load of every later step follows from it. */
function UseWiring({
  tune,
  channel,
  wiring,
  terminalPairs,
  resistorOhm,
  resistorRatedWatt,
}: {
  tune: TuneDetail;
  channel: Channel;
  wiring: WiringOnScreen;
  terminalPairs: 1 | 2;
  resistorOhm?: number;
  resistorRatedWatt?: number;
}): JSX.Element {
  const { edit } = useEditChain(tune);
  const dispatch = useAppDispatch();
  // What another window saves meanwhile is not taken for what this wiring was planned on.
  const [seen, setSeen] = useState(tune.chain);
  const [refusal, setRefusal] = useState<string | null>(null);
  const { network } = wiring;
  const blocked = network === undefined || wiring.findings.some(({ grade, code }) => grade === 'stop' && code !== LOW_LOAD);
  const next: ChannelWiring | undefined =
    network === undefined
      ? undefined
      : {
          network: networkText(network),
          ...(wiring.isOwn ? { joins: wiring.joins.map(([a, b]): [string, string] => [a, b]) } : {}),
          ...(resistorOhm === undefined ? {} : { seriesResistorOhm: resistorOhm }),
          ...(resistorOhm === undefined || resistorRatedWatt === undefined ? {} : { seriesResistorRatedWatt: resistorRatedWatt }),
        };
  const inChain = next !== undefined && isInChain(channel, wiring, next, terminalPairs);
  if (inChain && seen !== tune.chain) setSeen(tune.chain);
  const use = async (): Promise<void> => {
    if (next === undefined) return;
    const wired = { ...channel, wiring: next };
    const chain: Chain = {
      ...seen.body,
      channels: seen.body.channels.map((c) => (c.id === channel.id ? { ...wired, loadOhm: wiredLoadOhm(wired) ?? c.loadOhm } : c)),
    };
    // The chain has it now: what was tried on the way to it is done with.
    const forget = (): void => {
      for (const part of ['network', 'joins', 'resistor', 'resistor-watt']) dispatch(draftDone(`wiring/${tune.id}/${channel.id}/${part}`));
    };
    const faults = await edit(chain, { seen, onSaved: forget });
    setRefusal(faults[0]?.message ?? null);
  };
  return (
    <div className="text-right">
      {inChain ? (
        <div className="flex flex-wrap items-center justify-end gap-3">
          <span role="status" className="text-good font-semibold">
            In the chain
          </span>
          <Link
            to={`/tunes/${tune.id}/run/${stepId(channel.drivers.length > 0 ? 'whole' : 'hookup', channel.id)}`}
            className="btn btn-primary btn-tall"
          >
            Meter it
          </Link>
        </div>
      ) : (
        <button type="button" className="btn btn-primary btn-tall" disabled={blocked} onClick={() => void use()}>
          Use this wiring
        </button>
      )}
      {refusal !== null && <ErrorNotice>{refusal}</ErrorNotice>}
    </div>
  );
}

/** The wiring on the screen is the one in the chain: the same circuit, wire by wire, behind the same resistor. */
function isInChain(channel: Channel, wiring: WiringOnScreen, next: ChannelWiring, terminalPairs: 1 | 2): boolean {
  const kept = channel.wiring;
  const network = channelNetwork(channel);
  return (
    kept !== undefined &&
    network !== undefined &&
    wiring.network !== undefined &&
    canonicalText(network) === canonicalText(wiring.network) &&
    sameWires(kept.joins ?? joinsOf(network, terminalPairs), wiring.joins) &&
    kept.seriesResistorOhm === next.seriesResistorOhm &&
    kept.seriesResistorRatedWatt === next.seriesResistorRatedWatt
  );
}

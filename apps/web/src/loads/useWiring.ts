import {
  canonicalText,
  coilsOf,
  hasBranch,
  joinsOf,
  judgeWiring,
  networkLoad,
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
import { useMemo, useState } from 'react';
import { useDraft } from '../ui/useDraft.ts';
import { readKept } from '../ui/useKept.ts';

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
  /** what the ohmmeter is to read across a network, where coils were metered and the meter is known; resistor and accuracy counted in */
  expectedOhm?: (network: Network) => OhmBand | undefined;
  /** for paper: the vehicle, and the amplifier */
  printed?: string;
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
    // Behind passive parts a load is what all of it presents, not what the coils alone would.
    const bareOhm = drawn === undefined || !hasBranch(coils) ? reading.loadOhm : networkLoad(drawn, coils).nominalOhm;
    const loadOhm = bareOhm === undefined ? undefined : bareOhm + resistorOhm;
    return {
      coils,
      joins: [...joins],
      reading,
      ...(drawn === undefined ? {} : { network: network !== undefined && !isOwn ? network : drawn }),
      isOwn,
      ...(loadOhm === undefined ? {} : { loadOhm }),
      ...(powers === undefined ? {} : { powers }),
      findings: [...(powers === undefined ? [] : loadFindings(powers.hookup)), ...judgeWiring(reading, coils)],
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
function loadFindings({ verdict, perChannelOhm, note }: WiringPowers['hookup']): Finding[] {
  switch (verdict) {
    case 'fits':
      return [];
    case 'below-minimum':
      return [{ code: LOW_LOAD, grade: 'stop', figures: { perChannelOhm, note } }];
    case 'unknown':
      return [{ code: 'load-unknown', grade: 'attention', figures: { perChannelOhm, note } }];
  }
}

/** A load below the amplifier's lowest one: it stops connecting, not planning. */
export const LOW_LOAD = 'load-too-low';

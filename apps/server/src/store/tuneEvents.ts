import type { Device, TuneEvent } from '@yield/contract';
import pg from 'pg';
import { TUNE_CHANGED } from './history.ts';

/** The channel on which servers of one database tell each other who looks at which tune. */
const DEVICE_SEEN = 'yield_device';
/** A device says so often that it is still there; without a word for longer than the second figure it has gone. */
const SEEN_MS = { every: 10_000, atMost: 25_000 };
/** A database that went away is asked for again after so long. */
const RECONNECT_MS = 1000;

type Listener = (event: TuneEvent) => void;

interface Seen extends Device {
  until: number;
}

/** What happens to tunes, on this server and on every other one of the same database. */
export interface TuneEvents {
  /** Tells a device that looks at a tune what happens to it, until the returned function is called. */
  follow: (tuneId: string, device: Device, tell: Listener) => () => void;
  close: () => Promise<void>;
}

/**
 * Listens on a connection of its own, so that no wait for the pool holds an event up.
 *
 * An event says that something changed, not what: whoever follows asks for it. So events that were missed while the database was
 * away cost nothing; once it is back everybody is told to ask.
 */
export function tuneEvents(databaseUrl: string): TuneEvents {
  const followers = new Map<string, Map<Listener, Device>>();
  const present = new Map<string, Map<string, Seen>>();
  let client: pg.Client | undefined;
  let isClosed = false;
  let retry: ReturnType<typeof setTimeout> | undefined;

  const tell = (tuneId: string, event: TuneEvent): void => {
    for (const listener of followers.get(tuneId)?.keys() ?? []) listener(event);
  };
  const tellPresent = (tuneId: string): void => tell(tuneId, { kind: 'devices', devices: devicesAt(tuneId) });

  function devicesAt(tuneId: string): Device[] {
    const now = Date.now();
    const seen = [...(present.get(tuneId)?.values() ?? [])].filter(({ until }) => until > now);
    return seen.map(({ until: _until, ...device }) => device).sort((a, b) => (a.id < b.id ? -1 : 1));
  }

  let saying: Promise<unknown> = Promise.resolve();
  const say = (tuneId: string, device: Device, isThere: boolean): void => {
    const words = JSON.stringify({ tuneId, device, isThere });
    // One after the other on the one connection; a word that is lost is said again in a moment.
    saying = saying.then(() => client?.query('SELECT pg_notify($1, $2)', [DEVICE_SEEN, words])).catch(() => undefined);
  };

  function heard(channel: string, payload: string): void {
    if (channel === TUNE_CHANGED) {
      const { tuneId, changes } = JSON.parse(payload) as { tuneId: string; changes: number };
      tell(tuneId, { kind: 'changed', changes });
      return;
    }
    const { tuneId, device, isThere } = JSON.parse(payload) as { tuneId: string; device: Device; isThere: boolean };
    const before = JSON.stringify(devicesAt(tuneId));
    const seen = present.get(tuneId) ?? new Map<string, Seen>();
    present.set(tuneId, seen);
    if (isThere) seen.set(device.id, { ...device, until: Date.now() + SEEN_MS.atMost });
    else seen.delete(device.id);
    if (JSON.stringify(devicesAt(tuneId)) !== before) tellPresent(tuneId);
  }

  async function connect(): Promise<void> {
    const next = new pg.Client({ connectionString: databaseUrl, keepAlive: true });
    let isLost = false;
    const lose = (): void => {
      if (isLost) return;
      isLost = true;
      if (client === next) client = undefined;
      void next.end().catch(() => undefined);
      if (!isClosed) retry = setTimeout(() => void connect(), RECONNECT_MS);
    };
    next.on('error', lose);
    next.on('end', lose);
    next.on('notification', ({ channel, payload }) => heard(channel, payload ?? '{}'));
    try {
      await next.connect();
      await next.query(`LISTEN ${TUNE_CHANGED}`);
      await next.query(`LISTEN ${DEVICE_SEEN}`);
    } catch {
      lose();
      return;
    }
    if (isClosed) {
      void next.end().catch(() => undefined);
      return;
    }
    client = next;
    for (const [tuneId, listeners] of followers) {
      for (const device of listeners.values()) say(tuneId, device, true);
      tell(tuneId, { kind: 'changed' });
    }
  }

  const beat = setInterval(() => {
    for (const [tuneId, listeners] of followers) for (const device of listeners.values()) say(tuneId, device, true);
    const now = Date.now();
    for (const [tuneId, seen] of present) {
      const gone = [...seen.values()].filter(({ until }) => until <= now);
      for (const { id } of gone) seen.delete(id);
      if (gone.length > 0) tellPresent(tuneId);
      if (seen.size === 0) present.delete(tuneId);
    }
  }, SEEN_MS.every);
  beat.unref();
  const connected = connect();

  return {
    follow: (tuneId, device, listener) => {
      const listeners = followers.get(tuneId) ?? new Map<Listener, Device>();
      followers.set(tuneId, listeners);
      listeners.set(listener, device);
      listener({ kind: 'devices', devices: devicesAt(tuneId) });
      say(tuneId, device, true);
      return () => {
        listeners.delete(listener);
        if (listeners.size === 0) followers.delete(tuneId);
        // The same device may look at it in another window.
        if (![...listeners.values()].some(({ id }) => id === device.id)) say(tuneId, device, false);
      };
    },
    close: async () => {
      isClosed = true;
      clearInterval(beat);
      clearTimeout(retry);
      await connected;
      await client?.end().catch(() => undefined);
    },
  };
}

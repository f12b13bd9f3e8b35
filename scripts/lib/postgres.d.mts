/** A private PostgreSQL cluster on loopback. */
export interface Cluster {
  /** where its data lie */
  folder: string;
  url: string;
  urlOf(database: string): string;
  createDatabase(name: string): Promise<string>;
  /** stops it, unless another program is connected */
  stop(): Promise<void>;
  /** stops it whoever is connected */
  kill(): Promise<string>;
  /** starts it again on the same port */
  start(): Promise<number>;
}

export function startCluster(home: string, options?: { settings?: Record<string, string> }): Promise<Cluster>;
export function startThrowawayCluster(options?: { copyOf?: string }): Promise<Cluster & { remove(): Promise<void> }>;
export function postgresPrograms(): Promise<string>;

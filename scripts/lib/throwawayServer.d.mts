/** The built application with the demo tunes, over a database that is thrown away by `remove`. */
export function startThrowawayServer(): Promise<{ url: string; databaseUrl: string; remove(): Promise<void> }>;

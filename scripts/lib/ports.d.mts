export function isFree(port: number, host: string): Promise<boolean>;
export function freePortFrom(wanted: number, host: string): Promise<number>;
export function anyFreePort(host: string): Promise<number>;

export function twoDevices(url: string, options: { seed: number; runs: number }): Promise<{ runs: number; sent: number; faults: string[] }>;

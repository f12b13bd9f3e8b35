export function damagedArchives(
  url: string,
  options: { seed: number; archives: number; onProgress?: (done: number) => void },
): Promise<{ accepted: number; refused: number; faults: string[] }>;

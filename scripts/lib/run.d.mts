/** Runs a program to its end; with `quiet` its output is returned. Rejects with the output where it fails. */
export function run(
  program: string,
  args: readonly string[],
  options?: { cwd?: string; env?: Record<string, string>; quiet?: boolean },
): Promise<string>;

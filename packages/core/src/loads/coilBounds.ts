/**
 * Lowest and highest load that any wiring of these coils can present: all in parallel, all in series.
 *
 * @param coilsOhm - nominal impedance of every coil, each above 0; at least one
 */
export function coilBounds(coilsOhm: readonly number[]): { lowestOhm: number; highestOhm: number } {
  return {
    lowestOhm: 1 / coilsOhm.reduce((siemens, ohm) => siemens + 1 / ohm, 0),
    highestOhm: coilsOhm.reduce((sum, ohm) => sum + ohm, 0),
  };
}

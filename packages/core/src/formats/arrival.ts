/** Tells of a file's bytes that are still coming in. */
export interface Arrival {
  /**
   * Waits until so many bytes are there, or all.
   *
   * @returns how many are there
   * @throws where no more come
   */
  until(count: number): number;
}

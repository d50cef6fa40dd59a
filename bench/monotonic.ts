/** Milliseconds of the machine's own clock, the same in all of its processes. */
export function now(): number {
  return Number(process.hrtime.bigint()) / 1e6;
}

/** Says how long each phase took. */
export class PhaseClock {
  readonly laps: Record<string, number> = {};
  private last = performance.now();

  lap(phase: string): void {
    const now = performance.now();
    this.laps[phase] = Math.round(now - this.last);
    this.last = now;
  }
}

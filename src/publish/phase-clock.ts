/** Says how long each stage took. */
export class PhaseClock {
  readonly laps: Record<string, number> = {};
  private last = performance.now();

  lap(stage: string): void {
    const now = performance.now();
    this.laps[stage] = Math.round(now - this.last);
    this.last = now;
  }
}

/** The same turn, in radians, between half a turn to the right and half a turn to the left. */
export function normalTurn(turn: number): number {
  return Math.atan2(Math.sin(turn), Math.cos(turn));
}

/**
 * The plan of a storey as a map: outlines as SVG path data in whole centimetres, x to the east and y to the north, relative
 * to the plans' corner. Nothing is measured on it.
 */
export interface StoreyPlan {
  /** As in the file; empty where the level was found in the geometry. */
  name: string;
  /** Height of the floor above the model's zero, metres. */
  floor: number;
  /** What one stands on. */
  ground: string;
  /** What stops one: walls and columns, cut above the floor. */
  walls: string;
  /** What else is cut: windows, furniture, railings. */
  light: string;
  /** Edges of steps and ramps. */
  steps: string;
}

/** The plans of a revision, from the lowest; served as `plans.json`. */
export interface RevisionPlans {
  /** South-west corner in the model's coordinates, metres. */
  corner: [number, number];
  storeys: StoreyPlan[];
}

/** Metres above a floor at which plans are cut, as is usual. */
export const PLAN_HEIGHT = 1.2;

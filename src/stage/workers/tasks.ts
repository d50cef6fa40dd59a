import type { CutInput, CutOutput } from './cut-task';
import type { DistanceInput, DistanceOutput } from './distance-task';
import type { SurfacesInput, SurfacesOutput } from './surfaces-task';
import type { TakeInput } from './take-task';
import { prepareTile, type TileInput, type TileOutput } from './tile-task';

/** What the page's workers can do: the input and output of each task. */
export interface Tasks {
  'prepare-tile': [TileInput, TileOutput];
  'load-surfaces': [SurfacesInput, SurfacesOutput];
  'element-distance': [DistanceInput, DistanceOutput];
  'cut-tiles': [CutInput, CutOutput];
  'take-along': [TakeInput, Uint8Array<ArrayBuffer>];
}

export type TaskName = keyof Tasks;

export interface TaskAnswer<Output> {
  output: Output;
  /** Buffers that are handed over instead of being copied. */
  transfer: Transferable[];
}

type TaskTable = {
  [Name in TaskName]: (input: Tasks[Name][0]) => TaskAnswer<Tasks[Name][1]> | Promise<TaskAnswer<Tasks[Name][1]>>;
};

export const TASKS: TaskTable = {
  'prepare-tile': prepareTile,
  // Loaded when they are first asked for: a guest who only looks needs none of them.
  'load-surfaces': async (input) => (await import('./surfaces-task')).loadSurfaces(input),
  'element-distance': async (input) => (await import('./distance-task')).elementDistance(input),
  'take-along': async (input) => (await import('./take-task')).takeAlong(input),
  'cut-tiles': async (input) => (await import('./cut-task')).cutTiles(input),
};

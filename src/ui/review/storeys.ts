import { placePoint } from '@/core/placement/placement';
import type { Stage } from '@/stage/stage';

export interface StoreyLevel {
  name: string;
  /** Metres above the project's zero. */
  elevation: number;
}

/** The storeys of all models from the lowest, each name once, where they stand in the project. */
export function storeysOf(stage: Stage | null): StoreyLevel[] {
  const levels = new Map<string, number>();
  for (const { index, source } of stage?.loadedModels ?? [])
    for (const { name, elevation } of index.storeys)
      if (!levels.has(name)) levels.set(name, placePoint(source.placement, [0, 0, elevation])[2]);
  return [...levels].map(([name, elevation]) => ({ name, elevation })).sort((a, b) => a.elevation - b.elevation);
}

import { columnValue } from '@/core/elements/element-index';
import type { Taken } from '@/core/take/taken';
import type { CoordinateFrame } from './coordinate-frame';
import type { StageModel } from './model/stage-model';
import type { TakenModel } from './workers/take-task';
import type { WorkerPool } from './workers/worker-pool';

/** What a file says of itself. */
export type AboutTaken = Pick<Taken, 'name' | 'author' | 'time' | 'storeys'>;

/**
 * One file of what shows, whole and where it stands in the project, at full detail.
 *
 * @param only one model, all of it, whatever shows; null for what shows of all
 */
export async function takeAlong(
  loaded: readonly StageModel[],
  frame: CoordinateFrame,
  pool: WorkerPool,
  format: 'glb' | 'ifc',
  about: AboutTaken,
  only: string | null,
): Promise<Uint8Array<ArrayBuffer>> {
  const models = loaded.filter(({ source, isAway }) => (only ? source.modelId === only : !isAway));
  return pool.run('take-along', {
    format,
    about: { ...about, georeference: homeOf(loaded) },
    models: await Promise.all(models.map((model) => taken(model, frame, only !== null))),
  });
}

/** Where the project's zero lies on the map, as the model says in whose coordinates the project is. */
function homeOf([home]: readonly StageModel[]): Taken['georeference'] {
  const isHome = home && home.source.placement.turn === 0 && home.source.placement.offset.every((part) => part === 0);
  return isHome ? home.source.georeference : null;
}

async function taken(model: StageModel, frame: CoordinateFrame, isWhole: boolean): Promise<TakenModel> {
  const { index } = model;
  return {
    tiles: (await model.finest.within(() => true)).map(({ url }) => url),
    matrix: model.group.matrixWorld.toArray(),
    zero: frame.origin,
    elements: index.guid.map((guid, row) =>
      isWhole || !model.isHidden(row)
        ? {
            guid,
            name: index.name[row]!,
            category: columnValue(index.category, row),
            storey: index.storeys[index.storey[row]!]?.name ?? '',
          }
        : null,
    ),
  };
}

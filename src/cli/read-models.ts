import { existsSync } from 'node:fs';
import { basename } from 'node:path';
import type { BuildingModel } from '@/formats/building-model';
import { ModelFileError } from '@/formats/model-file-error';
import { readModel } from '@/formats/read-model';
import { gatherParts, withOneFile } from './model-parts';

/**
 * Reads model files one after the other; models that come in parts take those beside them along.
 *
 * @throws ModelFileError with a sentence for the user
 */
export async function* readModels(files: string[]): AsyncGenerator<BuildingModel> {
  for (const model of await gatherParts(files)) {
    if (!existsSync(model.main)) throw new ModelFileError('empty', `“${model.main}” does not exist.`);
    yield await withOneFile(model, (path) => readModel(path, basename(model.main)));
  }
}

import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { PublishPhase } from '@/core/jobs/phase';
import type { PublishSettings } from '@/core/project/publish-settings';
import { ModelFileError, type ModelFileProblem } from '@/formats/model-file-error';
import { publishModel } from '../publish-model';

/** What the process that started this one asks for. */
export interface ConvertOrder {
  path: string;
  fileName: string;
  /** Gets the revision's files and `properties.json`: the facts, by row. */
  outFolder: string;
  settings: PublishSettings;
  discipline: string;
}

/** What the conversion process tells the process that started it. */
export type ConvertMessage =
  | { kind: 'progress'; phase: PublishPhase; share: number }
  | { kind: 'refused'; problem: ModelFileProblem; reason: string }
  /** The order is carried out, or refused; the next one may come. */
  | { kind: 'done' };

/** Entry of the process. Whatever goes wrong in another way than a refusal ends it. */
async function carryOut({ path, fileName, outFolder, settings, discipline }: ConvertOrder): Promise<void> {
  const tell = (message: ConvertMessage) => process.send?.(message);
  try {
    const { index, properties } = await publishModel(path, {
      fileName,
      outFolder,
      discipline,
      settings,
      onProgress: (phase, share) => tell({ kind: 'progress', phase, share }),
    });
    await writeFile(
      join(outFolder, 'properties.json'),
      JSON.stringify(index.guid.map((guid, i) => ({ guid, sets: properties[i] }))),
    );
  } catch (error) {
    if (!(error instanceof ModelFileError)) throw error;
    tell({ kind: 'refused', problem: error.problem, reason: error.message });
  }
  tell({ kind: 'done' });
}

process.on('message', (order: ConvertOrder) => void carryOut(order));
// Threads that wait for the next file would keep it.
process.on('disconnect', () => process.exit());

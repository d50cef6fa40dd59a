import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { PublishStage } from '@/core/jobs/stage';
import type { PublishSettings } from '@/core/project/publish-settings';
import { ModelFileError, type ModelFileProblem } from '@/formats/model-file-error';
import { publishModel } from './publish-model';

/** What the conversion process tells the process that started it. */
export type ConvertMessage =
  | { kind: 'progress'; stage: PublishStage; share: number }
  | { kind: 'refused'; problem: ModelFileProblem; reason: string };

/** Entry of the process: FILE NAME OUT SETTINGS (JSON) DISCIPLINE. Writes the revision's folder and `properties.json`: the facts, by row. */
async function main(): Promise<void> {
  const [path, fileName, outFolder, settings, discipline] = process.argv.slice(2) as [
    string,
    string,
    string,
    string,
    string,
  ];
  const tell = (message: ConvertMessage) => process.send?.(message);
  try {
    const { index, properties } = await publishModel(path, {
      fileName,
      outFolder,
      discipline,
      settings: JSON.parse(settings) as PublishSettings,
      onProgress: (stage, share) => tell({ kind: 'progress', stage, share }),
    });
    await writeFile(
      join(outFolder, 'properties.json'),
      JSON.stringify(index.guid.map((guid, i) => ({ guid, sets: properties[i] }))),
    );
  } catch (error) {
    if (!(error instanceof ModelFileError)) throw error;
    tell({ kind: 'refused', problem: error.problem, reason: error.message });
  }
  process.disconnect?.();
}

await main();

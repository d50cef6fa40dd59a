import { existsSync, mkdirSync, readdirSync } from 'node:fs';
import { basename, join } from 'node:path';
import type { ModelFrame } from '@/core/units/length-unit';
import { ModelFileError } from '@/formats/model-file-error';
import { convert } from '@/publish/conversion/convert';
import { config } from '@/server/config';
import { gatherParts, withOneFile } from './model-parts';
import { withOneLineErrors } from './one-line-errors';

/**
 * `yurta publish FILE… --out DIR`: the publishing pipeline without a server. One model is written into DIR itself,
 * several into a folder each; models that come in parts take those beside them along. Time and memory are limited as in
 * the server's worker.
 *
 * @param frame unit and up axis for files that name none, instead of what their shape proposes
 * @returns the exit code: 0, or 2 if a file could not be published
 */
export async function publishFiles(
  files: string[],
  out: string,
  json: boolean,
  frame: Partial<ModelFrame> = {},
): Promise<number> {
  let code = 0;
  const models = await gatherParts(files);
  for (const model of models) {
    const name = basename(model.main);
    const folder = models.length === 1 ? out : join(out, name.replace(/\.[^.]+$/, ''));
    const failed = await withOneLineErrors('publish', async () => {
      if (!existsSync(model.main)) throw new ModelFileError('empty', `“${model.main}” does not exist.`);
      if (existsSync(folder) && readdirSync(folder).length > 0)
        throw new ModelFileError('damaged', `The folder ${folder} is not empty; choose another for “${name}”.`);
      mkdirSync(folder, { recursive: true });
      const { jobMinutes, jobMemoryMb } = config();
      const limits = { minutes: jobMinutes, memoryMb: jobMemoryMb };
      const report = await withOneFile(model, (path) =>
        convert({ path, fileName: name, outFolder: folder, limits, settings: { frame } }),
      );
      const summary = {
        file: name,
        out: folder,
        ...report.source,
        frame: report.frame,
        ...report.counts,
        findings: report.findings.map(({ kind, count }) => ({ kind, count })),
        unread: report.unread.length,
        weight: report.weight,
        extent: report.extent,
        offset: report.offset,
        quantisationError: report.quantisationError,
        time: report.time,
      };
      const { tilesBrotli, indexBrotli, pictures } = report.weight;
      console.log(
        json
          ? JSON.stringify(summary)
          : `${name}: ${report.counts.elements} elements, ${report.counts.elementsWithGeometry} with geometry, ${report.unread.length} not read, ${report.counts.triangles} triangles in ${report.counts.tiles} tiles, ${Math.round((tilesBrotli + indexBrotli + pictures) / 1024)} kB as sent`,
      );
    });
    code = Math.max(code, failed);
  }
  return code;
}

import { mkdirSync, readdirSync, existsSync } from 'node:fs';
import { basename, join } from 'node:path';
import type { ModelFrame } from '@/core/units/length-unit';
import { ModelFileError } from '@/formats/model-file-error';
import { convert } from '@/publish/convert';
import { config } from '@/server/config';

/**
 * `yurta publish FILE… --out DIR`: the publishing pipeline without a server. One file is written into DIR itself,
 * several into a folder each. Time and memory are limited as in the server's worker.
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
  for (const file of files) {
    const name = basename(file);
    const folder = files.length === 1 ? out : join(out, name.replace(/\.[^.]+$/, ''));
    try {
      if (!existsSync(file)) throw new ModelFileError('empty', `“${file}” does not exist.`);
      if (existsSync(folder) && readdirSync(folder).length > 0)
        throw new ModelFileError('damaged', `The folder ${folder} is not empty; choose another for “${name}”.`);
      mkdirSync(folder, { recursive: true });
      const { jobMinutes, jobMemoryMb } = config();
      const limits = { minutes: jobMinutes, memoryMb: jobMemoryMb };
      const report = await convert({ path: file, fileName: name, outFolder: folder, limits, settings: { frame } });
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
      console.log(
        json
          ? JSON.stringify(summary)
          : `${name}: ${report.counts.elements} elements, ${report.counts.elementsWithGeometry} with geometry, ${report.unread.length} not read, ${report.counts.triangles} triangles in ${report.counts.tiles} tiles, ${Math.round((report.weight.tilesBrotli + report.weight.indexBrotli) / 1024)} kB as sent`,
      );
    } catch (error) {
      if (!(error instanceof ModelFileError) && !isFileSystemError(error)) throw error;
      console.error(`yurta publish: ${error.message}`);
      code = 2;
    }
  }
  return code;
}

function isFileSystemError(error: unknown): error is NodeJS.ErrnoException {
  return error instanceof Error && 'code' in error && typeof error.code === 'string' && /^E[A-Z]+$/.test(error.code);
}

import { rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { brotliCompressSync, constants } from 'node:zlib';
import { NodeIO } from '@gltf-transform/core';
import { ALL_EXTENSIONS } from '@gltf-transform/extensions';
import { dedup, flatten, instance, join as joinMeshes, meshopt, palette, prune, weld } from '@gltf-transform/functions';
import { MeshoptEncoder } from 'meshoptimizer';
import { readModel } from '@/formats/read-model';
import { publishModel } from '@/publish/publish-model';
import { withInputs } from './inputs';
import { round, tell } from './measure';
import { plainGlb } from './plain-glb';

/** Bytes as sent for full detail with the contents, beside those of a GLB that has lost the elements. */
await withInputs('weight', async (forEachInput, _runs, scratch) => {
  await MeshoptEncoder.ready;
  await forEachInput(async ({ path, name }) => {
    const out = join(scratch, 'out');
    await rm(out, { recursive: true, force: true });
    const { report } = await publishModel(path, { fileName: name, outFolder: out });
    const { weight, counts } = report;
    const document = plainGlb(await readModel(path, name));
    await document.transform(
      dedup(),
      instance({ min: 2 }),
      palette({ min: 2 }),
      flatten(),
      joinMeshes(),
      weld(),
      prune(),
      meshopt({ encoder: MeshoptEncoder, level: 'high' }),
    );
    const glb = await new NodeIO()
      .registerExtensions(ALL_EXTENSIONS)
      .registerDependencies({ 'meshopt.encoder': MeshoptEncoder })
      .writeBinary(document);
    const reference = brotliCompressSync(glb, { params: { [constants.BROTLI_PARAM_QUALITY]: 9 } }).length;
    const ours = weight.tilesBrotli + weight.indexBrotli;
    tell('weight', name, {
      megabytes: round((await stat(path)).size / 1e6, 1),
      elements: counts.elements,
      triangles: counts.triangles,
      bytes: ours,
      ofThemContents: weight.indexBrotli,
      reference,
      ratio: round(ours / reference, 2),
    });
  });
});

import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Document, NodeIO } from '@gltf-transform/core';
import { KHRTextureBasisu } from '@gltf-transform/extensions';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { ModelFileError } from '../model-file-error';
import { readModel } from '../read-model';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'gltf-'));
});
afterAll(() => rm(folder, { recursive: true }));

async function read(content: string | Uint8Array, name: string) {
  const path = join(folder, name);
  await writeFile(path, content);
  return readModel(path, name);
}

it('says of the first version which one it is, in text too', async () => {
  // As in version 1: objects where version 2 has lists.
  const old = { asset: { version: '1.0' }, buffers: { b: { uri: 'b.bin' } }, meshes: {}, scenes: {} };
  for (const text of [JSON.stringify(old), JSON.stringify({ ...old, asset: undefined })]) {
    const refused = read(text, 'truck.gltf');
    await expect(refused).rejects.toBeInstanceOf(ModelFileError);
    await expect(refused).rejects.toMatchObject({
      problem: 'unsupported',
      message: expect.stringContaining('version 1'),
    });
  }
});

it('takes pictures in KTX2 from where the extension has them', async () => {
  const document = new Document();
  const buffer = document.createBuffer();
  document.createExtension(KHRTextureBasisu).setRequired(true);
  const bytes = Uint8Array.of(
    0xab,
    0x4b,
    0x54,
    0x58,
    0x20,
    0x32,
    0x30,
    0xbb,
    0x0d,
    0x0a,
    0x1a,
    0x0a,
    ...new Array<number>(68).fill(0),
  );
  const picture = document.createTexture('boards').setImage(bytes).setMimeType('image/ktx2');
  const accessor = (array: Float32Array<ArrayBuffer>, type: 'VEC2' | 'VEC3') =>
    document.createAccessor().setArray(array).setType(type).setBuffer(buffer);
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0), 'VEC3'))
    .setAttribute('TEXCOORD_0', accessor(Float32Array.of(0, 0, 1, 0, 0, 1), 'VEC2'))
    .setMaterial(document.createMaterial('Floor').setBaseColorTexture(picture));
  document.createScene().addChild(document.createNode('Floor').setMesh(document.createMesh().addPrimitive(primitive)));
  const glb = await new NodeIO().registerExtensions([KHRTextureBasisu]).writeBinary(document);
  const model = await read(glb, 'floor.glb');
  expect(model.textures).toMatchObject([{ name: 'boards' }]);
  expect([...model.textures[0]!.bytes]).toEqual([...bytes]);
  expect(model.materials[model.placements[0]!.material]!.texture).toBe(0);
});

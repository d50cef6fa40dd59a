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

/** A sheet of two triangles in glTF text. @param change what is otherwise */
function sheet(change: { indices?: number[]; corner?: number; more?: object; primitive?: object } = {}): string {
  const places = Float32Array.of(0, 0, 0, 1, 0, 0, 1, 1, 0, 0, change.corner ?? 1, 0);
  const indices = Uint16Array.from(change.indices ?? [0, 1, 2, 0, 2, 3]);
  const bytes = Buffer.concat([Buffer.from(places.buffer), Buffer.from(indices.buffer)]);
  return JSON.stringify({
    asset: { version: '2.0' },
    buffers: [{ byteLength: bytes.length, uri: `data:application/octet-stream;base64,${bytes.toString('base64')}` }],
    bufferViews: [
      { buffer: 0, byteLength: 48 },
      { buffer: 0, byteOffset: 48, byteLength: 12 },
    ],
    accessors: [
      { bufferView: 0, componentType: 5126, count: 4, type: 'VEC3' },
      { bufferView: 1, componentType: 5123, count: 6, type: 'SCALAR' },
    ],
    meshes: [{ primitives: [{ attributes: { POSITION: 0 }, indices: 1, ...change.primitive }] }],
    nodes: [{ name: 'Sheet', mesh: 0 }],
    scenes: [{ nodes: [0] }],
    ...change.more,
  });
}

it('leaves out only the triangles whose corners are not there or no numbers', async () => {
  for (const change of [{ indices: [0, 1, 2, 0, 2, 9] }, { corner: Infinity }]) {
    const model = await read(sheet(change), 'sheet.gltf');
    expect([...model.geometries[0]!.indices]).toEqual([0, 1, 2]);
    expect(model.geometries[0]!.positions.every(Number.isFinite)).toBe(true);
    expect(model.warnings).toMatchObject([
      { name: 'Sheet', reason: expect.stringContaining('a triangle names corners') },
    ]);
  }
  await expect(read(sheet({ indices: [9, 9, 9, 9, 9, 9] }), 'sheet.gltf')).rejects.toThrow('make no sense');
});

it('passes over what it need not know, and says so where the file calls it needed', async () => {
  const odd = { EXT_structural_metadata: { schema: { classes: [] } } };
  const known = await read(sheet({ more: { extensionsUsed: ['EXT_structural_metadata'], extensions: odd } }), 'a.gltf');
  expect(known.warnings).toEqual([]);
  const unlit = { extensionsUsed: ['KHR_materials_unlit'], extensionsRequired: ['KHR_materials_unlit'] };
  expect((await read(sheet({ more: unlit }), 'u.gltf')).warnings).toEqual([]);
  const more = { extensionsUsed: ['XY_paint'], extensionsRequired: ['XY_paint'] };
  const needed = await read(sheet({ more }), 'b.gltf');
  expect(needed.placements.length).toBe(1);
  expect(needed.warnings[0]!.reason).toContain('XY_paint');
  // Without it nothing is there to be shown.
  const packed = sheet({ more, primitive: { attributes: {}, extensions: { XY_paint: {} } } });
  await expect(read(packed, 'c.gltf')).rejects.toMatchObject({ problem: 'unsupported' });
});

it('is refused in words where it breaks the rules of the format', async () => {
  const glow = [{ emissiveFactor: 1 }]; // a number where three should be
  for (const more of [{ meshes: 'none' }, { buffers: [] }, { nodes: [{ mesh: -1 }] }, { materials: glow }])
    await expect(read(sheet({ primitive: { material: 0 }, more }), 'broken.gltf')).rejects.toMatchObject({
      message: expect.stringMatching(/“broken.gltf” (could not be read as glTF: it names data|is glTF, but its scene)/),
    });
  await expect(read('{"asset":{"version":"2.0"},"scenes":[', 'cut.gltf')).rejects.toThrow('no whole JSON');
});

it('shows glass that is told by the light it lets through, and lamps by the light they give', async () => {
  const look = async (material: object, extensionsUsed: string[] = []) => {
    const more = { materials: [material], extensionsUsed, images: [PICTURE], textures: [{ source: 0 }] };
    const model = await read(sheet({ primitive: { material: 0 }, more }), 'look.gltf');
    const { color, ...rest } = model.materials[model.placements[0]!.material]!;
    return { ...rest, color: color.map((part) => Number(part.toFixed(6))) };
  };
  const black = { pbrMetallicRoughness: { baseColorFactor: [0, 0, 0, 1] } };
  const pane = { KHR_materials_transmission: { transmissionFactor: 1 } };
  const glass = await look({ extensions: pane }, ['KHR_materials_transmission']);
  expect(glass.color).toEqual([1, 1, 1, 0.2]);
  expect((await look({ ...black, emissiveFactor: [1, 0, 0] })).color).toEqual([1, 0, 0, 1]);
  // A screen: black, but for the picture that it gives off.
  const screen = await look({ ...black, emissiveFactor: [1, 1, 1], emissiveTexture: { index: 0 } });
  expect(screen).toMatchObject({ color: [1, 1, 1, 1], texture: 0 });
  // On a white wall the picture of some small lights is not the wall's.
  const wall = await look({ emissiveFactor: [1, 1, 1], emissiveTexture: { index: 0 } });
  expect(wall.color).toEqual([1, 1, 1, 1]);
  expect(wall.texture).toBeUndefined();
});

/** One pixel of PNG. */
const PICTURE = {
  uri: 'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
};

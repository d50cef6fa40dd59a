import { readFile } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import { BufferAttribute, BufferGeometry, Mesh, MeshStandardMaterial } from 'three';
import { STLLoader } from 'three/addons/loaders/STLLoader.js';
import { uniqueRows } from '@/core/mesh/unique-rows';
import type { BuildingModel } from '../building-model';
import { ModelBuilder } from '../model-builder';
import { ModelFileError } from '../model-file-error';
import { settleFrame } from '../model-frame';
import type { ReadOptions } from '../read-model';
import type { SourceFile } from '../source-file';
import { readScene } from '../three-scene/read-scene';
import { BYTES_A_TRIANGLE, HEADER } from './is-binary-stl';

/**
 * Reads STL, text or binary, as one element. The format knows neither unit nor up axis nor materials.
 *
 * @throws ModelFileError if it breaks off or holds no triangle
 */
export async function readStl({ path, fileName }: SourceFile, options: ReadOptions): Promise<BuildingModel> {
  const bytes = await readFile(path);
  checkWhole(bytes, fileName);
  const geometry = new STLLoader().parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
  options.onProgress?.(0.5);
  const mesh = new Mesh(joined(geometry), new MeshStandardMaterial({ color: '#d9d4c8' }));
  mesh.name = basename(fileName, extname(fileName));
  const builder = new ModelBuilder({ format: 'STL', schema: isText(bytes) ? 'text' : 'binary', fileName, program: '' });
  readScene(builder, mesh);
  if (builder.model.placements.length === 0)
    throw new ModelFileError('nothing-inside', `“${fileName}” is an STL file without a triangle.`);
  settleFrame(builder.model, {}, 'Z', options.frame ?? {});
  return builder.model;
}

/** Facets come with corners of their own; equal ones become one. Normals and all else follow from the corners. */
function joined(facets: BufferGeometry): BufferGeometry {
  const corners = facets.getAttribute('position').array as Float32Array<ArrayBuffer>;
  const { of, first } = uniqueRows(new Int32Array(corners.buffer, corners.byteOffset, corners.length), 3);
  const positions = new Float32Array(first.length * 3);
  first.forEach((corner, i) => positions.set(corners.subarray(corner * 3, corner * 3 + 3), i * 3));
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(positions, 3));
  geometry.setIndex(new BufferAttribute(of, 1));
  return geometry;
}

/** Text begins with “solid”; so do some binary files, which then have exactly the length that they announce. */
function isText(bytes: Buffer): boolean {
  const announced = bytes.length >= HEADER ? HEADER + bytes.readUInt32LE(HEADER - 4) * BYTES_A_TRIANGLE : -1;
  return bytes.toString('latin1', 0, 5) === 'solid' && announced !== bytes.length;
}

function checkWhole(bytes: Buffer, fileName: string): void {
  const whole = isText(bytes)
    ? /endsolid/i.test(bytes.toString('latin1', Math.max(0, bytes.length - 4096)))
    : bytes.length >= HEADER && bytes.length >= HEADER + bytes.readUInt32LE(HEADER - 4) * BYTES_A_TRIANGLE;
  if (!whole)
    throw new ModelFileError(
      'truncated',
      `“${fileName}” is an STL file that breaks off before its end. Copy or export it again.`,
    );
}

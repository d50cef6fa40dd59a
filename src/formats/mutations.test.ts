import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Document, NodeIO } from '@gltf-transform/core';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { convert } from '@/publish/conversion/convert';
import { trees } from './gltf/test-trees';
import { cube, drum } from './ifc/test-breps';
import { extrusion, ifcFile, proxy, rectangle } from './ifc/test-file';
import { ModelFileError } from './model-file-error';
import { readModel } from './read-model';
import { binaryStl, DAE, GBXML, MODEL_3MF, PLY, TABLE_MTL, TABLE_OBJ, TEXT_STL, threeMf, zip } from './test-samples';

/** What a file may suffer on its way: bytes changed, a part lost, a part doubled, an end cut off. */
type Damage =
  | { kind: 'bytes'; at: number[]; value: number[] }
  | { kind: 'lost'; from: number; length: number }
  | { kind: 'doubled'; from: number; length: number }
  | { kind: 'cut'; at: number };

const share = fc.double({ min: 0, max: 1, noNaN: true });
const damage: fc.Arbitrary<Damage> = fc.oneof(
  fc.record({
    kind: fc.constant('bytes' as const),
    at: fc.array(share, { minLength: 1, maxLength: 12 }),
    value: fc.array(fc.nat(255), { minLength: 12, maxLength: 12 }),
  }),
  fc.record({ kind: fc.constant('lost' as const), from: share, length: fc.nat(200) }),
  fc.record({ kind: fc.constant('doubled' as const), from: share, length: fc.nat(200) }),
  fc.record({ kind: fc.constant('cut' as const), at: share }),
);

function suffer(whole: Uint8Array, what: Damage): Uint8Array {
  const place = (at: number) => Math.min(whole.length - 1, Math.floor(at * whole.length));
  switch (what.kind) {
    case 'bytes': {
      const out = whole.slice();
      what.at.forEach((at, i) => (out[place(at)] = what.value[i]!));
      return out;
    }
    case 'lost': {
      const from = place(what.from);
      return Buffer.concat([whole.subarray(0, from), whole.subarray(from + what.length)]);
    }
    case 'doubled': {
      const from = place(what.from);
      const part = whole.subarray(from, from + what.length);
      return Buffer.concat([whole.subarray(0, from), part, whole.subarray(from)]);
    }
    case 'cut':
      return whole.subarray(0, place(what.at));
  }
}

/** Damaged files of every format; MUTATIONS=1000 tries a thousand. IFC takes a process each and gets fewer. */
const RUNS = Number(process.env.MUTATIONS ?? 120);

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'mutations-'));
});
afterAll(() => rm(folder, { recursive: true }));

async function glb(): Promise<Uint8Array> {
  const document = new Document();
  const buffer = document.createBuffer();
  const accessor = (type: 'VEC3' | 'SCALAR', array: Float32Array<ArrayBuffer> | Uint16Array<ArrayBuffer>) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor('VEC3', Float32Array.of(0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0)))
    .setIndices(accessor('SCALAR', Uint16Array.of(0, 1, 2, 0, 2, 3)))
    .setMaterial(document.createMaterial('Felt').setBaseColorFactor([0.5, 0.4, 0.3, 1]));
  const scene = document.createScene();
  for (let i = 0; i < 4; i++)
    scene.addChild(
      document
        .createNode(`Stool ${i}`)
        .setMesh(document.createMesh().addPrimitive(primitive))
        .setTranslation([i, 0, 0])
        .setExtras({ seat: i }),
    );
  return new NodeIO().writeBinary(document);
}

/** The reason for which a file is refused, or null if it is read all the same. Anything else is a mistake of ours. */
async function outcome(work: Promise<unknown>): Promise<string | null> {
  try {
    await work;
    return null;
  } catch (error) {
    if (error instanceof ModelFileError) return error.message;
    throw error;
  }
}

describe('a damaged file', () => {
  it.each([
    ['stools.glb', glb],
    ['park.gltf', () => Buffer.from(trees())],
    ['table.obj', () => Buffer.from(TABLE_OBJ)],
    ['table.zip', () => zip({ 'table.obj': TABLE_OBJ, 'table.mtl': TABLE_MTL })],
    ['knob.stl', () => binaryStl()],
    ['sheet.stl', () => Buffer.from(TEXT_STL)],
    ['scan.ply', () => Buffer.from(PLY)],
    ['step.dae', () => Buffer.from(DAE)],
    ['pair.3mf', () => threeMf(MODEL_3MF)],
    ['energy.xml', () => Buffer.from(GBXML.replace('UTF-16', 'UTF-8'))],
  ] as [string, () => Promise<Uint8Array> | Uint8Array][])(
    '%s is read or refused with its name and a reason, whatever happened to it',
    async (name, make) => {
      const whole = await make();
      const path = join(folder, name);
      let refused = 0;
      await fc.assert(
        fc.asyncProperty(damage, async (what) => {
          await writeFile(path, suffer(whole, what));
          const reason = await outcome(readModel(path, name));
          if (reason === null) return;
          refused++;
          expect(reason).toContain(`“${name}”`);
          expect(reason.length).toBeGreaterThan(30);
        }),
        { numRuns: RUNS, seed: 7 },
      );
      expect(refused).toBeGreaterThan(RUNS / 20);
    },
    600_000,
  );

  it('of IFC ends with a result or a reason within the limits, and never takes the program along', async () => {
    const whole = Buffer.from(
      ifcFile(
        proxy(100, 'Box', '#110') +
          extrusion(110, rectangle(1, 1), 1) +
          proxy(200, 'Cube', '#210', 'Brep') +
          cube(210, [2, 0, 0], 1) +
          proxy(300, 'Drum', '#310', 'AdvancedBrep') +
          drum(310, 0.5, 2),
      ),
      'latin1',
    );
    let run = 0;
    await fc.assert(
      fc.asyncProperty(damage, async (what) => {
        const path = join(folder, `box-${run++}`);
        await writeFile(path, suffer(whole, what));
        const limits = { minutes: 0.1, memoryMb: 1500 };
        const conversion = convert({ path, fileName: 'box.ifc', outFolder: `${path}-out`, limits });
        const reason = await outcome(conversion);
        if (reason !== null) expect(reason).toContain('“box.ifc”');
      }),
      { numRuns: Math.ceil(RUNS / 8), seed: 11, endOnFailure: true },
    );
  }, 3_600_000);
});

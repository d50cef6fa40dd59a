import { IfcAPI, LogLevel, type FlatMesh, type PlacedGeometry } from 'web-ifc';
import { beforeAll, describe, expect, it } from 'vitest';
import { architectureIfc } from '@/demo/library/architecture';
import { LibraryMemory } from './library-memory';
import { Placements, type PlacementColumns } from './placements';

interface Said {
  product: number;
  item: number;
  colour: number[];
  matrix: number[];
}

const rows = ({ product, item, colour, matrix }: PlacementColumns): Said[] =>
  Array.from(product, (id, row) => ({
    product: id,
    item: item[row]!,
    colour: [...colour.subarray(row * 4, row * 4 + 4)],
    matrix: [...matrix.subarray(row * 16, row * 16 + 16)],
  }));

describe('placements of the demo’s architecture', () => {
  const api = new IfcAPI();
  const said: Said[] = [];
  let asked = 0;
  let columns: PlacementColumns;

  beforeAll(async () => {
    await api.Init();
    api.SetLogLevel(LogLevel.LOG_LEVEL_OFF);
    const placements = new Placements(new LibraryMemory(api));
    api.StreamAllMeshes(api.OpenModel(Buffer.from(architectureIfc(3))), (mesh) => {
      const { geometries } = mesh;
      for (let i = 0; i < geometries.size(); i++) {
        const { geometryExpressID, color, flatTransformation } = geometries.get(i);
        said.push({
          product: mesh.expressID,
          item: geometryExpressID,
          colour: [color.x, color.y, color.z, color.w],
          matrix: [...flatTransformation],
        });
      }
      const get = geometries.get.bind(geometries);
      geometries.get = (i: number) => (asked++, get(i));
      placements.add(mesh);
    });
    columns = placements.take();
    return () => api.Dispose();
  });

  it('are what the library says of them', () => {
    expect(said.length).toBeGreaterThan(3000);
    expect(rows(columns)).toEqual(said);
  });

  it('are read from its memory, but for the first', () => {
    expect(asked).toBe(1);
  });
});

describe('a library that lays its memory out otherwise', () => {
  const matrix = Array.from({ length: 16 }, (_, i) => i / 7);
  const placed = (item: number): PlacedGeometry => ({
    geometryExpressID: item,
    color: { x: 0.1, y: 0.2, z: 0.3, w: 0.4 },
    flatTransformation: matrix,
  });
  const expected = (product: number, item: number): Said => ({
    product,
    item,
    colour: [0.1, 0.2, 0.3, 0.4],
    matrix,
  });
  const mesh = (expressID: number, items: number[], handle: object): FlatMesh =>
    ({
      expressID,
      geometries: { size: () => items.length, get: (i: number) => placed(items[i]!), ...handle },
    }) as unknown as FlatMesh;
  /** @param words what lies in the library's memory */
  const read = (words: Uint32Array<ArrayBuffer>, meshes: FlatMesh[]) => {
    const memory = new LibraryMemory({ wasmModule: { HEAPU8: new Uint8Array(words.buffer) } } as IfcAPI);
    const placements = new Placements(memory);
    const firsts = meshes.map((one) => placements.add(one));
    return { firsts, rows: rows(placements.take()) };
  };

  it.each([
    ['whose handles tell no place', new Uint32Array(0), {}],
    ['whose lists are outside of its memory', Uint32Array.of(0, 0, 8, 8 + 296), { $$: { ptr: 8 } }],
    [
      'whose rows are of another size',
      Uint32Array.of(8, 8 + 288, ...new Array<number>(72).fill(0)),
      { $$: { ptr: 0 } },
    ],
    ['whose rows hold other things', Uint32Array.of(8, 8 + 296, ...new Array<number>(74).fill(0)), { $$: { ptr: 0 } }],
  ])('is asked: one %s', (_, words, handle) => {
    expect(read(words, [mesh(5, [11], handle), mesh(6, [], {}), mesh(7, [12, 11], {})])).toEqual({
      firsts: [0, 1, 1],
      rows: [expected(5, 11), expected(7, 12), expected(7, 11)],
    });
  });
});

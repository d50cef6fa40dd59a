import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { readModel } from '@/formats/read-model';
import { placeGeometry } from '@/publish/geometry/element-geometry';
import { examine } from '@/publish/examination/examine';
import { prepare } from '@/publish/prepare';
import { practiceIfc } from './practice';

it('holds pieces of many facets, closed and no two alike, and walls with openings', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'practice-'));
  try {
    const path = join(folder, 'practice.ifc');
    await writeFile(path, practiceIfc());
    const model = await readModel(path, 'practice.ifc');
    expect(model.warnings).toEqual([]);
    const rows = (name: string) => model.elements.name.flatMap((own, row) => (own === name ? [row] : []));
    const { pieces, elementBoxes } = placeGeometry(model);
    const shapes = pieces.filter(({ element }) => rows('Piece').includes(element));
    expect(shapes.length).toBe(72);
    expect(Math.min(...shapes.map(({ indices }) => indices.length / 3))).toBeGreaterThan(300);
    const sizes = rows('Piece').map((row) =>
      [0, 1].map((axis) => elementBoxes[row * 6 + axis + 3]! - elementBoxes[row * 6 + axis]!),
    );
    expect(new Set(sizes.map((size) => size.map((metres) => metres.toFixed(4)).join())).size).toBe(72);
    // A box of twelve triangles has more of them around a hole.
    const walls = pieces.filter(({ element }) => rows('Wall').includes(element));
    expect(walls.map(({ indices }) => indices.length / 3 > 12)).toEqual(Array.from({ length: 24 }, () => true));
    const { placed } = await prepare(model, {});
    const found = (await examine(model, placed)).findings.map(({ kind }) => kind);
    expect(found).not.toContain('inside-out');
    expect(found).not.toContain('open-shell');
  } finally {
    await rm(folder, { recursive: true });
  }
});

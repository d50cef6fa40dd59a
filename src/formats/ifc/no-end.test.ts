import { expect, it } from 'vitest';
import { shownClasses } from './product-classes';
import { Shapes } from './shapes';
import { cube } from './test-breps';
import { ifcFile, proxy } from './test-file';

/** Three cubes. With the second, the library comes to no end where a line breaks off in the middle of its numbers. */
const cubes = [100, 200, 300].map(
  (id) => proxy(id, `Cube ${id}`, `#${id + 10}`, 'Brep') + cube(id + 10, [id, 0, 0], 1),
);
const loop = /(#222=IFCPOLYLOOP\(\(#\d+,#\d+),#\d+,#\d+\)\);/;

async function build(text: string, patience: number) {
  const content = Buffer.from(text);
  const bytes = new SharedArrayBuffer(content.length);
  Buffer.from(bytes).set(content);
  const shapes = new Shapes({ bytes, schema: 'IFC4' }, patience);
  shapes.begin(shownClasses('IFC4'));
  const shown: number[] = [];
  try {
    const failures = await shapes.build({
      onProgress: () => undefined,
      onShapes: () => undefined,
      onPlacements: ({ product }) => void shown.push(...product),
    });
    return { failures, shown, items: [...shapes.geometries.keys()].sort() };
  } finally {
    await shapes.end();
  }
}

it(
  'leaves out a product with which the library comes to no end, and shows all others once',
  { timeout: 120_000 },
  async () => {
    expect(cubes[1]).toMatch(loop);
    const broken = cubes[1]!.replace(loop, '$1');
    const { failures, shown, items } = await build(ifcFile(cubes[0]! + broken + cubes[2]!), 3000);
    expect([...failures!]).toEqual([[200, expect.stringContaining('came to no end')]]);
    expect(shown).toEqual([100, 300]);
    expect(items).toEqual([110, 310]);
    // Where it is so with all of them, nothing is left to show, and nobody waits for the last.
    const all = Array.from({ length: 9 }, (_, i) => 1000 + i * 100)
      .map((id) => proxy(id, '', '#210', 'Brep'))
      .join('');
    expect((await build(ifcFile(broken + all), 3000)).failures).toBeNull();
    // The next file is not the worse for it.
    expect(await build(ifcFile(cubes.join('')), 3000)).toMatchObject({ failures: new Map(), shown: [100, 200, 300] });
  },
);

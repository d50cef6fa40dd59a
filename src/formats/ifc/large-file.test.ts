import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Geometry } from '../building-model';
import { readModel } from '../read-model';
import { extrusion, ifcFile, proxy, rectangle } from './test-file';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'beside-'));
});
afterAll(() => rm(folder, { recursive: true }));

const guid = (id: number) => `'R${String(id).padStart(21, '0')}'`;

/** A thing of a type with facts, some of its own, and a definition that is missing. */
const THING =
  proxy(100, 'Thing', '#110') +
  extrusion(110, rectangle(1, 1), 1) +
  `#200=IFCPROPERTYSET(${guid(200)},#5,'Pset_Own',$,(#201,#202));
#201=IFCPROPERTYSINGLEVALUE('Label',$,IFCLABEL('Böschung \\X2\\00DF\\X0\\'),$);
#202=IFCPROPERTYSINGLEVALUE('Size',$,IFCLENGTHMEASURE(2.5),$);
#203=IFCRELDEFINESBYPROPERTIES(${guid(203)},#5,$,$,(#100),#200);
#204=IFCRELDEFINESBYPROPERTIES(${guid(204)},#5,$,$,(#100),#999);
#210=IFCPROPERTYSET(${guid(210)},#5,'Pset_Own',$,(#211,#212));
#211=IFCPROPERTYSINGLEVALUE('Label',$,IFCLABEL('of the type'),$);
#212=IFCPROPERTYSINGLEVALUE('Only there',$,IFCBOOLEAN(.T.),$);
#220=IFCBUILDINGELEMENTPROXYTYPE(${guid(220)},#5,'Kind',$,$,(#210),$,$,$,.NOTDEFINED.);
#221=IFCRELDEFINESBYTYPE(${guid(221)},#5,$,$,(#100),#220);
`;

it('gives a large file the shapes, the facts and the gaps that it has in a small one', async () => {
  // Points that nothing refers to.
  const ballast = Array.from(
    { length: 60_000 },
    (_, i) => `#${10_000 + i}=IFCCARTESIANPOINT((${i}.,${i}.5,1000000.25,0.));`,
  );
  const read = async (lines: string) => {
    const path = join(folder, 'model.ifc');
    const text = ifcFile(lines);
    await writeFile(path, text);
    const ahead: Geometry[] = [];
    const { properties, warnings, geometries, placements } = await readModel(path, 'model.ifc', {
      onShapes: (shapes) => ahead.push(...shapes),
    });
    // Told of before, they are those of the model, not copies.
    expect(ahead).toHaveLength(geometries.length);
    for (const geometry of geometries) expect(ahead).toContain(geometry);
    return { size: text.length, properties, warnings, geometries, placements };
  };
  const [small, large] = [await read(THING), await read(THING + ballast.join('\n'))];
  // By the thread that has built the shapes of the last, and does not know what was in that.
  const taller = await read(
    THING.replace(extrusion(110, rectangle(1, 1), 1), extrusion(110, rectangle(1, 1), 2)) + ballast.join('\n'),
  );
  expect(large.size).toBeGreaterThan(small.size * 300);
  expect(small.geometries[0]!.indices).toHaveLength(36);
  expect(small.properties[0]).toMatchObject({
    Pset_Own: { Label: 'Böschung ß', Size: 2.5, 'Only there': true },
    Identity: { Type: 'Kind' },
  });
  expect(small.warnings).toMatchObject([{ reason: expect.stringContaining('#999') }]);
  expect({ ...large, size: 0 }).toEqual({ ...small, size: 0 });
  const height = ({ geometries: [thing] }: typeof small) => {
    const levels = thing!.positions.filter((_, i) => i % 3 === 2);
    return Math.max(...levels) - Math.min(...levels);
  };
  expect([height(large), height(taller)]).toEqual([1, 2]);
  expect(taller.geometries).toHaveLength(1);
});

import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { boxSize, emptyBox, expandByPoint, type Box3 } from '@/core/math/box3';
import { determinant3, transformPoint } from '@/core/math/mat4';
import type { BuildingModel } from '../building-model';
import { readModel } from '../read-model';
import { cube, drum } from './test-breps';
import { extrusion, FOOT, ifcFile, MILLIMETRE, polyline, proxy, reals, rectangle } from './test-file';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'shapes-'));
});
afterAll(() => rm(folder, { recursive: true }));

async function read(content: string): Promise<BuildingModel> {
  const path = join(folder, 'shapes.ifc');
  await writeFile(path, content, 'latin1');
  return readModel(path, 'shapes.ifc');
}

interface Solid {
  box: Box3;
  size: number[];
  /** Signed by the sense of the triangles: positive when they look outwards. Cubic metres. */
  volume: number;
}

/** Box and volume of one element: the sum of the tetrahedra between its triangles and a corner of its box. */
function solid(model: BuildingModel, name: string): Solid {
  const row = model.elements.name.indexOf(name);
  const box = emptyBox();
  const triangles: [number, number, number][][] = [];
  for (const { element, geometry, matrix } of model.placements) {
    if (element !== row) continue;
    const { positions, indices } = model.geometries[geometry]!;
    const corner = (i: number) =>
      transformPoint(matrix, positions[i * 3]!, positions[i * 3 + 1]!, positions[i * 3 + 2]!);
    for (let i = 0; i < indices.length; i += 3) {
      const three = [corner(indices[i]!), corner(indices[i + 1]!), corner(indices[i + 2]!)];
      for (const point of three) expandByPoint(box, ...point);
      triangles.push(determinant3(matrix) < 0 ? three.reverse() : three);
    }
  }
  const volume = triangles.reduce((sum, [a, b, c]) => {
    const [p, q, r] = [a!, b!, c!].map((point) => point.map((value, axis) => value - box[axis]!)) as number[][];
    return (
      sum +
      (p![0]! * (q![1]! * r![2]! - q![2]! * r![1]!) -
        p![1]! * (q![0]! * r![2]! - q![2]! * r![0]!) +
        p![2]! * (q![0]! * r![1]! - q![1]! * r![0]!)) /
        6
    );
  }, 0);
  return { box, size: boxSize(box), volume };
}

function near(actual: ArrayLike<number>, expected: number[], digits = 4): void {
  expect(actual.length).toBe(expected.length);
  expected.forEach((value, i) => expect(actual[i]).toBeCloseTo(value, digits));
}

/** The volume of a prism over the regular 16-gon in which the reader draws a circle, relative to the true cylinder. */
const SIXTEEN_SIDES = (16 / (2 * Math.PI)) * Math.sin((2 * Math.PI) / 16);

describe('lengths', () => {
  it('become metres from feet and from millimetres', async () => {
    const body = proxy(100, 'Box', '#110') + extrusion(110, rectangle(10, 1), 8);
    const feet = solid(await read(ifcFile(body, { lengthUnit: FOOT })), 'Box');
    near(feet.size, [3.048, 0.3048, 2.4384]);
    const millimetres = solid(
      await read(
        ifcFile(proxy(100, 'Box', '#110') + extrusion(110, rectangle(2500, 120), 3000), { lengthUnit: MILLIMETRE }),
      ),
      'Box',
    );
    near(millimetres.size, [2.5, 0.12, 3]);
  });

  it('keep their precision thousands of kilometres from zero', async () => {
    // A surveyed cube: every corner in map coordinates, as terrain and old exports have it.
    const [east, north] = [2_500_000, 6_700_000];
    const placed = await read(
      ifcFile(
        proxy(100, 'Brep', '#110', 'Brep') +
          cube(110, [east, north, 40], 1) +
          proxy(200, 'Placed', '#220', 'SweptSolid', '#210') +
          `#210=IFCLOCALPLACEMENT($,#211);
#211=IFCAXIS2PLACEMENT3D(#212,$,$);
#212=IFCCARTESIANPOINT(${reals(east + 2, north, 40)});
` +
          extrusion(220, rectangle(1, 1), 1),
      ),
    );
    const brep = solid(placed, 'Brep');
    near(brep.box, [east, north, 40, east + 1, north + 1, 41], 3);
    expect(brep.volume).toBeCloseTo(1, 3);
    near(solid(placed, 'Placed').box, [east + 1.5, north - 0.5, 40, east + 2.5, north + 0.5, 41], 3);
  });
});

describe('swept solids', () => {
  it('have the area of their profile times their depth', async () => {
    const model = await read(
      ifcFile(
        proxy(100, 'I', '#110') +
          extrusion(110, `IFCISHAPEPROFILEDEF(.AREA.,'IPE',#21,0.1,0.2,0.0056,0.0085,$,$,$)`, 6) +
          proxy(200, 'Tube', '#210') +
          extrusion(210, 'IFCCIRCLEHOLLOWPROFILEDEF(.AREA.,$,#21,0.5,0.1)', 2) +
          proxy(300, 'Frame', '#310') +
          extrusion(310, 'IFCARBITRARYPROFILEDEFWITHVOIDS(.AREA.,$,#320,(#330))', 0.05) +
          polyline(320, [
            [0, 0],
            [2, 0],
            [2, 1],
            [0, 1],
          ]) +
          polyline(330, [
            [0.1, 0.1],
            [0.1, 0.9],
            [1.9, 0.9],
            [1.9, 0.1],
          ]) +
          proxy(400, 'Angle', '#410') +
          extrusion(410, 'IFCLSHAPEPROFILEDEF(.AREA.,$,#21,0.1,0.06,0.01,$,$,$)', 1),
      ),
    );
    expect(solid(model, 'I').volume).toBeCloseTo((2 * 0.1 * 0.0085 + (0.2 - 0.017) * 0.0056) * 6, 6);
    const tube = solid(model, 'Tube').volume / (Math.PI * (0.25 - 0.16) * 2);
    expect(tube).toBeGreaterThan(0.96); // less what the facets cut off
    expect(tube).toBeLessThan(1);
    expect(solid(model, 'Frame').volume).toBeCloseTo((2 - 1.8 * 0.8) * 0.05, 6);
    expect(solid(model, 'Angle').volume).toBeCloseTo(0.1 * 0.01 + 0.05 * 0.01, 6);
    near(solid(model, 'I').size, [0.1, 0.2, 6]);
  });

  it('follow arcs, discs along a line, and turn about an axis', async () => {
    const model = await read(
      ifcFile(
        proxy(100, 'Pipe', '#110', 'AdvancedSweptSolid') +
          `#110=IFCSWEPTDISKSOLID(#111,0.1,$,$,$);
` +
          polyline(111, [
            [0, 0, 0],
            [3, 0, 0],
          ]) +
          proxy(200, 'Ring', '#210') +
          `#210=IFCREVOLVEDAREASOLID(#211,#20,#213,6.28318530717959);
#211=IFCRECTANGLEPROFILEDEF(.AREA.,$,#212,0.2,0.4);
#212=IFCAXIS2PLACEMENT2D(#215,$);
#213=IFCAXIS1PLACEMENT(#23,#214);
#214=IFCDIRECTION((0.,1.,0.));
#215=IFCCARTESIANPOINT((1.,0.));
`,
      ),
    );
    const pipe = solid(model, 'Pipe');
    expect(pipe.volume / (Math.PI * 0.01 * 3 * SIXTEEN_SIDES)).toBeCloseTo(1, 2);
    expect(pipe.size[0]).toBeCloseTo(3, 4);
    // Pappus: the area times the path of its centre, less what the facets cut off.
    const ring = solid(model, 'Ring');
    expect(Math.abs(ring.volume) / (2 * Math.PI * 0.08)).toBeGreaterThan(0.95);
    expect(Math.abs(ring.volume) / (2 * Math.PI * 0.08)).toBeLessThanOrEqual(1.0001);
    expect(ring.size[1]).toBeCloseTo(0.4, 4);
    expect(ring.size[0]).toBeGreaterThan(2.15);
    expect(ring.size[0]).toBeLessThan(2.2001);
  });
});

describe('cuts', () => {
  it('take openings and half spaces away from what they cut', async () => {
    const model = await read(
      ifcFile(
        `#100=IFCWALL('W000000000000000000001',#5,'Wall',$,$,#12,#101,$,$);
#101=IFCPRODUCTDEFINITIONSHAPE($,$,(#102));
#102=IFCSHAPEREPRESENTATION(#10,'Body','SweptSolid',(#110));
` +
          extrusion(110, rectangle(5, 0.3), 3) +
          `#120=IFCOPENINGELEMENT('O000000000000000000001',#5,'Hole',$,$,#12,#121,$,$);
#121=IFCPRODUCTDEFINITIONSHAPE($,$,(#122));
#122=IFCSHAPEREPRESENTATION(#10,'Body','SweptSolid',(#130));
` +
          extrusion(130, rectangle(1, 0.5), 2) +
          `#140=IFCRELVOIDSELEMENT('V000000000000000000001',#5,$,$,#100,#120);
` +
          proxy(200, 'Gable', '#210', 'Clipping') +
          `#210=IFCBOOLEANCLIPPINGRESULT(.DIFFERENCE.,#220,#230);
#230=IFCHALFSPACESOLID(#231,.F.);
#231=IFCPLANE(#232);
#232=IFCAXIS2PLACEMENT3D(#233,#234,#235);
#233=IFCCARTESIANPOINT((0.,0.,2.));
#234=IFCDIRECTION((1.,0.,1.));
#235=IFCDIRECTION((0.,1.,0.));
` +
          extrusion(220, rectangle(2, 0.4), 4),
      ),
    );
    expect(solid(model, 'Wall').volume).toBeCloseTo((5 * 3 - 1 * 2) * 0.3, 4);
    // A slope of 45 degrees through the middle at height 2 halves the block of height 4.
    expect(solid(model, 'Gable').volume).toBeCloseTo(2 * 0.4 * 2, 4);
    expect(solid(model, 'Gable').box[5]).toBeCloseTo(3, 4);
    expect(model.elements.name).not.toContain('Hole');
    expect(model.leftOut).toMatchObject([{ name: 'Hole', category: 'IfcOpeningElement' }]);
    expect(model.productsWithShape).toBe(2);
  });
});

describe('meshes', () => {
  it('are taken over as they are, with the colours of their faces', async () => {
    const model = await read(
      ifcFile(
        proxy(100, 'Pyramid', '#110', 'Tessellation') +
          `#110=IFCTRIANGULATEDFACESET(#111,$,.T.,((1,3,2),(1,2,4),(2,3,4),(3,1,4)),$);
#111=IFCCARTESIANPOINTLIST3D(((0.,0.,0.),(1.,0.,0.),(0.,1.,0.),(0.,0.,1.)));
#112=IFCINDEXEDCOLOURMAP(#110,$,#113,(1,2,2,2));
#113=IFCCOLOURRGBLIST(((1.,0.,0.),(0.,0.,1.)));
` +
          proxy(200, 'Plate', '#210', 'Tessellation') +
          `#210=IFCPOLYGONALFACESET(#211,.T.,(#212,#213,#214,#215,#216,#217),$);
#211=IFCCARTESIANPOINTLIST3D(((0.,0.,0.),(2.,0.,0.),(2.,1.,0.),(0.,1.,0.),(0.,0.,0.1),(2.,0.,0.1),(2.,1.,0.1),(0.,1.,0.1)));
#212=IFCINDEXEDPOLYGONALFACE((4,3,2,1));
#213=IFCINDEXEDPOLYGONALFACE((5,6,7,8));
#214=IFCINDEXEDPOLYGONALFACE((1,2,6,5));
#215=IFCINDEXEDPOLYGONALFACE((2,3,7,6));
#216=IFCINDEXEDPOLYGONALFACE((3,4,8,7));
#217=IFCINDEXEDPOLYGONALFACE((4,1,5,8));
`,
      ),
    );
    expect(solid(model, 'Pyramid').volume).toBeCloseTo(1 / 6, 6);
    expect(solid(model, 'Plate').volume).toBeCloseTo(0.2, 6);
  });

  it('come from faceted and from curved boundary representations', async () => {
    const model = await read(
      ifcFile(
        proxy(100, 'Cube', '#110', 'Brep') +
          cube(110, [1, 2, 3], 0.5) +
          proxy(300, 'Drum', '#310', 'AdvancedBrep') +
          drum(310, 0.5, 2),
      ),
    );
    const box = solid(model, 'Cube');
    expect(box.volume).toBeCloseTo(0.125, 6);
    near(box.box, [1, 2, 3, 1.5, 2.5, 3.5]);
    const round = solid(model, 'Drum');
    near(round.size, [1, 1, 2], 1);
    expect(Math.abs(round.volume) / (Math.PI * 0.25 * 2)).toBeGreaterThan(0.94);
  });
});

describe('mapped shapes', () => {
  it('are moved, scaled and mirrored, and share their geometry', async () => {
    const model = await read(
      ifcFile(
        extrusion(50, rectangle(1, 2), 3) +
          `#60=IFCREPRESENTATIONMAP(#20,#61);
#61=IFCSHAPEREPRESENTATION(#10,'Body','SweptSolid',(#50));
` +
          proxy(100, 'Twice', '#110', 'MappedRepresentation') +
          `#110=IFCMAPPEDITEM(#60,#111);
#111=IFCCARTESIANTRANSFORMATIONOPERATOR3D($,$,#112,2.,$);
#112=IFCCARTESIANPOINT((10.,0.,0.));
` +
          proxy(200, 'Stretched', '#210', 'MappedRepresentation') +
          `#210=IFCMAPPEDITEM(#60,#211);
#211=IFCCARTESIANTRANSFORMATIONOPERATOR3DNONUNIFORM($,$,#23,1.,$,2.,3.);
` +
          proxy(300, 'Mirrored', '#310', 'MappedRepresentation') +
          `#310=IFCMAPPEDITEM(#60,#311);
#311=IFCCARTESIANTRANSFORMATIONOPERATOR3D(#312,#313,#23,1.,$);
#312=IFCDIRECTION((-1.,0.,0.));
#313=IFCDIRECTION((0.,1.,0.));
`,
      ),
    );
    near(solid(model, 'Twice').box, [9, -2, 0, 11, 2, 6]);
    near(solid(model, 'Stretched').size, [1, 4, 9]);
    expect(solid(model, 'Twice').volume).toBeCloseTo(48, 4);
    expect(Math.abs(solid(model, 'Mirrored').volume)).toBeCloseTo(6, 4);
    expect(model.geometries.length).toBe(1);
  });
});

/** A surface style of one colour; uses three lines from `id`. */
function style(id: number, rgb: string, transparency = '$'): string {
  return `#${id}=IFCSURFACESTYLE('Style ${id}',.BOTH.,(#${id + 1}));
#${id + 1}=IFCSURFACESTYLERENDERING(#${id + 2},${transparency},$,$,$,$,$,$,.FLAT.);
#${id + 2}=IFCCOLOURRGB($,${rgb});
`;
}

/** A material with a colour; uses seven lines from `id`. */
function material(id: number, name: string, rgb: string): string {
  return `#${id}=IFCMATERIAL('${name}',$,$);
#${id + 1}=IFCMATERIALDEFINITIONREPRESENTATION($,$,(#${id + 2}),#${id});
#${id + 2}=IFCSTYLEDREPRESENTATION(#10,$,$,(#${id + 3}));
#${id + 3}=IFCSTYLEDITEM($,(#${id + 4}),$);
${style(id + 4, rgb)}`;
}

function madeOf(id: number, products: string, definition: number): string {
  return `#${id}=IFCRELASSOCIATESMATERIAL('M${String(id).padStart(21, '0')}',#5,$,$,(${products}),#${definition});
`;
}

/** The colours of an element's parts, in the order of the file. */
function colours(model: BuildingModel, name: string): number[][] {
  const row = model.elements.name.indexOf(name);
  return model.placements.filter((one) => one.element === row).map((one) => model.materials[one.material]!.color);
}

describe('colours', () => {
  it('come from the item or its material, and let light through', async () => {
    const model = await read(
      ifcFile(
        proxy(100, 'Glass', '#110') +
          extrusion(110, rectangle(1, 1), 1) +
          `#115=IFCSTYLEDITEM(#110,(#120),$);
` +
          style(120, '0.2,0.4,0.6', '0.7') +
          proxy(200, 'Oak', '#210') +
          extrusion(210, rectangle(1, 1), 1) +
          madeOf(219, '#200', 220) +
          material(220, 'Oak, oiled', '0.8,0.6,0.4'),
      ),
    );
    near(colours(model, 'Glass')[0]!, [0.2, 0.4, 0.6, 0.3], 2);
    near(colours(model, 'Oak')[0]!, [0.8, 0.6, 0.4, 1], 2);
    expect(model.elements.material[model.elements.name.indexOf('Oak')]).toBe('Oak, oiled');
  });

  it('come from the type and from the whole that an element is a part of, but not from the wall that a door fills', async () => {
    const model = await read(
      ifcFile(
        proxy(100, 'Typed', '#110') +
          extrusion(110, rectangle(1, 1), 1) +
          `#120=IFCBUILDINGELEMENTPROXYTYPE('T000000000000000000120',#5,'T',$,$,$,$,$,$,.NOTDEFINED.);
#121=IFCRELDEFINESBYTYPE('T000000000000000000121',#5,$,$,(#100),#120);
` +
          madeOf(122, '#120', 130) +
          material(130, 'Brick', '0.6,0.2,0.1') +
          proxy(200, 'Part', '#210') +
          extrusion(210, rectangle(1, 1), 1) +
          `#220=IFCWALL('W000000000000000000220',#5,'Whole',$,$,#12,$,$,$);
#221=IFCRELAGGREGATES('W000000000000000000221',#5,$,$,#220,(#200));
` +
          madeOf(222, '#220', 230) +
          material(230, 'Clay', '0.5,0.4,0.3') +
          proxy(300, 'Door', '#310') +
          extrusion(310, rectangle(1, 0.1), 2) +
          `#320=IFCOPENINGELEMENT('O000000000000000000320',#5,'Hole',$,$,#12,$,$,$);
#321=IFCRELVOIDSELEMENT('O000000000000000000321',#5,$,$,#220,#320);
#322=IFCRELFILLSELEMENT('O000000000000000000322',#5,$,$,#320,#300);
`,
      ),
    );
    near(colours(model, 'Typed')[0]!, [0.6, 0.2, 0.1, 1], 2);
    near(colours(model, 'Part')[0]!, [0.5, 0.4, 0.3, 1], 2);
    near(colours(model, 'Door')[0]!, [1, 1, 1, 1], 2);
    const { name, parent } = model.elements;
    expect(name[parent[name.indexOf('Door')]!]).toBe('Whole');
  });

  it('differ between the constituents of one element', async () => {
    const model = await read(
      ifcFile(
        proxy(100, 'Window', '#110,#112') +
          extrusion(110, rectangle(1, 0.1), 1) +
          extrusion(112, rectangle(0.8, 0.02), 0.8) +
          madeOf(120, '#100', 121) +
          `#121=IFCMATERIALCONSTITUENTSET('Window',$,(#122,#123));
#122=IFCMATERIALCONSTITUENT('Frame',$,#140,$,$);
#123=IFCMATERIALCONSTITUENT('Pane',$,#150,$,$);
#124=IFCSHAPEASPECT((#125),'Frame',$,.U.,#101);
#125=IFCSHAPEREPRESENTATION(#10,'Body','SweptSolid',(#110));
#126=IFCSHAPEASPECT((#127),'Pane',$,.U.,#101);
#127=IFCSHAPEREPRESENTATION(#10,'Body','SweptSolid',(#112));
` +
          material(140, 'Larch', '0.7,0.5,0.3') +
          material(150, 'Glass', '0.6,0.8,0.9'),
      ),
    );
    near(colours(model, 'Window')[0]!, [0.7, 0.5, 0.3, 1], 2);
    near(colours(model, 'Window')[1]!, [0.6, 0.8, 0.9, 1], 2);
    expect(model.elements.material[0]).toBe('Larch, Glass');
  });

  it('differ between the faces of a face set', async () => {
    const model = await read(
      ifcFile(
        proxy(100, 'Pyramid', '#110', 'Tessellation') +
          `#110=IFCTRIANGULATEDFACESET(#111,$,.T.,((1,3,2),(1,2,4),(2,3,4),(3,1,4)),$);
#111=IFCCARTESIANPOINTLIST3D(((0.,0.,0.),(1.,0.,0.),(0.,1.,0.),(0.,0.,1.)));
#112=IFCINDEXEDCOLOURMAP(#110,0.5,#113,(1,2,2,2));
#113=IFCCOLOURRGBLIST(((1.,0.,0.),(0.,0.,1.)));
` +
          proxy(200, 'Book', '#210', 'Tessellation') +
          `#210=IFCPOLYGONALFACESET(#211,.F.,(#212,#213),$);
#211=IFCCARTESIANPOINTLIST3D(((0.,0.,0.),(1.,0.,0.),(1.,1.,0.),(0.,1.,0.),(1.,0.,1.)));
#212=IFCINDEXEDPOLYGONALFACE((1,2,3,4));
#213=IFCINDEXEDPOLYGONALFACE((1,2,5));
#214=IFCINDEXEDCOLOURMAP(#210,$,#113,(2,1));
`,
      ),
    );
    expect(colours(model, 'Pyramid')).toEqual([
      [1, 0, 0, 0.5],
      [0, 0, 1, 0.5],
    ]);
    const triangles = (name: string) =>
      model.placements
        .filter((one) => one.element === model.elements.name.indexOf(name))
        .map((one) => [model.materials[one.material]!.color[0], model.geometries[one.geometry]!.indices.length / 3]);
    expect(triangles('Pyramid')).toEqual([
      [1, 1],
      [0, 3],
    ]);
    expect(triangles('Book')).toEqual([
      [1, 1],
      [0, 2],
    ]);
  });
});

describe('schemas', () => {
  it('are read under the names that programs give them', async () => {
    for (const schema of ['IFC2X3', 'IFC2X3_TC1', 'IFC4', 'IFC4_ADD2', 'IFC4X1', 'IFC4X3_TC1', 'IFC4X3_ADD2']) {
      const model = await read(ifcFile(proxy(100, 'A', '#110') + extrusion(110, rectangle(1, 1), 1), { schema }));
      expect([model.source.schema, solid(model, 'A').volume.toFixed(4)]).toEqual([schema, '1.0000']);
    }
  });
});

describe('texts', () => {
  it('are decoded from every way in which STEP writes them', async () => {
    const name = String.raw`S\X2\00E9\X0\jour \X\E9t\S\i \X4\0001F33F\X0\ it''s`;
    const model = await read(ifcFile(proxy(100, name, '#110') + extrusion(110, rectangle(1, 1), 1)));
    expect(model.elements.name[0]).toBe('Séjour été 🌿 it’s'.replace('’', "'"));
  });
});

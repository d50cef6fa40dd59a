import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Document, NodeIO } from '@gltf-transform/core';
import { EXTMeshGPUInstancing, KHRTextureTransform } from '@gltf-transform/extensions';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { placeGeometry } from '@/publish/geometry/element-geometry';
import { categoryName } from './ifc/ifc-model';
import { ModelFileError } from './model-file-error';
import { readModel } from './read-model';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'readers-'));
});
afterAll(() => rm(folder, { recursive: true }));

async function read(content: string | Uint8Array, name: string) {
  const path = join(folder, 'model');
  await writeFile(path, content);
  return readModel(path, name);
}

async function problem(content: string | Uint8Array, name: string) {
  const error = await read(content, name).then(
    () => null,
    (reason: unknown) => reason,
  );
  expect(error).toBeInstanceOf(ModelFileError);
  expect((error as ModelFileError).message).toContain(name);
  return (error as ModelFileError).problem;
}

/** A house of one wall, written by hand: millimetres, 2.4 m long, 100 thick, 2.5 high, moved 1 m along X. */
const WALL = `ISO-10303-21;
HEADER;
FILE_DESCRIPTION((''),'2;1');
FILE_NAME('wall.ifc','2026-01-01T00:00:00',('A'),('B'),'p','By hand','');
FILE_SCHEMA(('IFC2X3'));
ENDSEC;
DATA;
#1=IFCPERSON($,'A',$,$,$,$,$,$);
#2=IFCORGANIZATION($,'B',$,$,$);
#3=IFCPERSONANDORGANIZATION(#1,#2,$);
#4=IFCAPPLICATION(#2,'1','By hand','h');
#5=IFCOWNERHISTORY(#3,#4,$,.ADDED.,$,$,$,0);
#6=IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.);
#7=IFCUNITASSIGNMENT((#6));
#8=IFCCARTESIANPOINT((0.,0.,0.));
#9=IFCAXIS2PLACEMENT3D(#8,$,$);
#10=IFCGEOMETRICREPRESENTATIONCONTEXT($,'Model',3,1.E-5,#9,$);
#11=IFCPROJECT('0000000000000000000001',#5,'P',$,$,$,$,(#10),#7);
#12=IFCLOCALPLACEMENT($,#9);
#13=IFCBUILDINGSTOREY('0000000000000000000002',#5,'Upper',$,$,#12,$,$,.ELEMENT.,3000.);
#14=IFCCARTESIANPOINT((1000.,0.,0.));
#15=IFCAXIS2PLACEMENT3D(#14,$,$);
#16=IFCLOCALPLACEMENT(#12,#15);
#17=IFCAXIS2PLACEMENT2D(#18,$);
#18=IFCCARTESIANPOINT((1200.,50.));
#19=IFCRECTANGLEPROFILEDEF(.AREA.,$,#17,2400.,100.);
#20=IFCDIRECTION((0.,0.,1.));
#21=IFCEXTRUDEDAREASOLID(#19,#9,#20,2500.);
#22=IFCSHAPEREPRESENTATION(#10,'Body','SweptSolid',(#21));
#23=IFCPRODUCTDEFINITIONSHAPE($,$,(#22));
#24=IFCWALLSTANDARDCASE('0000000000000000000003',#5,'W\\X2\\00E4\\X0\\nd',$,$,#16,#23,'t1');
#25=IFCRELCONTAINEDINSPATIALSTRUCTURE('0000000000000000000004',#5,$,$,(#24,#30),#13);
#26=IFCPOLYLINE((#8,#14));
#27=IFCSHAPEREPRESENTATION(#10,'Axis','Curve2D',(#26));
#28=IFCPRODUCTDEFINITIONSHAPE($,$,(#27));
#30=IFCBUILDINGELEMENTPROXY('0000000000000000000005',#5,'Only a line',$,$,#12,#28,$,$);
ENDSEC;
END-ISO-10303-21;
`;

describe('IFC', () => {
  it('reads a hand-written IFC2x3 file in metres, with its storey, and lists what gave no surface', async () => {
    const model = await read(WALL, 'wall.ifc');
    expect(model.source).toMatchObject({ format: 'IFC', schema: 'IFC2X3', program: 'By hand' });
    expect(model.elements.name).toEqual(['Wänd', 'Only a line']);
    expect(model.elements.category).toEqual(['Wall', 'Building element proxy']);
    expect(model.storeys).toEqual([{ guid: '0000000000000000000002', name: 'Upper', elevation: 3 }]);
    expect(model.elements.storey).toEqual([0, 0]);
    expect(model.productsWithShape).toBe(2);
    expect(model.warnings).toMatchObject([{ guid: '0000000000000000000005', name: 'Only a line' }]);
    const { extent } = placeGeometry(model);
    [1, 0, 0, 3.4, 0.1, 2.5].forEach((value, i) => expect(extent[i]).toBeCloseTo(value, 5));
  });

  it('names categories in plain words', () => {
    expect(['IfcWallStandardCase', 'IfcFlowSegment', 'IfcDoor', 'IfcBuildingElementProxy'].map(categoryName)).toEqual([
      'Wall',
      'Flow segment',
      'Door',
      'Building element proxy',
    ]);
  });

  it('refuses broken files with their reason', async () => {
    expect(await problem('', 'empty.ifc')).toBe('empty');
    expect(await problem(WALL.slice(0, WALL.length / 2), 'cut.ifc')).toBe('truncated');
    expect(await problem(WALL.replace('IFC2X3', 'AUTOMOTIVE_DESIGN'), 'car.ifc')).toBe('unsupported');
    expect(await problem(WALL.replace(/FILE_SCHEMA.*/, ''), 'headless.ifc')).toBe('damaged');
    expect(await problem(WALL.replace(/^#(13|2[4-9]|30)=.*$/gm, ''), 'hollow.ifc')).toBe('nothing-inside');
    expect(await problem(Buffer.from('89504e470d0a1a0a0000000d', 'hex'), 'picture.ifc')).toBe('unknown-format');
    expect(await problem(Buffer.from([0, 1, 2, 3, 4, 5, 6, 7, 8]), 'noise.ifc')).toBe('unknown-format');
  });

  it('leaves out a missing line, says so, and reads the rest', async () => {
    const dangling = await read(
      WALL.replace(
        '#10=IFCGEOMETRICREPRESENTATIONCONTEXT($,',
        '#99=IFCRELDEFINESBYTYPE($,#5,$,$,(#24),#777);\n#10=IFCGEOMETRICREPRESENTATIONCONTEXT($,',
      ),
      'dangling.ifc',
    );
    expect(dangling.elements.name).toEqual(['Wänd', 'Only a line']);
    expect(dangling.warnings.map((warning) => warning.reason)).toContainEqual(expect.stringContaining('#777'));
  });
});

async function glb(build: (document: Document) => void): Promise<Uint8Array> {
  const document = new Document();
  document.createBuffer();
  build(document);
  return new NodeIO().registerExtensions([KHRTextureTransform, EXTMeshGPUInstancing]).writeBinary(document);
}

function triangle(document: Document, color: [number, number, number, number]) {
  const positions = document
    .createAccessor()
    .setType('VEC3')
    .setArray(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 2, 0))
    .setBuffer(document.getRoot().listBuffers()[0]!);
  return document
    .createMesh()
    .addPrimitive(
      document
        .createPrimitive()
        .setAttribute('POSITION', positions)
        .setMaterial(document.createMaterial('Oak').setBaseColorFactor(color)),
    );
}

const twoChairs = () =>
  glb((document) => {
    const mesh = triangle(document, [0.5, 0.5, 0.5, 1]);
    const group = document.createNode('Furniture').setTranslation([10, 0, 0]);
    for (const x of [0, 1])
      group.addChild(
        document.createNode('Chair').setMesh(mesh).setTranslation([x, 0, 5]).setExtras({ maker: 'Moos', count: 2 }),
      );
    document.createScene().addChild(group);
  });

describe('glTF', () => {
  it('turns Y up into Z up, keeps groups, materials and extras, and gives stable, distinct guids', async () => {
    const model = await read(await twoChairs(), 'chairs.glb');
    expect(model.elements.name).toEqual(['Furniture', 'Chair', 'Chair']);
    expect(model.elements.category).toEqual(['Group', 'Furniture', 'Furniture']);
    expect(model.elements.parent).toEqual([-1, 0, 0]);
    expect(model.elements.material[1]).toBe('Oak');
    expect(model.properties[1]).toEqual({ Extras: { maker: 'Moos', count: 2 } });
    expect(model.geometries.length).toBe(1);
    expect(model.materials[0]!.color[0]).toBeCloseTo(0.7353569, 5); // sRGB of linear 0.5
    const { extent } = placeGeometry(model);
    [10, -5, 0, 12, -5, 2].forEach((value, i) => expect(extent[i]).toBeCloseTo(value, 6));
    const again = await read(await twoChairs(), 'renamed.glb');
    expect(again.elements.guid).toEqual(model.elements.guid);
    expect(new Set(model.elements.guid).size).toBe(3);
    expect(model.elements.guid[0]).toHaveLength(22);
  });

  it('brings pictures with their places turned as the file says, cameras, and every instance as an element', async () => {
    const model = await read(
      await glb((document) => {
        const [buffer] = document.getRoot().listBuffers();
        const numbers = (type: 'VEC2' | 'VEC3', ...values: number[]) =>
          document.createAccessor().setType(type).setArray(Float32Array.from(values)).setBuffer(buffer!);
        const turn = document
          .createExtension(KHRTextureTransform)
          .createTransform()
          .setRotation(Math.PI / 2)
          .setScale([2, 1])
          .setOffset([0.25, 0]);
        const picture = document.createTexture('board').setImage(Buffer.from('any bytes')).setMimeType('image/png');
        const material = document.createMaterial('Oak').setBaseColorTexture(picture).setAlphaMode('MASK');
        material.getBaseColorTextureInfo()!.setExtension('KHR_texture_transform', turn);
        const primitive = document
          .createPrimitive()
          .setMaterial(material)
          .setAttribute('POSITION', numbers('VEC3', 0, 0, 0, 1, 0, 0, 0, 1, 0))
          .setAttribute('TEXCOORD_0', numbers('VEC2', 0, 0, 1, 0, 0, 1));
        const instances = document
          .createExtension(EXTMeshGPUInstancing)
          .createInstancedMesh()
          .setAttribute('TRANSLATION', numbers('VEC3', 0, 0, 0, 0, 0, -4));
        const lamp = document
          .createNode('Lamp')
          .setMesh(document.createMesh().addPrimitive(primitive))
          .setTranslation([10, 0, 0])
          .setExtension('EXT_mesh_gpu_instancing', instances);
        const eye = document
          .createCamera('Door')
          .setType('perspective')
          .setYFov(Math.PI / 3);
        const stand = document.createNode().setCamera(eye).setTranslation([0, 1.6, 8]);
        document.createScene().addChild(lamp).addChild(stand);
      }),
      'lamps.glb',
    );
    expect(model.elements.name).toEqual(['Lamp', 'Lamp 1', 'Lamp 2', 'Object']);
    expect(model.elements.parent).toEqual([-1, 0, 0, -1]);
    const { extent } = placeGeometry(model);
    [10, 0, 0, 11, 4, 1].forEach((value, i) => expect(extent[i]).toBeCloseTo(value, 6));
    expect(model.materials).toMatchObject([{ name: 'Oak', texture: 0, cutOut: true }]);
    expect(model.textures).toMatchObject([{ name: 'board' }]);
    // (1, 0) doubled and turned by a quarter is (0, -2); (0, 1) turned is (1, 0); then both are moved by 0.25.
    [0.25, 0, 0.25, -2, 1.25, 0].forEach((value, i) => expect(model.geometries[0]!.uvs![i]).toBeCloseTo(value, 6));
    const [camera] = model.cameras;
    expect([camera!.name, Math.round(camera!.fov)]).toEqual(['Door', 60]);
    [0, -8, 1.6].forEach((value, i) => expect(camera!.position[i]).toBeCloseTo(value, 6));
    [0, -7, 1.6].forEach((value, i) => expect(camera!.target[i]).toBeCloseTo(value, 6));
  });

  it('refuses wrong lengths, missing buffers, old versions and empty scenes', async () => {
    const good = Buffer.from(await twoChairs());
    expect(await problem(good.subarray(0, good.length - 20), 'short.glb')).toBe('truncated');
    expect(await problem(Buffer.concat([good, Buffer.alloc(40)]), 'long.glb')).toBe('damaged');
    expect(await problem(good.subarray(0, 10), 'stub.glb')).toBe('truncated');
    const huge = Buffer.from(good);
    huge.writeUInt32LE(3 * 1024 ** 3, 8);
    expect(await problem(huge, 'three-gigabytes.glb')).toBe('truncated');
    const old = Buffer.from(good);
    old.writeUInt32LE(1, 4);
    expect(await problem(old, 'old.glb')).toBe('unsupported');
    expect(await problem(await glb((document) => void document.createScene()), 'empty.glb')).toBe('nothing-inside');
    expect(
      await problem('{"asset":{"version":"2.0"},"buffers":[{"uri":"gone.bin","byteLength":12}]}', 'loose.gltf'),
    ).toBe('damaged');
    expect(await problem('{"asset":{"version":"2.0"},"scenes":', 'half.gltf')).toBe('damaged');
  });

  it('is recognised by content: a GLB named .ifc is read', async () => {
    await writeFile(join(folder, 'x.ifc'), await twoChairs());
    expect((await readModel(join(folder, 'x.ifc'), 'x.ifc')).source.format).toBe('glTF');
    expect((await readFile(join(folder, 'x.ifc'))).length).toBeGreaterThan(0);
  });
});

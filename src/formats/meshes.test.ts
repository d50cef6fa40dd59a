import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { placeGeometry, type Piece } from '@/publish/geometry/element-geometry';
import type { BuildingModel } from './building-model';
import { extrusion, ifcFile, proxy, rectangle } from './ifc/test-file';
import { ModelFileError } from './model-file-error';
import { PLASTER } from './plaster';
import { readModel, type ReadOptions } from './read-model';
import { binaryStl, DAE, GBXML, MODEL_3MF, PLY, TABLE_MTL, TABLE_OBJ, TEXT_STL, threeMf, zip } from './test-samples';
import { unpack } from './unpack';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'meshes-'));
});
afterAll(() => rm(folder, { recursive: true }));

async function read(content: string | Uint8Array, name: string, options?: ReadOptions): Promise<BuildingModel> {
  const path = join(folder, 'model');
  await writeFile(path, content);
  return readModel(path, name, options);
}

async function refusal(content: string | Uint8Array, name: string): Promise<string> {
  const error = await read(content, name).then(
    () => null,
    (reason: unknown) => reason,
  );
  expect(error).toBeInstanceOf(ModelFileError);
  expect((error as Error).message).toContain(name);
  return `${(error as ModelFileError).problem}: ${(error as Error).message}`;
}

function extent(model: BuildingModel): number[] {
  return [...placeGeometry(model).extent].map((value) => Number(value.toFixed(5)) + 0);
}

const colorOf = (model: BuildingModel, name: string) => {
  const row = model.elements.name.indexOf(name);
  const { material } = model.placements.find((one) => one.element === row)!;
  return model.materials[material]!.color.map((part) => Number(part.toFixed(3)));
};

/** Twice the area of each triangle in the plane z = 0, positive if it looks up. */
function turns({ positions: p, indices }: Piece): number[] {
  return Array.from({ length: indices.length / 3 }, (_, t) => {
    const [a, b, c] = [0, 1, 2].map((i) => indices[t * 3 + i]! * 3) as [number, number, number];
    return (p[b]! - p[a]!) * (p[c + 1]! - p[a + 1]!) - (p[c]! - p[a]!) * (p[b + 1]! - p[a + 1]!);
  });
}
const areaOf = (piece: Piece) => turns(piece).reduce((sum, turn) => sum + Math.abs(turn) / 2, 0);
const normalsUp = (piece: Piece) => turns(piece).map((turn) => turn > 0);

describe('OBJ', () => {
  it('comes with objects, materials, and a proposal for unit and up axis', async () => {
    const model = await read(await zip({ 'parts/table.obj': TABLE_OBJ, 'parts/TABLE.MTL': TABLE_MTL }), 'table.zip');
    expect(model.source).toMatchObject({ format: 'OBJ', program: 'Made by hand' });
    expect(model.elements.name).toEqual(['Top', 'Leg']);
    expect(model.elements.material).toEqual(['oak', 'steel']);
    expect(colorOf(model, 'Top')).toEqual([0.8, 0.6, 0.4, 1]);
    expect(colorOf(model, 'Leg')).toEqual([0.5, 0.5, 0.55, 0.4]);
    expect(model.frame).toMatchObject({ metresPerUnit: 0.001, up: 'Y', from: 'proposed' });
    expect(model.frame.reason).toContain('1200');
    expect(extent(model)).toEqual([0, -0.7, 0, 1.2, 0, 0.74]);
    expect(model.placements.reduce((sum, one) => sum + model.geometries[one.geometry]!.indices.length / 3, 0)).toBe(24);
  });

  it('brings the pictures of its materials, with their places counted from above', async () => {
    const obj = 'mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 0.75\nusemtl wood\nf 1/1 2/2 3/3\n';
    const mtl = 'newmtl wood\nKd 0 0 0\nmap_Kd -s 1 1 1 -clamp on Maps\\Oak board.PNG\nnewmtl net\nmap_Kd gone.png\n';
    const files = { 'a.obj': obj, 'a.mtl': mtl, 'maps/oak board.png': 'any bytes' };
    const model = await read(await zip(files), 'board.zip');
    expect(model.textures.map(({ bytes }) => Buffer.from(bytes).toString())).toEqual(['any bytes']);
    expect(model.materials).toEqual([{ name: 'wood', color: [1, 1, 1, 1], texture: 0, cutOut: false }]);
    expect([...model.geometries[0]!.uvs!]).toEqual([0, 1, 1, 1, 0, 0.25]);
    expect(model.warnings).toMatchObject([{ reason: expect.stringContaining('“gone.png” did not come along') }]);
  });

  it('shows what is black but for the light that it gives off as that light', async () => {
    const obj = 'mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl lamp\nf 1 2 3\nusemtl wall\nf 1 3 2\n';
    const mtl = 'newmtl lamp\nKd 0 0 0\nKe 1 0.9 0.5\nnewmtl wall\nKd 0.5 0.5 0.5\nKe 1 1 1\n';
    const model = await read(await zip({ 'a.obj': obj, 'a.mtl': mtl }), 'lamp.zip');
    expect(model.materials.map(({ color }) => color)).toEqual([
      [1, 0.9, 0.5, 1],
      [0.5, 0.5, 0.5, 1],
    ]);
  });

  it('takes normals from the file alone', async () => {
    const bare = await read('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n', 'bare.obj');
    expect(bare.geometries[0]!.normals).toBeUndefined();
    const dressed = await read('v 0 0 0\nv 1 0 0\nv 0 1 0\nvn 0 0.6 0.8\nf 1//1 2//1 3//1\n', 'dressed.obj');
    expect(dressed.geometries[0]!.normals![1]).toBeCloseTo(0.6, 6);
  });

  it('is read as the user says, whatever was proposed', async () => {
    const model = await read(TABLE_OBJ, 'table.obj', { frame: { metresPerUnit: 0.01, up: 'Z' } });
    expect(model.frame).toMatchObject({ metresPerUnit: 0.01, up: 'Z', from: 'chosen' });
    expect(extent(model)).toEqual([0, 0, 0, 12, 7.4, 7]);
  });

  it('keeps its guids over exports, and tells of a material file that did not come along', async () => {
    const model = await read(TABLE_OBJ, 'table.obj');
    const again = await read(TABLE_OBJ, 'renamed.obj');
    expect(again.elements.guid).toEqual(model.elements.guid);
    expect(model.warnings).toMatchObject([{ reason: expect.stringContaining('“Table.mtl” did not come along') }]);
  });

  it('without a face is refused', async () => {
    expect(await refusal('o Nothing\nv 0 0 0\nv 1 0 0\nv 0 1 0\n', 'points.obj')).toMatch(/^nothing-inside/);
    expect(await refusal('o Bad\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n', 'wild.obj')).toMatch(
      /^nothing-inside: .*line 5 makes no sense/,
    );
    expect(await refusal('v 0 0 0\nv 1 0 0\nl 1 2\np 1\n', 'wire.obj')).toMatch(
      /^nothing-inside: .*without a single face: lines and points are no surfaces.*\(2 in the file\)/,
    );
  });

  it('says which lines make no sense, and reads the others as if these were not there', async () => {
    const model = await read(
      'v 0 0 0\nv 1 0 0\nv one 0 0\nv 0 1 0\nf 1 2 4\nf 1 2 3\nf 1 2\nl 1 2 4\nhello\ns off\nf 1 -3 0\n',
      'odd.obj',
    );
    expect(model.geometries.map(({ indices }) => indices.length)).toEqual([3]);
    expect(extent(model)).toEqual([0, 0, 0, 1, 1, 0]);
    expect(model.warnings.map(({ reason }) => reason)).toEqual([
      '5 lines make no sense and are left out, such as line 3, 6, 7',
      'lines and points are no surfaces and do not show (1 in the file)',
    ]);
  });

  it('counts backwards, goes on over line ends, and divides what bends inwards', async () => {
    const bent = 'v 0 0 0\nv 2 0 0\nv 2 1 0\nv 1 1 0\nv 1 2 0\nv 0 2 0\n';
    const model = await read(`${bent}f -6 -5 -4 \\\n -3 -2 -1\n`, 'bent.obj');
    const [{ positions, indices }] = model.geometries as [BuildingModel['geometries'][number]];
    let area = 0;
    for (let i = 0; i < indices.length; i += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => positions.subarray(indices[i + k]! * 3, indices[i + k]! * 3 + 3));
      area += ((b![0]! - a![0]!) * (c![1]! - a![1]!) - (c![0]! - a![0]!) * (b![1]! - a![1]!)) / 2;
    }
    expect(area).toBeCloseTo(3);
  });

  it('keeps tenths of a millimetre far from zero, and colours of vertices', async () => {
    const far = [4_512_345.1234, 5_412_345.5678];
    const corners = [
      [0, 0],
      [1, 0],
      [0, 1],
    ].map(([x, y]) => `v ${far[0]! + x!} ${far[1]! + y!} 0 1 0.5 0`);
    const model = await read(`${corners.join('\n')}\nf 1 2 3\n`, 'site.obj', { frame: { metresPerUnit: 1, up: 'Z' } });
    const placed = placeGeometry(model);
    const low = [0, 1].map((axis) => placed.extent[axis]! + placed.offset[axis]!);
    expect(Math.abs(low[0]! - far[0]!)).toBeLessThan(1e-4);
    expect(Math.abs(low[1]! - far[1]!)).toBeLessThan(1e-4);
    expect([...model.geometries[0]!.colors!.slice(0, 4)]).toEqual([255, 128, 0, 255]);
  });

  it('has groups as parts of their object, one for each name', async () => {
    const faces = 'f 1 2 3\n';
    const model = await read(
      `v 0 0 0\nv 1 0 0\nv 0 1 0\no House\ng Walls\n${faces}g Roof\n${faces}g Walls\n${faces}o Shed\n${faces}`,
      'site.obj',
    );
    expect(model.elements.name).toEqual(['House', 'Walls', 'Roof', 'Shed']);
    expect(model.elements.parent).toEqual([-1, 0, 0, -1]);
    expect(model.placements.map(({ element }) => element)).toEqual([1, 2, 3]);
    expect(model.geometries[0]!.indices.length).toBe(6);
  });

  it('is read in two bytes a letter too', async () => {
    const bytes = Buffer.from('\uFEFFo Tür\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n', 'utf16le').swap16();
    expect((await read(bytes, 'door.obj')).elements.name).toEqual(['Tür']);
  });
});

describe('STL', () => {
  it('is read in both kinds, also when a binary file begins with “solid”', async () => {
    const binary = await read(binaryStl(), 'Knob.stl');
    expect(binary.source).toMatchObject({ format: 'STL', schema: 'binary' });
    expect(binary.elements.name).toEqual(['Knob']);
    expect(binary.geometries[0]!.positions.length / 3).toBe(4); // corners that agree are one
    expect(extent(binary)).toEqual([0, 0, 0, 2, 2, 2]);
    const text = await read(TEXT_STL, 'sheet.stl');
    expect(text.source.schema).toBe('text');
    expect(extent(text)).toEqual([0, 0, 0, 3, 1, 0]);
  });

  it('in capitals, with several solids, far from its origin', async () => {
    const solid = (name: string) =>
      TEXT_STL.replace(/sheet/g, name)
        .replace(/vertex 0/g, 'vertex 4500000')
        .replace('vertex 3', 'vertex 4500003.0625')
        .toUpperCase();
    const model = await read(`\n${solid('Step')}${solid('')}`, 'Stairs.stl', { frame: { metresPerUnit: 1, up: 'Z' } });
    expect(model.source.schema).toBe('text');
    expect(model.elements.name).toEqual(['STEP', 'Stairs']);
    const [west, , , east] = extent(model);
    expect(east! - west!).toBe(3.0625);
    expect(model.productsWithShape).toBe(2);
  });

  it('keeps the colours of facets, in both ways of writing them', async () => {
    const [red, own] = [0b11111, 1 << 15];
    const bytes = binaryStl('exported');
    bytes.writeUInt16LE(own | (red << 10), 84 + 48);
    const { colors, indices } = (await read(bytes, 'a.stl')).geometries[0]!;
    const of = (corner: number) => [...colors!.slice(indices[corner]! * 4, indices[corner]! * 4 + 4)];
    expect(of(0)).toEqual([255, 0, 0, 255]);
    expect(of(3)).toEqual([217, 212, 200, 255]);
    const other = binaryStl('COLOR=');
    other.set([10, 20, 30, 255], 6);
    for (const facet of [1, 2, 3]) other.writeUInt16LE(own, 84 + facet * 50 + 48);
    other.writeUInt16LE(red, 84 + 48);
    const painted = (await read(other, 'b.stl')).geometries[0]!;
    expect([...painted.colors!.slice(0, 4)]).toEqual([255, 0, 0, 255]);
    expect([...painted.colors!.slice(-4)]).toEqual([10, 20, 30, 255]);
  });

  it('leaves facets out whose corners are no numbers', async () => {
    const bytes = binaryStl();
    bytes.writeFloatLE(Infinity, 84 + 12);
    const model = await read(bytes, 'odd.stl');
    expect(model.geometries[0]!.indices.length).toBe(9);
    expect(model.warnings[0]!.reason).toContain('corners of a facet');
    const text = await read(TEXT_STL + TEXT_STL.replace('vertex 3', 'vertex three'), 'odd.stl');
    expect(text.placements.length).toBe(1);
    expect(text.warnings[0]!.reason).toContain('corners of a facet');
  });

  it('may end without saying so', async () => {
    const model = await read(TEXT_STL.replace('endsolid sheet', ''), 'sheet.stl');
    expect(model.placements.length).toBe(1);
    expect(model.warnings[0]!.reason).toContain('check that nothing is missing');
  });

  it('that breaks off is refused', async () => {
    expect(await refusal(binaryStl().subarray(0, 200), 'cut.stl')).toMatch(/^truncated/);
    expect(await refusal(binaryStl('exported').subarray(0, 200), 'cut2.stl')).toMatch(/^truncated/);
    expect(await refusal(TEXT_STL.slice(0, 60), 'cut3.stl')).toMatch(/^truncated/);
    expect(await refusal(TEXT_STL.slice(0, 100), 'cut4.stl')).toMatch(/^truncated/);
    expect(await refusal(Buffer.alloc(84), 'none.stl')).toMatch(/^nothing-inside/);
  });
});

describe('PLY', () => {
  it('keeps the colours of its vertices', async () => {
    const model = await read(PLY, 'scan.ply');
    expect(model.source).toMatchObject({ format: 'PLY', schema: 'ascii', program: 'Scanned in Lindenau' });
    const { colors, indices } = model.geometries[0]!;
    expect(indices.length).toBe(6);
    expect([...colors!]).toEqual([255, 0, 0, 255, 255, 0, 0, 255, 0, 0, 128, 255, 0, 0, 128, 255]);
  });

  it('brings the picture along that a comment names, right side up', async () => {
    const textured = PLY.replace('comment Scanned in Lindenau', 'comment TextureFile Skin.png')
      .replace(/property uchar \w+\n/g, '')
      .replace('element face', 'property float s\nproperty float t\nelement face')
      .replace(/^(\d \d \d) \d+ \d+ \d+$/gm, '$1 0.25 1');
    const model = await read(await zip({ 'scan.ply': textured, 'skin.PNG': 'a picture' }), 'scan.zip');
    expect(model.textures.map(({ bytes }) => Buffer.from(bytes).toString())).toEqual(['a picture']);
    expect(model.materials[model.placements[0]!.material]).toMatchObject({ texture: 0, color: [1, 1, 1, 1] });
    expect([...model.geometries[0]!.uvs!.slice(0, 2)]).toEqual([0.25, 0]);
    expect((await read(textured, 'alone.ply')).warnings[0]!.reason).toContain('“Skin.png” did not come along');
  });

  it('shows polygons and strips, with whatever else stands in the file', async () => {
    const header = (elements: string) => `ply\nformat ascii 1.0\n${elements}\nend_header\n`;
    const xyz = 'property double x\nproperty double y\nproperty double z';
    const places = '0 0 0\n2 0 0\n2 1 0 \n1 2 0\n0 1 0\n';
    const house = await read(
      header(
        `element camera 1\nproperty float fov\nelement vertex 5\n${xyz}\nelement face 1\nproperty list uchar int vertex_index`,
      ) + `60\n${places}5 0 1 2 3 4\n`,
      'house.ply',
    );
    const { pieces } = placeGeometry(house);
    expect(areaOf(pieces[0]!)).toBeCloseTo(3, 5);
    const strips = await read(
      header(`element vertex 5\n${xyz}\nelement tristrips 1\nproperty list int int vertex_indices`) +
        `${places}8 0 1 4 2 -1 4 2 3\n`,
      'strips.ply',
    );
    const sheet = placeGeometry(strips).pieces[0]!;
    expect(areaOf(sheet)).toBeCloseTo(3, 5);
    // All of them look the same way.
    expect(normalsUp(sheet)).toEqual([true, true, true]);
  });

  it('keeps what belongs to the corners of faces', async () => {
    const model = await read(
      await zip({
        'cube.ply': PLY.replace('comment Scanned in Lindenau', 'comment TextureFile a.png')
          .replace(
            'vertex_indices',
            'vertex_indices\nproperty list uchar float texcoord\nproperty uchar red\nproperty uchar green\nproperty uchar blue',
          )
          .replace('3 0 1 2', '3 0 1 2 6 0 0 1 0 1 1 255 0 0')
          .replace('3 0 2 3', '3 0 2 3 6 0 0 0.5 0.5 0 1 0 255 0'),
        'a.png': 'a picture',
      }),
      'cube.zip',
    );
    const { uvs, colors, positions } = model.geometries[0]!;
    // Two corners are of both faces, in two colours.
    expect(positions.length / 3).toBe(6);
    expect([...uvs!]).toEqual([0, 1, 1, 1, 1, 0, 0, 1, 0.5, 0.5, 0, 0]);
    expect([...colors!.slice(0, 4), ...colors!.slice(-4)]).toEqual([255, 0, 0, 255, 0, 255, 0, 255]);
  });

  it('is read from bytes in either order', async () => {
    const header = (order: string) =>
      Buffer.from(
        `ply\r\nformat binary_${order}_endian 1.0\r\nelement vertex 3\r\nproperty float x\r\nproperty float y\r\nproperty float z\r\nelement face 1\r\nproperty list uchar ushort vertex_indices\r\nend_header\r\n`,
      );
    const rows = (isLittle: boolean) => {
      const view = new DataView(new ArrayBuffer(36 + 7));
      [0, 0, 0, 4, 0, 0, 0, 3, 0].forEach((value, i) => view.setFloat32(i * 4, value, isLittle));
      view.setUint8(36, 3);
      [0, 1, 2].forEach((vertex, i) => view.setUint16(37 + i * 2, vertex, isLittle));
      return new Uint8Array(view.buffer);
    };
    for (const order of ['little', 'big']) {
      const bytes = Buffer.concat([header(order), rows(order === 'little')]);
      expect(extent(await read(bytes, 'leaf.ply'))).toEqual([0, 0, 0, 4, 3, 0]);
      expect(await refusal(bytes.subarray(0, -1), 'leaf.ply')).toMatch(/^truncated/);
    }
  });

  it('that holds only points, fewer faces than announced, or half a header is refused', async () => {
    expect(await refusal(PLY.replace(/element face 2[\s\S]*?indices\n/, '').replace(/3 0.*\n/g, ''), 'p.ply')).toMatch(
      /^nothing-inside: .*points but no faces/,
    );
    expect(await refusal(PLY.replace('3 0 2 3\n', ''), 'short.ply')).toMatch(/^truncated/);
    expect(await refusal(PLY.slice(0, 60), 'head.ply')).toMatch(/^damaged/);
  });
});

describe('COLLADA', () => {
  it('is read in its own unit and up axis, with names and materials', async () => {
    const model = await read(DAE, 'step.dae');
    expect(model.source).toMatchObject({ format: 'COLLADA', schema: '1.4.1' });
    expect(model.elements.name).toContain('Step one');
    expect(model.frame).toMatchObject({ metresPerUnit: 0.01, up: 'Z', from: 'file' });
    expect(extent(model)).toEqual([1, 0, 0.5, 1.3, 0.2, 0.5]);
    expect(model.elements.material).toContain('Clay');
    // The loader reads colours as sRGB, which is what the format means.
    expect(model.materials[0]!.color.map((part) => Number(part.toFixed(2)))).toEqual([0.6, 0.2, 0.1, 1]);
  });

  it('shows what is black but for the light that it gives off as that light', async () => {
    const shown = async (diffuse: string) => {
      const light = '<emission><color>1 0.5 0.25 1</color></emission>';
      const model = await read(
        DAE.replace('<diffuse><color>0.6 0.2 0.1', `${light}<diffuse><color>${diffuse}`),
        'lamp.dae',
      );
      return model.materials[0]!.color.map((part) => Number(part.toFixed(2)));
    };
    expect(await shown('0 0 0')).toEqual([1, 0.5, 0.25, 1]);
    expect(await shown('0.6 0.2 0.1')).toEqual([0.6, 0.2, 0.1, 1]);
  });

  it('shows what no light changes in the colour that it gives off', async () => {
    const constant = DAE.replace(/(<\/?)lambert>/g, '$1constant>').replace(/(<\/?)diffuse>/g, '$1emission>');
    const model = await read(constant, 'sign.dae');
    expect(model.materials[0]!.color.map((part) => Number(part.toFixed(2)))).toEqual([0.6, 0.2, 0.1, 1]);
  });

  it('is shown without what it names and does not hold', async () => {
    const model = await read(
      DAE.replace(/<library_(effects|materials)>.*<\/library_\1>/gs, '<library_materials/>').replace(
        '<instance_geometry',
        '<instance_camera url="#none"/><instance_light url="#sun"/><instance_geometry',
      ),
      'step.dae',
    );
    expect(model.warnings[0]!.reason).toBe('2 things are named in the file but not there, and cannot be shown');
    expect(model.elements.material).toEqual(['']);
    expect(model.materials).toEqual([{ name: '', color: PLASTER }]);
    const unseen = DAE.replace('<library_effects>', '<library_animations><animation/></library_animations>$&');
    expect((await read(unseen, 'step.dae')).warnings).toEqual([]);
    expect(await refusal(DAE.replace(/<scene>.*<\/scene>/, ''), 'parts.dae')).toContain('without a scene');
    // Steps through lists with which one never comes to an end.
    for (const [from, to] of [
      ['offset="0"', 'offset="-1"'],
      ['stride="3"', 'stride="999999999"'],
      ['stride="3"', 'stride="0"'],
    ] as const) {
      expect(DAE).toContain(from);
      expect(await refusal(DAE.replaceAll(from, to), 'steps.dae')).toContain(
        `${to.replace('="', ' “').replace('"', '”')}`,
      );
    }
    expect(await refusal(DAE.replace('<vertices id="v">', '<vertices id="w">'), 'bare.dae')).toMatch(/^nothing-inside/);
  });

  it('has the categories of its groups', async () => {
    const inner = /<node id="n1".*<\/node>/s.exec(DAE)![0];
    const grouped = (name: string) =>
      DAE.replace(inner, `<node id="root" name="RootNode"><node id="g" name="${name}">${inner}</node></node>`);
    const { elements } = await read(grouped('Stairs'), 'step.dae');
    expect(elements.category[elements.name.indexOf('Step one')]).toBe('Stairs');
    expect((await read(grouped('node_3'), 'step.dae')).elements.category).toContain('Object');
  });

  it('shows strips, fans and polygons that bend inwards', async () => {
    const triangles = /<triangles material="s" count="2">([\s\S]*?)<p>.*?<\/triangles>/;
    const corners = '0 0 0 2 0 0 2 1 0 1 1 0 1 2 0 0 2 0';
    const area = async (kind: string, lists: string) => {
      const model = await read(
        DAE.replace(triangles, `<${kind} material="s" count="1">$1${lists}</${kind}>`)
          .replace('count="12">0 0 0 30 0 0 30 20 0 0 20 0', `count="18">${corners}`)
          .replace('count="4" stride', 'count="6" stride')
          .replace('meter="0.01"', 'meter="1"'),
        'bent.dae',
      );
      const { pieces } = placeGeometry(model);
      expect(model.materials[pieces[0]!.material]!.name).toBe('Clay');
      const { positions: p, indices } = pieces[0]!;
      let sum = 0;
      for (let i = 0; i < indices.length; i += 3) {
        const [a, b, c] = [0, 1, 2].map((k) => indices[i + k]! * 3) as [number, number, number];
        sum += ((p[b]! - p[a]!) * (p[c + 1]! - p[a + 1]!) - (p[c]! - p[a]!) * (p[b + 1]! - p[a + 1]!)) / 2;
      }
      return sum;
    };
    expect(await area('polylist', '<vcount>6</vcount><p>1 2 3 4 5 0</p>')).toBeCloseTo(3);
    expect(await area('polygons', '<p>1 2 3 4 5 0</p>')).toBeCloseTo(3);
    expect(await area('trifans', '<p>3 4 5 0 1 2</p>')).toBeCloseTo(3);
    expect(await area('tristrips', '<p>0 1 3 2</p><p>3 4 0 5</p>')).toBeCloseTo(3);
  });

  it('is read with decimal commas, without an asset, and in two bytes a letter', async () => {
    const commas = DAE.replace('meter="0.01"', 'meter="0,010000"').replace('30 20 0', '30,5 20 0');
    const model = await read(commas, 'commas.dae');
    expect(extent(model)).toEqual([1, 0, 0.5, 1.305, 0.2, 0.5]);
    expect(model.warnings).toMatchObject([{ reason: expect.stringContaining('decimal commas') }]);
    const bare = await read(DAE.replace(/<asset>[\s\S]*<\/asset>/, ''), 'bare.dae');
    expect(bare.frame).toMatchObject({ metresPerUnit: 1, up: 'Y' });
    const wide = Buffer.from(`\uFEFF${DAE.replace('utf-8', 'utf-16')}`, 'utf16le');
    expect((await read(wide, 'wide.dae')).elements.name).toContain('Step one');
  });

  it('that breaks off or shows nothing is refused', async () => {
    expect(await refusal(DAE.slice(0, 900), 'cut.dae')).toMatch(/^damaged: .*COLLADA/);
    expect(await refusal(DAE.replace(/<scene>.*<\/scene>/, ''), 'hollow.dae')).toMatch(/^(nothing-inside|damaged)/);
  });
});

describe('3MF', () => {
  it('is read with build items, components, transforms, materials and unit', async () => {
    const model = await read(await threeMf(MODEL_3MF), 'pair.3mf');
    expect(model.source).toMatchObject({ format: '3MF', program: 'By hand' });
    expect(model.elements.name).toEqual(['Pair', 'Wedge', 'Wedge']);
    expect(model.elements.parent).toEqual([-1, 0, 0]);
    expect(model.properties[1]).toEqual({ Part: { Number: 'W-7' } });
    expect(new Set(model.elements.guid).size).toBe(3);
    expect(model.materials.map((one) => [one.name, one.color.map((part) => Number(part.toFixed(2)))])).toEqual([
      ['Red wax', [1, 0, 0, 1]],
      ['Water', [0, 0, 1, 0.5]],
    ]);
    expect(model.geometries.length).toBe(2); // one wedge in two materials, placed twice
    // (x, y) turns to (-y, x); 10 cm wedges at 0 and 20 cm along x, which becomes y.
    expect(extent(model)).toEqual([-0.1, 0, 0.05, 0, 0.3, 0.15]);
  });

  it('brings the pictures of its package along, a corner for every place in them', async () => {
    const model3mf = MODEL_3MF.replace(
      '<object id="2"',
      '<texture2d id="8" path="/3D/Textures/skin.png" contenttype="image/png"/><texture2dgroup id="9" texid="8"><tex2coord u="0" v="0"/><tex2coord u="1" v="0"/><tex2coord u="0.5" v="1"/></texture2dgroup><object id="2"',
    ).replace('<triangle v1="0" v2="1" v3="3"/>', '<triangle v1="0" v2="1" v3="3" pid="9" p1="0" p2="1" p3="2"/>');
    const parts = { '[Content_Types].xml': '<Types/>', '3D/3dmodel.model': model3mf };
    const model = await read(await zip({ ...parts, '3D/Textures/skin.png': 'a picture' }), 'skin.3mf');
    const at = model.materials.findIndex(({ texture }) => texture === 0);
    const { geometry } = model.placements.find(({ material }) => material === at)!;
    expect([...model.geometries[geometry]!.uvs!]).toEqual([0, 1, 1, 1, 0.5, 0]);
    expect(model.geometries[geometry]!.indices).toHaveLength(3);
    const without = await read(await zip(parts), 'bare.3mf');
    expect(without.warnings[0]!.reason).toContain('“/3D/Textures/skin.png” is not in the package');
    expect(without.placements.length).toBeGreaterThan(0);
  });

  it('says what of it is not shown', async () => {
    const lattice = MODEL_3MF.replace(
      '<model ',
      '<model xmlns:b="http://example.org/lattice" requiredextensions="b" ',
    ).replace('</triangles>', '</triangles><b:beamlattice><b:beams><b:beam v1="0" v2="1"/></b:beams></b:beamlattice>');
    const { warnings, placements } = await read(await threeMf(lattice), 'lattice.3mf');
    expect(placements.length).toBeGreaterThan(0);
    expect(warnings.map(({ reason }) => reason).join()).toMatch(/beams of its lattice.*http:\/\/example.org\/lattice/);
  });

  it('is found where its package says, in whatever letters, also within another archive', async () => {
    const relationships = (target: string) =>
      `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target = "${target}" Id="r" Type = "http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>`;
    for (const [target, name] of [
      ['/3D/3DModel.model', '3D/3DModel.model'],
      ['/3d/3dmodel.model', '3D/3DModel.model'],
      ['/Parts/the%20pair.model', 'Parts/the pair.model'],
    ] as const) {
      const pack = await zip({ '_rels/.rels': relationships(target), [name]: MODEL_3MF });
      expect((await read(pack, 'pair.3mf')).elements.name, target).toEqual(['Pair', 'Wedge', 'Wedge']);
      expect((await read(await zip({ 'pair.3mf': pack }), 'pair.zip')).elements.name).toHaveLength(3);
    }
    const lost = await zip({ '_rels/.rels': relationships('/3D/gone.model'), '3D/other.model': MODEL_3MF });
    expect(await refusal(lost, 'lost.3mf')).toMatch(/^nothing-inside/);
    const deep = await zip({ 'a.3mf': await zip({ 'b.3mf': await threeMf(MODEL_3MF) }) });
    expect(await refusal(deep, 'deep.zip')).toMatch(/^unknown-format/);
  });

  it('that is damaged, incomplete or hollow is refused', async () => {
    expect(await refusal(await threeMf(MODEL_3MF.slice(0, 700)), 'cut.3mf')).toMatch(/^damaged/);
    expect(await refusal(await threeMf(MODEL_3MF.replace('x="10"', 'x="ten"')), 'ten.3mf')).toMatch(
      /“ten” is no number/,
    );
    expect(await refusal(await threeMf(MODEL_3MF.replace(/<item.*\/>/, '')), 'hollow.3mf')).toMatch(/^nothing-inside/);
    const endless = MODEL_3MF.replace('<component objectid="2"/>', '<component objectid="3"/>');
    expect((await read(await threeMf(endless), 'endless.3mf')).warnings).toContainEqual(
      expect.objectContaining({ reason: 'its components contain themselves' }),
    );
  });
});

function area(model: BuildingModel, name: string): number {
  const row = model.elements.name.indexOf(name);
  let sum = 0;
  for (const { element, geometry, matrix } of model.placements) {
    if (element !== row) continue;
    const { positions: p, indices } = model.geometries[geometry]!;
    for (let i = 0; i < indices.length; i += 3) {
      const [a, b, c] = [indices[i]! * 3, indices[i + 1]! * 3, indices[i + 2]! * 3] as [number, number, number];
      const u = [0, 1, 2].map((k) => p[b + k]! - p[a + k]!) as [number, number, number];
      const v = [0, 1, 2].map((k) => p[c + k]! - p[a + k]!) as [number, number, number];
      const cross = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
      sum += (Math.hypot(...cross) / 2) * matrix[0]! ** 2;
    }
  }
  return sum;
}

describe('gbXML', () => {
  it('is read with storeys, spaces and surfaces, openings cut out, in UTF-16 and feet', async () => {
    const model = await read(Buffer.from(`\uFEFF${GBXML}`, 'utf16le'), 'energy.xml');
    expect(model.source).toMatchObject({ format: 'gbXML', schema: '6.01', program: 'By hand' });
    expect(model.storeys.map((storey) => [storey.name, Number(storey.elevation.toFixed(3))])).toEqual([
      ['Ground', 0],
      ['Upper', 3.048],
    ]);
    expect(model.elements.name).toEqual(['Reading', 'South', 'Window', 'su2', 'su3']);
    expect(model.elements.category).toEqual(['Space', 'Exterior wall', 'Window', 'Roof', 'Shade']);
    expect(model.elements.storey).toEqual([0, 0, 0, -1, -1]);
    expect(model.elements.room).toEqual(['', 'Reading', 'Reading', '', '']);
    expect(model.elements.parent[2]).toBe(1);
    expect(model.properties[0]).toMatchObject({
      gbXML: { Area: 200, Volume: 2000, 'PeopleNumber (NumberOfPeople)': 12 },
    });
    const foot2 = 0.3048 ** 2;
    expect(area(model, 'South')).toBeCloseTo((20 * 10 - 5 * 4) * foot2, 5);
    expect(area(model, 'Window')).toBeCloseTo(20 * foot2, 5);
    expect(area(model, 'su2')).toBeCloseTo(200 * foot2, 5);
    expect(colorOf(model, 'South')).not.toEqual(colorOf(model, 'su2'));
    expect(model.warnings).toMatchObject([{ name: 'su3' }]);
  });

  it('that is no XML, or XML of another kind, is refused', async () => {
    expect(await refusal(GBXML.slice(0, 1500), 'cut.xml')).toMatch(/^damaged: .*not whole XML/);
    expect(await refusal('<?xml version="1.0"?><svg/>', 'drawing.xml')).toMatch(/^unknown-format/);
    expect(await refusal(GBXML.replace(/<Surface[\s\S]*<\/Surface>/, ''), 'hollow.xml')).toMatch(/^nothing-inside/);
  });
});

describe('zip archives', () => {
  const ifc = ifcFile(proxy(100, 'Box', '#110') + extrusion(110, rectangle(1, 1), 1));

  it('of one IFC file are read, beside what archive programs put in', async () => {
    const model = await read(
      await zip({ 'a/house.ifc': ifc, '__MACOSX/a/._house.ifc': 'x', 'a/readme.txt': 'hello' }),
      'house.ifczip',
    );
    expect([model.source.format, model.elements.name]).toEqual(['IFC', ['Box']]);
  });

  it('bring the parts of a glTF along, by any case and slashes, and nothing from beside them', async () => {
    const gltf = (uri: string) =>
      JSON.stringify({
        asset: { version: '2.0' },
        scenes: [{ nodes: [0] }],
        nodes: [{ name: 'Sheet', mesh: 0 }],
        meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
        accessors: [{ bufferView: 0, componentType: 5126, count: 3, type: 'VEC3' }],
        bufferViews: [{ buffer: 0, byteLength: 36 }],
        buffers: [{ uri, byteLength: 36 }],
      });
    const bin = Buffer.from(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 0, 2).buffer);
    const model = await read(await zip({ 'scene.gltf': gltf('data\\Sheet.BIN'), 'Data/sheet.bin': bin }), 'scene.zip');
    expect(extent(model)).toEqual([0, -2, 0, 1, 0, 0]);
    expect(await refusal(await zip({ 'scene.gltf': gltf('../../../etc/passwd') }), 'thief.zip')).toMatch(
      /^damaged: .*did not come with it/,
    );
    expect(await refusal(gltf('/etc/passwd'), 'thief.gltf')).toMatch(/did not come with it/);
  });

  it('without a model, with several, or damaged are refused', async () => {
    expect(await refusal(await zip({ 'a.txt': 'x' }), 'text.zip')).toMatch(/^nothing-inside/);
    expect(await refusal(await zip({ 'a.ifc': ifc, 'b.ifc': ifc }), 'two.zip')).toMatch(
      /several models \(a.ifc, b.ifc\)/,
    );
    const whole = await zip({ 'a.ifc': ifc });
    expect(await refusal(whole.subarray(0, whole.length - 30), 'cut.zip')).toMatch(/^damaged/);
  });

  it('that would fill the disk or leave their folder are stopped', async () => {
    const bomb = await zip({ 'zeros.obj': Buffer.alloc(3_000_000) });
    expect(bomb.length).toBeLessThan(10_000);
    const path = join(folder, 'bomb.zip');
    await writeFile(path, bomb);
    const target = join(folder, 'bomb');
    await mkdir(target);
    await expect(unpack(path, 'bomb.zip', target, { bytes: 2_000_000, entries: 10 })).rejects.toThrow(
      /was not unpacked/,
    );
    // An entry that leaves the folder: written by hand over a harmless name of the same length.
    const harmless = await zip({ 'aa/aa/evil.ifc': ifc });
    const evil = Buffer.from(harmless.toString('latin1').replaceAll('aa/aa/evil.ifc', '../../evil.ifc'), 'latin1');
    expect(await refusal(evil, 'evil.zip')).toMatch(/^damaged/);
    expect(dirname(target)).toBe(folder);
  });
});

import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import DxfParser from 'dxf-parser';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { section } from './section';
import { listen } from './test-console';

/** Two blocks and an open sheet as OBJ, which has Y up. */
const OBJ = ['o Outer', ...box(0, [0, 0, 0], [4, 3, 2.5]), 'o Small', ...box(8, [10, 0, 0], [1, 1, 2.5]), 'o Sheet', 'v 20 0 0', 'v 22 0 0', 'v 22 2 0', 'v 20 2 0', 'f 17 18 19 20']; // prettier-ignore

function box(before: number, at: number[], size: number[]): string[] {
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((k) => {
    const [x, y, z] = [k & 1, (k >> 1) & 1, k >> 2].map((on, i) => at[i]! + on * size[i]!);
    return `v ${x} ${z} ${-y!}`;
  });
  const faces = ['1 3 4 2', '5 6 8 7', '1 2 6 5', '2 4 8 6', '4 3 7 8', '3 1 5 7'];
  return [...corners, ...faces.map((face) => `f ${face.split(' ').map((corner) => Number(corner) + before).join(' ')}`)]; // prettier-ignore
}

interface Printed {
  planes: {
    plane: number[];
    area: number;
    elements: { name: string; closed: boolean; area: number; loops: number[][][]; lines: number[][][] }[];
  }[];
}

let folder: string;
let file: string;
const heard = listen();
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'yurta-section-'));
  file = join(folder, 'walls.obj');
  await writeFile(file, OBJ.join('\n'));
});
afterAll(() => rm(folder, { recursive: true }));

describe('yurta section', () => {
  it('prints areas, loops and open lines of several planes', async () => {
    expect(await section([file], { plane: ['0,0,1,1', '2,0,0,4'], json: true, scale: '100' })).toBe(0);
    const [level, upright] = (JSON.parse(heard.printed[0]!) as Printed).planes;
    expect(level!.plane).toEqual([0, 0, 1, 1]);
    expect(level!.area).toBeCloseTo(13, 6);
    const named = (name: string) => level!.elements.find((element) => element.name === name)!;
    expect(named('Outer')).toMatchObject({ closed: true });
    expect(named('Outer').area).toBeCloseTo(12, 6);
    expect(named('Outer').loops[0]).toHaveLength(4);
    for (const point of named('Outer').loops[0]!) expect(point[2]).toBeCloseTo(1, 9);
    expect(named('Sheet')).toMatchObject({ closed: false, area: 0, loops: [] });
    expect(named('Sheet').lines).toHaveLength(1);
    expect(upright!.plane).toEqual([1, 0, 0, 2]);
    expect(upright!.area).toBeCloseTo(7.5, 6);
  });

  it('draws to scale as SVG and PDF, and as DXF that others read', async () => {
    const out = (ending: string) => join(folder, `plan.${ending}`);
    const options = { plane: ['0,0,1,1', '1,0,0,2'], svg: out('svg'), dxf: out('dxf'), pdf: out('pdf'), scale: '50' };
    expect(await section([file], options)).toBe(0);
    const svg = await readFile(out('svg'), 'utf8');
    // 22 metres at 1:50 are 440 mm, and 10 mm stand on either side.
    expect(svg).toContain('width="460mm"');
    expect(svg).toContain('1:50');
    const dxf = new DxfParser().parseSync(await readFile(out('dxf'), 'utf8'))!;
    expect(dxf.header.$INSUNITS).toBe(6);
    const outlines = dxf.entities.filter(({ type }) => type === 'LWPOLYLINE') as unknown as {
      shape: boolean;
      layer: string;
      vertices: { x: number; y: number }[];
    }[];
    expect(outlines).toHaveLength(3);
    const [outer] = outlines;
    expect(outer!.vertices.map(({ x, y }) => [x, y]).sort()).toEqual([[0, 0], [0, 3], [4, 0], [4, 3]]); // prettier-ignore
    expect(Object.keys(dxf.tables.layer.layers)).toContain(outer!.layer);
    expect((await readFile(out('pdf'))).subarray(0, 5).toString()).toBe('%PDF-');
    expect(await readFile(join(folder, 'plan-2.svg'), 'utf8')).toContain('<path');
  });

  it.each([
    ['0,0,0,1', 'is no plane'],
    ['0,0,1', 'is no plane'],
    ['a,0,1,2', 'is no plane'],
  ])('refuses the plane %s', async (plane, reason) => {
    expect(await section([file], { plane: [plane], scale: '100' })).toBe(2);
    expect(heard.complaints).toEqual([expect.stringContaining(reason)]);
  });

  it('refuses files that there are not, or that are none', async () => {
    expect(await section([join(folder, 'nothing.ifc')], { plane: ['0,0,1,1'], scale: '100' })).toBe(2);
    const wrong = join(folder, 'wrong.ifc');
    await writeFile(wrong, 'not a model');
    expect(await section([wrong], { plane: ['0,0,1,1'], scale: '100' })).toBe(2);
    expect(await section([file], { plane: [], scale: '100' })).toBe(2);
    expect(await section([file], { plane: ['0,0,1,1'], scale: 'half' })).toBe(2);
    expect(heard.complaints).toHaveLength(4);
    for (const line of heard.complaints) expect(line.split('\n')).toHaveLength(1);
  });
});

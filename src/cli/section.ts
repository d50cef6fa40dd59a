import { writeFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { format } from 'date-fns';
import { drawingArea, type Drawing, type DrawnElement } from '@/core/drawing/drawing';
import { ROOM_CATEGORY } from '@/core/elements/element-flags';
import type { Path } from '@/core/section/path';
import { inSpace, planeFrame, planeOf, type Plane } from '@/core/section/plane';
import { cutElement } from '@/core/section/section';
import type { BuildingModel } from '@/formats/building-model';
import { ModelFileError } from '@/formats/model-file-error';
import { elementMeshes } from '@/publish/element-meshes';
import { withOneLineErrors } from './one-line-errors';
import { readModels } from './read-models';

export interface SectionOptions {
  /** `nx,ny,nz,d` each: the points x with n · x = d, metres, project coordinates, Z up. */
  plane: string[];
  json?: boolean;
  svg?: string;
  dxf?: string;
  pdf?: string;
  scale: string;
}

/**
 * `yurta section FILE… --plane nx,ny,nz,d`: exact sections of model files, without a server. Drawings of several planes get the
 * number of their plane before the ending of their name.
 *
 * @returns the exit code: 0, or 2 if a plane or a file is wrong
 */
export async function section(files: string[], options: SectionOptions): Promise<number> {
  return withOneLineErrors('section', async () => {
    const planes = options.plane.map(readPlane);
    if (planes.length === 0) throw new ModelFileError('damaged', '--plane is missing: nx,ny,nz,d.');
    const scale = Number(options.scale);
    if (!(scale >= 1 && scale <= 100_000)) throw new ModelFileError('damaged', '--scale takes a number such as 100.');
    const drawings = planes.map((plane): Drawing => ({ plane, elements: [] }));
    for await (const model of readModels(files))
      for (const [i, elements] of cutModel(model, planes).entries()) drawings[i]!.elements.push(...elements);
    await write(drawings, files, scale, options);
  });
}

function readPlane(text: string): Plane {
  const numbers = text.split(',').map((part) => (part.trim() === '' ? NaN : Number(part)));
  const [x, y, z, offset] = numbers as [number, number, number, number];
  const plane = numbers.length === 4 ? planeOf([x, y, z], offset) : null;
  if (!plane) throw new ModelFileError('damaged', `“${text}” is no plane. Give it as nx,ny,nz,d, such as 0,0,1,1.2.`);
  return plane;
}

function cutModel(model: BuildingModel, planes: readonly Plane[]): DrawnElement[][] {
  const meshes = elementMeshes(model);
  const { guid, name, category, material } = model.elements;
  return planes.map((plane) =>
    meshes.flatMap((own, row): DrawnElement[] => {
      if (category[row] === ROOM_CATEGORY) return []; // a place, not a thing
      const cut = cutElement(own, plane);
      const words = { guid: guid[row]!, name: name[row]!, category: category[row]!, material: material[row]! };
      return cut ? [{ ...words, ...cut }] : [];
    }),
  );
}

async function write(drawings: Drawing[], files: string[], scale: number, options: SectionOptions): Promise<void> {
  const title = { title: files.map((file) => basename(file)).join(', '), date: format(new Date(), 'd MMM yyyy') };
  for (const [i, drawing] of drawings.entries()) {
    const named = (out: string) => (i === 0 ? out : out.replace(/(\.[^./]+)?$/, `-${i + 1}$1`));
    if (options.svg)
      await writeFile(named(options.svg), (await import('@/core/drawing/svg')).drawingSvg(drawing, title, scale));
    if (options.dxf) await writeFile(named(options.dxf), (await import('@/core/drawing/dxf')).drawingDxf(drawing));
    if (options.pdf)
      await writeFile(
        named(options.pdf),
        await (await import('@/server/drawings/pdf')).drawingPdf(drawing, title, scale),
      );
  }
  if (options.json) console.log(JSON.stringify({ planes: drawings.map(asJson) }));
  else
    for (const drawing of drawings) {
      const open = drawing.elements.filter(({ isClosed }) => !isClosed).length;
      console.log(
        `${drawing.elements.length} elements cut, ${drawingArea(drawing).toFixed(3)} m² in all${open > 0 ? `, ${open} with open surfaces` : ''}`,
      );
    }
}

function asJson(drawing: Drawing) {
  const { normal, offset } = drawing.plane;
  const frame = planeFrame(drawing.plane);
  const inThree = (path: Path) =>
    Array.from({ length: path.length / 2 }, (_, i) => inSpace(frame, [path[2 * i]!, path[2 * i + 1]!]));
  return {
    plane: [...normal, offset],
    area: drawingArea(drawing),
    elements: drawing.elements.map(({ guid, name, category, material, isClosed, area, regions, lines }) => ({
      guid,
      name,
      category,
      material,
      closed: isClosed,
      area,
      loops: regions.flatMap(({ border, holes }) => [border, ...holes].map(inThree)),
      lines: lines.map(inThree),
    })),
  };
}

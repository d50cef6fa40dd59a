import type { BuildingModel, PropertySets } from '../building-model';
import { ModelBuilder } from '../model-builder';
import { ModelFileError } from '../model-file-error';
import { agreeFrame } from '../model-frame';
import type { ReadOptions } from '../read-model';
import type { SourceFile } from '../source-file';
import { readXmlTree, type XmlNode } from '../xml/xml-tree';
import { fillPolygon, type Point } from './fill-polygon';
import { surfaceLook } from './surface-look';

const METRES: Record<string, number> = {
  Kilometers: 1000,
  Meters: 1,
  Centimeters: 0.01,
  Millimeters: 0.001,
  Miles: 1609.344,
  Yards: 0.9144,
  Feet: 0.3048,
  Inches: 0.0254,
};
const IDENTITY = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];

/**
 * Reads gbXML, the energy model of a building: storeys, spaces with their facts, and surfaces with their openings,
 * coloured by the type of surface. A space without a shape of its own stays in the contents; its surfaces show it.
 *
 * @throws ModelFileError if it is no whole gbXML or holds no surface
 */
export async function readGbxml({ path, fileName }: SourceFile, options: ReadOptions): Promise<BuildingModel> {
  let root: XmlNode;
  try {
    root = await readXmlTree(path);
  } catch (cause) {
    const detail = (cause instanceof Error ? cause.message : String(cause)).split('\n')[0]!;
    throw new ModelFileError('damaged', `“${fileName}” is not whole XML: ${detail}. Export it again.`, { cause });
  }
  options.onProgress?.(0.5);
  if (root.name !== 'gbXML')
    throw new ModelFileError('unsupported', `“${fileName}” is XML of another kind (${root.name}), not gbXML.`);
  const builder = new ModelBuilder({
    format: 'gbXML',
    schema: root.attributes.version ?? '',
    fileName,
    program: root.find('DocumentHistory')?.find('ProgramInfo')?.find('ProductName')?.text ?? '',
  });
  const unit = METRES[root.attributes.lengthUnit ?? 'Meters'] ?? 1;
  const spaces = addBuilding(builder, root, unit);
  for (const campus of root.all('Campus'))
    for (const surface of campus.all('Surface')) addSurface(builder, surface, spaces);
  if (builder.model.placements.length === 0)
    throw new ModelFileError('nothing-inside', `“${fileName}” is valid gbXML but holds no surface.`);
  agreeFrame(builder.model, { metresPerUnit: unit, up: 'Z' }, 'Z', options.frame ?? {});
  return builder.model;
}

interface SpaceEntry {
  name: string;
  storey: number;
}

function addBuilding(builder: ModelBuilder, root: XmlNode, unit: number): Map<string, SpaceEntry> {
  const spaces = new Map<string, SpaceEntry>();
  for (const building of root.all('Campus').flatMap((campus) => campus.all('Building'))) {
    const levels = building
      .all('BuildingStorey')
      .map((node) => ({ node, elevation: Number(node.find('Level')?.text ?? 0) * unit }))
      .sort((a, b) => a.elevation - b.elevation);
    const storeyOf = new Map<string, number>();
    for (const { node, elevation } of levels) {
      const guid = node.attributes.id ?? '';
      storeyOf.set(guid, builder.model.storeys.length);
      builder.model.storeys.push({ guid, name: node.find('Name')?.text || guid || 'Storey', elevation });
    }
    for (const space of building.all('Space')) {
      const id = space.attributes.id ?? '';
      const entry = {
        name: space.find('Name')?.text || id,
        storey: storeyOf.get(space.attributes.buildingStoreyIdRef ?? '') ?? -1,
      };
      spaces.set(id, entry);
      const row = builder.element({ ...entry, guid: id || undefined, category: 'Space', facts: factsOf(space) });
      const shell = space.find('ShellGeometry')?.find('ClosedShell');
      if (shell)
        addPolygons(
          builder,
          row,
          shell.all('PolyLoop').map((loop) => [points(loop)]),
          'Space',
        );
    }
  }
  return spaces;
}

function addSurface(builder: ModelBuilder, surface: XmlNode, spaces: Map<string, SpaceEntry>): void {
  const type = surface.attributes.surfaceType ?? 'Surface';
  const beside = surface.all('AdjacentSpaceId').map((node) => spaces.get(node.attributes.spaceIdRef ?? ''));
  const storey = beside.find((space) => space !== undefined)?.storey ?? -1;
  const room = [...new Set(beside.flatMap((space) => space?.name ?? []))].join(', ');
  const look = surfaceLook(type);
  const outline = outlineOf(surface);
  const openings = surface.all('Opening');
  const row = builder.element({
    name: surface.find('Name')?.text || surface.attributes.id || look.category,
    guid: surface.attributes.id,
    category: look.category,
    storey,
    room,
    facts: factsOf(surface),
  });
  const holes = openings.map(outlineOf).filter((hole) => hole.length >= 3);
  addPolygons(builder, row, outline.length >= 3 ? [[outline, ...holes]] : [], type);
  for (const opening of openings) {
    const kind = opening.attributes.openingType ?? 'Opening';
    const part = builder.element({
      name: opening.find('Name')?.text || opening.attributes.id || kind,
      guid: opening.attributes.id,
      category: surfaceLook(kind).category,
      parent: row,
      storey,
      room,
      facts: factsOf(opening),
    });
    const edge = outlineOf(opening);
    addPolygons(builder, part, edge.length >= 3 ? [[edge]] : [], kind);
  }
}

/** @param polygons each an outline and its holes */
function addPolygons(builder: ModelBuilder, row: number, polygons: Point[][][], type: string): void {
  builder.model.productsWithShape++;
  const { color, category } = surfaceLook(type);
  const material = builder.material({ name: category, color });
  let placed = 0;
  for (const rings of polygons) {
    const geometry = fillPolygon(rings);
    if (!geometry) continue;
    placed++;
    builder.place(row, builder.geometry(geometry), material, IDENTITY);
  }
  if (placed === 0) builder.warn(row, 'its outline has fewer than three corners, or no area');
}

function outlineOf(node: XmlNode): Point[] {
  const loop = node.find('PlanarGeometry')?.find('PolyLoop');
  return loop ? points(loop) : [];
}

function points(loop: XmlNode): Point[] {
  return loop.all('CartesianPoint').map((point) => {
    const [x, y, z] = point.all('Coordinate').map((coordinate) => Number(coordinate.text));
    return [x ?? NaN, y ?? NaN, z ?? NaN];
  });
}

/** Attributes and simple values of a space or surface, with their units, as facts. */
function factsOf(node: XmlNode): PropertySets {
  const values: Record<string, string | number> = {};
  for (const [name, value] of Object.entries(node.attributes)) values[name] = value;
  for (const child of node.children) {
    if (child.text === '' || child.children.length > 0 || child.name === 'Name') continue;
    const unit = child.attributes.unit ? ` (${child.attributes.unit})` : '';
    const number = Number(child.text);
    values[child.name + unit] = Number.isFinite(number) ? number : child.text;
  }
  return { gbXML: values };
}

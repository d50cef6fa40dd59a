import { unitName } from '@/core/units/length-unit';
import { emptyModel, type BuildingModel, type PropertySets } from '../building-model';
import { ModelFileError } from '../model-file-error';
import type { ReadOptions } from '../read-model';
import { IFCBUILDINGSTOREY, IFCPRODUCT, IFCSPACE, IFCSPATIALSTRUCTUREELEMENT } from './class-codes';
import { numeric, reference, text, type IfcLine } from './ifc-line';
import type { IfcFile } from './ifc-file';
import { classDisciplines } from './disciplines';
import { readFacts } from './facts';
import { lengthUnitInMetres } from './length-unit';
import { MaterialDefinitions } from './materials';
import { LEFT_OUT } from './product-classes';
import { GeometryReader } from './geometry-reader';
import { readGeoreference, readRelations, type IfcRelations } from './relations';
import { SurfaceColours } from './surface-colours';
import type { Shapes } from './shapes';
import type { StepHeader } from './step-file';

/**
 * Makes a building model of an open file: every product becomes an element, except openings, ports, load cases, grids and
 * annotations, which are listed as left out where they have a shape; storeys and the building become places, spaces become
 * elements of category Space. Geometry arrives in metres and is turned from the reader library's Y-up frame to Z up.
 *
 * @throws ModelFileError if there is no product, or the library cannot make sense of the file
 */
export async function ifcModel(
  file: IfcFile,
  fileName: string,
  { schema, program }: StepHeader,
  shapes: Shapes,
  options: ReadOptions,
): Promise<BuildingModel> {
  const metresPerUnit = lengthUnitInMetres(file);
  const model = emptyModel(
    { format: 'IFC', schema, fileName, program },
    { metresPerUnit, up: 'Z', from: 'file', reason: `The file is in ${unitName(metresPerUnit)} with Z up.` },
  );
  model.georeference = readGeoreference(file);
  const products = findProducts(file, model);
  if (products.lines.size === 0) {
    throw new ModelFileError('nothing-inside', `“${fileName}” is a valid IFC file but holds no building element.`);
  }
  options.onProgress?.(0.1);
  const relations = readRelations(file);
  const materials = new MaterialDefinitions(file);
  const rows = readProducts(file, model, products, relations, materials);
  const colours = new SurfaceColours(file, relations, materials);
  const facts = readFacts(file);
  for (const [id, row] of rows) Object.assign(model.properties[row]!, facts.get(id));
  const geometry = new GeometryReader(file, model, rows, colours, shapes.geometries);
  const failures = await shapes.build({
    onProgress: (share) => options.onProgress?.(0.1 + 0.85 * share),
    onShapes: (some) => options.onShapes?.(some),
    onPlacements: (placements) => geometry.add(placements),
  });
  if (!failures)
    throw new ModelFileError('damaged', `“${fileName}” could not be read as IFC: its data section is damaged.`);
  geometry.warnOfMissing(products.shaped, failures);
  for (const id of file.damaged)
    model.warnings.push({ reason: `line #${id} of the file is missing or damaged; what it said is left out` });
  return model;
}

interface Products {
  /** Express id -> line, in the order of the rows. */
  lines: Map<number, IfcLine>;
  /** Express ids of those that name a representation. */
  shaped: number[];
  /** Express ids of the rooms. */
  spaces: Set<number>;
}

function findProducts(file: IfcFile, model: BuildingModel): Products {
  const skipped = new Map(
    LEFT_OUT.flatMap(([type, reason]) => file.idsOfType(type, true).map((id) => [id, reason] as const)),
  );
  const spaces = new Set(file.idsOfType(IFCSPACE, true));
  // Site, building and storey are places, but a site may carry the terrain as its own shape.
  const places = new Set(file.idsOfType(IFCSPATIALSTRUCTUREELEMENT, true).filter((id) => !spaces.has(id)));

  const shaped: number[] = [];
  const lines = new Map<number, IfcLine>();
  for (const id of file.idsOfType(IFCPRODUCT, true)) {
    const line = file.line(id);
    const hasShape = reference(line, 'Representation') !== null;
    const reason = skipped.get(id);
    if (reason !== undefined) {
      if (hasShape)
        model.leftOut.push({
          guid: text(line, 'GlobalId'),
          name: text(line, 'Name'),
          category: file.className(line),
          reason,
        });
      continue;
    }
    if (places.has(id) && !hasShape) continue;
    lines.set(id, line);
    if (hasShape) shaped.push(id);
  }
  model.productsWithShape = shaped.length;
  return { lines, shaped, spaces };
}

/** Fills the element table and the facts that every element has; returns express id -> row. */
function readProducts(
  file: IfcFile,
  model: BuildingModel,
  { lines, spaces }: Products,
  relations: IfcRelations,
  materials: MaterialDefinitions,
): Map<number, number> {
  const storeyIndex = readStoreys(file, model);
  const rows = new Map([...lines.keys()].map((id, row) => [id, row]));
  const disciplines = classDisciplines(file);
  const table = model.elements;
  for (const [id, line] of lines) {
    const place = locate(id, relations, storeyIndex, spaces);
    const category = categoryName(file.className(line));
    const typeId = relations.type.get(id);
    table.guid.push(text(line, 'GlobalId') || `line-${id}`);
    table.name.push(elementName(line, category, spaces.has(id)));
    table.category.push(category);
    table.storey.push(place.storey);
    table.room.push(place.space === null ? '' : roomName(file.line(place.space)));
    table.system.push((relations.groups.get(id) ?? []).join(', '));
    const material = relations.material.get(id) ?? relations.material.get(typeId ?? -1);
    table.material.push(material === undefined ? '' : materials.name(material));
    table.discipline.push(disciplines.get(id) ?? '');
    table.parent.push(rows.get(relations.whole.get(id) ?? relations.host.get(id) ?? -1) ?? -1);
    model.properties.push(identityFacts(file, line, typeId));
  }
  return rows;
}

/** Storeys in ascending order; returns express id -> index. */
function readStoreys(file: IfcFile, model: BuildingModel): Map<number, number> {
  const unit = model.frame.metresPerUnit;
  const lines = file
    .linesOfType(IFCBUILDINGSTOREY)
    .map((line) => ({ line, elevation: (numeric(line, 'Elevation') ?? 0) * unit }));
  lines.sort((a, b) => a.elevation - b.elevation);
  model.storeys = lines.map(({ line, elevation }) => ({
    guid: text(line, 'GlobalId'),
    name: text(line, 'Name') || text(line, 'LongName') || 'Storey',
    elevation,
  }));
  return new Map(lines.map(({ line }, index) => [line.expressID, index]));
}

/** Follows containment, then parts to their wholes, up to the storey and the space. */
function locate(id: number, relations: IfcRelations, storeys: Map<number, number>, spaces: Set<number>) {
  let space: number | null = null;
  let at: number | undefined = id;
  for (let steps = 0; at !== undefined && steps < 32; steps++) {
    if (at !== id && spaces.has(at)) space ??= at;
    const storey = storeys.get(at);
    if (storey !== undefined) return { storey, space };
    at = relations.container.get(at) ?? relations.whole.get(at) ?? relations.host.get(at);
  }
  return { storey: -1, space };
}

function roomName(space: IfcLine): string {
  return [text(space, 'Name'), text(space, 'LongName')].filter(Boolean).join(' ');
}

function elementName(line: IfcLine, category: string, isSpace: boolean): string {
  return (isSpace ? roomName(line) : text(line, 'Name')) || text(line, 'ObjectType') || category;
}

function identityFacts(file: IfcFile, line: IfcLine, typeId: number | undefined): PropertySets {
  const values: Record<string, string> = { Class: file.className(line) };
  for (const [fact, attribute] of [
    ['Description', 'Description'],
    ['Type', 'ObjectType'],
    ['Tag', 'Tag'],
    ['Predefined type', 'PredefinedType'],
  ] as const) {
    const value = text(line, attribute);
    if (value && value !== 'NOTDEFINED') values[fact] = value;
  }
  const typeName = typeId === undefined ? '' : text(file.line(typeId), 'Name');
  if (typeName) values.Type = typeName;
  return { Identity: values };
}

/** `IfcWallStandardCase` becomes “Wall”, `IfcFlowSegment` “Flow segment”. */
export function categoryName(className: string): string {
  const words = className
    .replace(/^Ifc/, '')
    .replace(/(StandardCase|ElementedCase)$/, '')
    .replace(/(?<=[a-z0-9])(?=[A-Z])/g, ' ');
  return words.charAt(0).toUpperCase() + words.slice(1).toLowerCase();
}

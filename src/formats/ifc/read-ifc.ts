import {
  IFCANNOTATION,
  IFCBUILDINGSTOREY,
  IFCFEATUREELEMENTSUBTRACTION,
  IFCGRID,
  IFCPRODUCT,
  IFCPORT,
  IFCSPACE,
  IFCSPATIALSTRUCTUREELEMENT,
  IFCSTRUCTURALITEM,
  IFCSTRUCTURALACTIVITY,
} from 'web-ifc';
import { unitName } from '@/core/units/length-unit';
import { emptyElementTable, type BuildingModel } from '../building-model';
import { ModelFileError } from '../model-file-error';
import type { ReadOptions } from '../read-model';
import type { SourceFile } from '../source-file';
import { numeric, reference, text, type IfcLine } from './ifc-line';
import { IfcSession } from './ifc-session';
import { classDisciplines } from './disciplines';
import { lengthUnitInMetres } from './length-unit';
import { MaterialDefinitions } from './materials';
import { readGeometry } from './read-geometry';
import { PropertyReader, readGeoreference, readRelations, type IfcRelations } from './relations';
import { readStepHeader } from './step-file';
import { SurfaceColours } from './surface-colours';

/**
 * Reads an IFC file (2x3, 4, 4x3) into a building model: every product becomes an element, except openings, ports, load
 * cases, grids and annotations, which are listed as left out where they have a shape; storeys and the building become places, spaces become elements of category Space. Geometry arrives in
 * metres and is turned from the reader library's Y-up frame to Z up.
 *
 * @throws ModelFileError if the file breaks off, is no IFC or holds no product
 */
export async function readIfc({ path, fileName }: SourceFile, options: ReadOptions): Promise<BuildingModel> {
  const header = await readStepHeader(path, fileName);
  const session = await IfcSession.open(path, fileName, header);
  try {
    const metresPerUnit = lengthUnitInMetres(session);
    const model: BuildingModel = {
      source: { format: 'IFC', schema: header.schema, fileName, program: header.program },
      frame: { metresPerUnit, up: 'Z', from: 'file', reason: `The file is in ${unitName(metresPerUnit)} with Z up.` },
      elements: emptyElementTable(),
      geometries: [],
      materials: [],
      textures: [],
      placements: [],
      properties: [],
      storeys: [],
      georeference: readGeoreference(session),
      cameras: [],
      warnings: [],
      leftOut: [],
      productsWithShape: 0,
    };
    options.onProgress?.(0.1);
    const relations = readRelations(session);
    const materials = new MaterialDefinitions(session);
    const { rows, shaped } = readProducts(session, model, relations, materials);
    if (rows.size === 0) {
      throw new ModelFileError('nothing-inside', `“${fileName}” is a valid IFC file but holds no building element.`);
    }
    options.onProgress?.(0.4);
    const colours = new SurfaceColours(session, relations, materials);
    readGeometry(session, model, rows, shaped, colours, (share) => options.onProgress?.(0.4 + 0.6 * share));
    for (const id of session.damaged)
      model.warnings.push({ reason: `line #${id} of the file is missing or damaged; what it said is left out` });
    return model;
  } catch (error) {
    if (!(error instanceof WebAssembly.RuntimeError)) throw error;
    throw new ModelFileError(
      'damaged',
      `“${fileName}” could not be read as IFC: its data section is damaged so badly that the reader stopped (${error.message}).`,
      { cause: error },
    );
  } finally {
    session.close();
  }
}

/** Products that are no part of the building, with the reason that the report gives. */
const LEFT_OUT: [type: number, reason: string][] = [
  [IFCFEATUREELEMENTSUBTRACTION, 'an opening: it is cut out of its element and not shown by itself'],
  [IFCPORT, 'a port: it only tells where services connect'],
  [IFCSTRUCTURALITEM, 'a part of the structural analysis, not of the building'],
  [IFCSTRUCTURALACTIVITY, 'a load of the structural analysis, not of the building'],
  [IFCANNOTATION, 'an annotation of a drawing'],
  [IFCGRID, 'a grid of axes'],
];

interface Products {
  /** Express id -> element row. */
  rows: Map<number, number>;
  /** Express ids of the rows that name a representation. */
  shaped: number[];
}

function readProducts(
  session: IfcSession,
  model: BuildingModel,
  relations: IfcRelations,
  materials: MaterialDefinitions,
): Products {
  const properties = new PropertyReader(session, relations);
  const storeyIndex = readStoreys(session, model);
  const skipped = new Map(
    LEFT_OUT.flatMap(([type, reason]) => session.idsOfType(type, true).map((id) => [id, reason] as const)),
  );
  const spaces = new Set(session.idsOfType(IFCSPACE, true));
  // Site, building and storey are places, but a site may carry the terrain as its own shape.
  const places = new Set(session.idsOfType(IFCSPATIALSTRUCTUREELEMENT, true).filter((id) => !spaces.has(id)));

  const rows = new Map<number, number>();
  const shaped: number[] = [];
  const lines = new Map<number, IfcLine>();
  for (const id of session.idsOfType(IFCPRODUCT, true)) {
    const line = session.line(id);
    const hasShape = reference(line, 'Representation') !== null;
    const reason = skipped.get(id);
    if (reason !== undefined) {
      if (hasShape)
        model.leftOut.push({
          guid: text(line, 'GlobalId'),
          name: text(line, 'Name'),
          category: session.className(line),
          reason,
        });
      continue;
    }
    if (places.has(id) && !hasShape) continue;
    rows.set(id, rows.size);
    lines.set(id, line);
    if (hasShape) shaped.push(id);
  }

  const disciplines = classDisciplines(session);
  const table = model.elements;
  for (const [id, line] of lines) {
    const place = locate(id, relations, storeyIndex, spaces);
    const category = categoryName(session.className(line));
    const typeId = relations.type.get(id);
    table.guid.push(text(line, 'GlobalId') || `line-${id}`);
    table.name.push(elementName(line, category, spaces.has(id)));
    table.category.push(category);
    table.storey.push(place.storey);
    table.room.push(place.space === null ? '' : roomName(session.line(place.space)));
    table.system.push((relations.groups.get(id) ?? []).join(', '));
    const material = relations.material.get(id) ?? relations.material.get(typeId ?? -1);
    table.material.push(material === undefined ? '' : materials.name(material));
    table.discipline.push(disciplines.get(id) ?? '');
    table.parent.push(rows.get(relations.whole.get(id) ?? relations.host.get(id) ?? -1) ?? -1);
    model.properties.push({ ...identityFacts(session, line, typeId), ...properties.read(id) });
  }
  model.productsWithShape = shaped.length;
  return { rows, shaped };
}

/** Storeys in ascending order; returns express id -> index. */
function readStoreys(session: IfcSession, model: BuildingModel): Map<number, number> {
  const unit = model.frame.metresPerUnit;
  const lines = session
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

function identityFacts(session: IfcSession, line: IfcLine, typeId: number | undefined) {
  const values: Record<string, string> = { Class: session.className(line) };
  for (const [fact, attribute] of [
    ['Description', 'Description'],
    ['Type', 'ObjectType'],
    ['Tag', 'Tag'],
    ['Predefined type', 'PredefinedType'],
  ] as const) {
    const value = text(line, attribute);
    if (value && value !== 'NOTDEFINED') values[fact] = value;
  }
  const typeName = typeId === undefined ? '' : text(session.line(typeId), 'Name');
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

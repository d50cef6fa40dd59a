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
import type { FlatMesh } from 'web-ifc';
import { multiply, Y_UP_TO_Z_UP } from '@/core/math/mat4';
import { emptyElementTable, type BuildingModel, type SurfaceMaterial } from '../building-model';
import { ModelFileError } from '../model-file-error';
import type { ReadOptions } from '../read-model';
import { numeric, reference, text, type IfcLine } from './ifc-line';
import { IfcSession } from './ifc-session';
import { lengthUnitInMetres } from './length-unit';
import { PropertyReader, readGeoreference, readRelations, type IfcRelations } from './relations';
import { readStepHeader } from './step-file';

/**
 * Reads an IFC file (2x3, 4, 4x3) into a building model: every product except openings, ports and load cases becomes
 * an element; storeys and the building become places, spaces become elements of category Space. Geometry arrives in
 * metres and is turned from the reader library's Y-up frame to Z up.
 *
 * @throws ModelFileError if the file breaks off, is no IFC or holds no product
 */
export async function readIfc(path: string, fileName: string, options: ReadOptions): Promise<BuildingModel> {
  const header = await readStepHeader(path, fileName);
  const session = await IfcSession.open(path, fileName);
  try {
    const model: BuildingModel = {
      source: { format: 'IFC', schema: header.schema, fileName, program: header.program },
      elements: emptyElementTable(),
      geometries: [],
      materials: [],
      placements: [],
      properties: [],
      storeys: [],
      georeference: readGeoreference(session),
      cameras: [],
      warnings: [],
      productsWithShape: 0,
    };
    options.onProgress?.(0.1);
    const products = readProducts(session, model);
    if (products.rows.size === 0) {
      throw new ModelFileError('nothing-inside', `“${fileName}” is a valid IFC file but holds no building element.`);
    }
    options.onProgress?.(0.4);
    readGeometry(session, model, products, (share) => options.onProgress?.(0.4 + 0.6 * share));
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

interface Products {
  /** Express id -> element row. */
  rows: Map<number, number>;
  /** Express ids of the rows that name a representation. */
  shaped: number[];
}

function readProducts(session: IfcSession, model: BuildingModel): Products {
  const relations = readRelations(session);
  const properties = new PropertyReader(session, relations);
  const storeyIndex = readStoreys(session, model);
  const skipped = new Set(
    [IFCFEATUREELEMENTSUBTRACTION, IFCPORT, IFCSTRUCTURALITEM, IFCSTRUCTURALACTIVITY, IFCANNOTATION, IFCGRID].flatMap(
      (type) => session.idsOfType(type, true),
    ),
  );
  const spaces = new Set(session.idsOfType(IFCSPACE, true));
  // Site, building and storey are places, but a site may carry the terrain as its own shape.
  const places = new Set(session.idsOfType(IFCSPATIALSTRUCTUREELEMENT, true).filter((id) => !spaces.has(id)));

  const rows = new Map<number, number>();
  const shaped: number[] = [];
  const lines = new Map<number, IfcLine>();
  for (const id of session.idsOfType(IFCPRODUCT, true)) {
    if (skipped.has(id)) continue;
    const line = session.line(id);
    const hasShape = reference(line, 'Representation') !== null;
    if (places.has(id) && !hasShape) continue;
    rows.set(id, rows.size);
    lines.set(id, line);
    if (hasShape) shaped.push(id);
  }

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
    table.material.push(
      relations.material.get(id) ?? (typeId === undefined ? '' : (relations.material.get(typeId) ?? '')),
    );
    table.discipline.push('');
    table.parent.push(rows.get(relations.whole.get(id) ?? -1) ?? -1);
    model.properties.push({ ...identityFacts(session, line, typeId), ...properties.read(id) });
  }
  model.productsWithShape = shaped.length;
  return { rows, shaped };
}

/** Storeys in ascending order; returns express id -> index. */
function readStoreys(session: IfcSession, model: BuildingModel): Map<number, number> {
  const unit = lengthUnitInMetres(session);
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
    at = relations.container.get(at) ?? relations.whole.get(at);
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

function readGeometry(
  session: IfcSession,
  model: BuildingModel,
  products: Products,
  onProgress: (share: number) => void,
): void {
  const { api, model: handle } = session;
  const geometryIndex = new Map<number, number>();
  const materials = new MaterialPool(model.materials);
  const withTriangles = new Set<number>();
  let done = 0;

  const onMesh = (mesh: FlatMesh) => {
    const element = products.rows.get(mesh.expressID);
    for (let i = 0; element !== undefined && i < mesh.geometries.size(); i++) {
      const placed = mesh.geometries.get(i);
      let geometry = geometryIndex.get(placed.geometryExpressID);
      if (geometry === undefined) {
        geometry = copyGeometry(session, model, placed.geometryExpressID);
        geometryIndex.set(placed.geometryExpressID, geometry);
      }
      if (geometry < 0) continue;
      withTriangles.add(mesh.expressID);
      const { x, y, z, w } = placed.color;
      model.placements.push({
        element,
        geometry,
        material: materials.index([x, y, z, w]),
        matrix: multiply(Y_UP_TO_Z_UP, placed.flatTransformation),
      });
    }
    done++;
    if (done % 64 === 0) onProgress(Math.min(1, done / products.shaped.length));
  };

  streamMeshes(session, products.shaped, onMesh, (id, reason) => warn(session, model, products, id, reason));
  api.ResetCache(handle);

  const reported = new Set(model.warnings.map((warning) => warning.guid));
  for (const id of products.shaped) {
    const row = products.rows.get(id)!;
    if (!withTriangles.has(id) && !reported.has(model.elements.guid[row]!)) {
      warn(
        session,
        model,
        products,
        id,
        'its representation gave no surface: it has only lines or points, or a kind of shape that the reader cannot build',
      );
    }
  }
}

/** The library throws for a whole batch when one shape fails, so a failing batch is tried again one by one. */
function streamMeshes(
  session: IfcSession,
  ids: number[],
  onMesh: (mesh: FlatMesh) => void,
  onFailure: (id: number, reason: string) => void,
): void {
  const BATCH = 256;
  for (let start = 0; start < ids.length; start += BATCH) {
    const batch = ids.slice(start, start + BATCH);
    const seen = new Set<number>();
    const once = (mesh: FlatMesh) => {
      if (seen.has(mesh.expressID)) return;
      seen.add(mesh.expressID);
      onMesh(mesh);
    };
    try {
      session.api.StreamMeshes(session.model, batch, once);
    } catch {
      for (const id of batch.filter((candidate) => !seen.has(candidate))) {
        try {
          session.api.StreamMeshes(session.model, [id], once);
        } catch (error) {
          onFailure(id, `the reader failed on its shape (${error instanceof Error ? error.message : String(error)})`);
        }
      }
    }
  }
}

function warn(session: IfcSession, model: BuildingModel, products: Products, id: number, reason: string): void {
  const row = products.rows.get(id)!;
  model.warnings.push({
    guid: model.elements.guid[row]!,
    name: model.elements.name[row]!,
    category: session.className(session.line(id)),
    reason,
  });
}

/** Copies positions and triangles out of the library's memory; -1 if nothing usable is there. */
function copyGeometry(session: IfcSession, model: BuildingModel, expressId: number): number {
  const { api } = session;
  const source = api.GetGeometry(session.model, expressId);
  try {
    const vertices = api.GetVertexArray(source.GetVertexData(), source.GetVertexDataSize());
    const indices = api.GetIndexArray(source.GetIndexData(), source.GetIndexDataSize());
    if (indices.length < 3) return -1;
    const STRIDE = 6; // position and normal
    const positions = new Float32Array((vertices.length / STRIDE) * 3);
    for (let from = 0, to = 0; from < vertices.length; from += STRIDE, to += 3) {
      positions[to] = vertices[from]!;
      positions[to + 1] = vertices[from + 1]!;
      positions[to + 2] = vertices[from + 2]!;
    }
    if (!positions.every(Number.isFinite)) return -1;
    return model.geometries.push({ positions, indices: indices.slice() }) - 1;
  } finally {
    source.delete();
  }
}

/** Surface colours, each distinct one once. */
class MaterialPool {
  private readonly seen = new Map<string, number>();

  constructor(private readonly materials: SurfaceMaterial[]) {}

  index(color: SurfaceMaterial['color']): number {
    const key = color.map((part) => Math.round(part * 255)).join();
    let index = this.seen.get(key);
    if (index === undefined) {
      index = this.materials.push({ name: `Colour ${this.materials.length + 1}`, color }) - 1;
      this.seen.set(key, index);
    }
    return index;
  }
}

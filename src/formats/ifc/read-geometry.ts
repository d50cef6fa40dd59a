import type { FlatMesh } from 'web-ifc';
import { multiply, Y_UP_TO_Z_UP } from '@/core/math/mat4';
import type { BuildingModel, Geometry, SurfaceMaterial } from '../building-model';
import type { IfcSession } from './ifc-session';
import { readIndexedColours, type FaceColours } from './indexed-colours';
import type { Colour, SurfaceColours } from './surface-colours';

/** A geometry of the model, with its colour where its faces have one of their own. */
interface Part {
  geometry: number;
  colour: Colour | null;
}

/** The library is asked for this many products at once. */
const BATCH = 256;

/**
 * Fills geometries, materials and placements of the model. Products that give no surface are added to its warnings.
 *
 * @param rows express id of a product -> its row
 * @param shaped express ids of the products that name a representation
 * @param onProgress share done, 0..1
 */
export function readGeometry(
  session: IfcSession,
  model: BuildingModel,
  rows: Map<number, number>,
  shaped: number[],
  surfaceColours: SurfaceColours,
  onProgress: (share: number) => void,
): void {
  const faceColours = readIndexedColours(session);
  const parts = new Map<number, Part[]>();
  const materials = new MaterialPool(model.materials);
  const withTriangles = new Set<number>();
  let done = 0;

  const onMesh = (mesh: FlatMesh) => {
    const element = rows.get(mesh.expressID);
    for (let i = 0; element !== undefined && i < mesh.geometries.size(); i++) {
      const placed = mesh.geometries.get(i);
      const item = placed.geometryExpressID;
      let itemParts = parts.get(item);
      if (!itemParts) {
        itemParts = copyParts(session, model, item, faceColours.get(item));
        parts.set(item, itemParts);
      }
      const { x, y, z, w } = placed.color;
      for (const { geometry, colour } of itemParts) {
        withTriangles.add(mesh.expressID);
        model.placements.push({
          element,
          geometry,
          material: materials.index(colour ?? surfaceColours.of(mesh.expressID, item, [x, y, z, w])),
          matrix: multiply(Y_UP_TO_Z_UP, placed.flatTransformation),
        });
      }
    }
    done++;
    if (done % 64 === 0) onProgress(Math.min(1, done / shaped.length));
  };

  const failures = streamMeshes(session, shaped, onMesh);
  session.api.ResetCache(session.model);
  for (const id of shaped) {
    if (withTriangles.has(id)) continue;
    const row = rows.get(id)!;
    model.warnings.push({
      guid: model.elements.guid[row]!,
      name: model.elements.name[row]!,
      category: session.className(session.line(id)),
      reason:
        failures.get(id) ??
        'its representation gave no surface: it has only lines or points, or a kind of shape that the reader cannot build',
    });
  }
}

/**
 * The library throws for a whole batch when one shape fails, so a failing batch is tried again one by one.
 *
 * @returns express id -> reason of those that failed
 */
function streamMeshes(session: IfcSession, ids: number[], onMesh: (mesh: FlatMesh) => void): Map<number, string> {
  const failures = new Map<number, string>();
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
          failures.set(
            id,
            `the reader failed on its shape (${error instanceof Error ? error.message : String(error)})`,
          );
        }
      }
    }
  }
  return failures;
}

/** Copies an item's triangles out of the library's memory, in as many parts as its faces have colours. */
function copyParts(
  session: IfcSession,
  model: BuildingModel,
  item: number,
  faceColours: FaceColours | undefined,
): Part[] {
  const geometry = copyGeometry(session, item);
  if (!geometry) return [];
  // Where the library left out triangles, faces and colours cannot be matched any more.
  const matched = faceColours?.ofTriangle.length === geometry.indices.length / 3;
  if (!faceColours || !matched) return [{ geometry: model.geometries.push(geometry) - 1, colour: null }];
  return faceColours.colours.flatMap((colour, c) => {
    const indices = geometry.indices.filter((_, i) => faceColours.ofTriangle[Math.floor(i / 3)] === c);
    if (indices.length === 0) return [];
    return [{ geometry: model.geometries.push({ positions: geometry.positions, indices }) - 1, colour }];
  });
}

/** Positions and triangles of an item; null if nothing usable is there. */
function copyGeometry(session: IfcSession, item: number): Geometry | null {
  const { api } = session;
  const source = api.GetGeometry(session.model, item);
  try {
    const vertices = api.GetVertexArray(source.GetVertexData(), source.GetVertexDataSize());
    const indices = api.GetIndexArray(source.GetIndexData(), source.GetIndexDataSize());
    if (indices.length < 3) return null;
    const STRIDE = 6; // position and normal
    const positions = new Float32Array((vertices.length / STRIDE) * 3);
    for (let from = 0, to = 0; from < vertices.length; from += STRIDE, to += 3) {
      positions[to] = vertices[from]!;
      positions[to + 1] = vertices[from + 1]!;
      positions[to + 2] = vertices[from + 2]!;
    }
    return positions.every(Number.isFinite) ? { positions, indices: indices.slice() } : null;
  } finally {
    source.delete();
  }
}

/** Surface colours, each distinct one once. */
class MaterialPool {
  private readonly seen = new Map<string, number>();

  constructor(private readonly materials: SurfaceMaterial[]) {}

  index(color: Colour): number {
    const key = color.map((part) => Math.round(part * 255)).join();
    let index = this.seen.get(key);
    if (index === undefined) {
      index = this.materials.push({ name: `Colour ${this.materials.length + 1}`, color }) - 1;
      this.seen.set(key, index);
    }
    return index;
  }
}

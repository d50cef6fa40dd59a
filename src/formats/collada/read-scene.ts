import {
  Color,
  Line,
  Mesh,
  PerspectiveCamera,
  Points,
  SRGBColorSpace,
  Vector3,
  type BufferGeometry,
  type Material,
  type MeshStandardMaterial,
  type Object3D,
} from 'three';
import type { Geometry, SurfaceMaterial } from '../building-model';
import { groupCategory } from '../group-category';
import type { ModelBuilder } from '../model-builder';

/** A run of a mesh's triangles in one material. */
interface Run {
  start: number;
  count: number;
  material: number;
}

export interface SceneLook {
  /** The surface of a material by its name, where a reader knows it better than the loader. */
  paint?: (name: string) => SurfaceMaterial | undefined;
  /** Index of a picture by the name that the file gives it. */
  picture?: (name: string) => number | undefined;
}

/**
 * Takes a scene of the three.js loaders over: every mesh becomes an element, a group with a name an element without
 * geometry, a camera a camera. Positions stay in the file's numbers.
 */
export function readScene(builder: ModelBuilder, scene: Object3D, look: SceneLook = {}): void {
  scene.updateMatrixWorld(true);
  const geometries = new Map<string, number | null>();
  const visit = (object: Object3D, parent: number, category: string): void => {
    let row = parent;
    let inner = category;
    if (object instanceof Mesh) {
      row = addMesh(builder, object as Mesh, parent, category, geometries, look);
    } else if (object instanceof PerspectiveCamera) {
      addCamera(builder, object);
    } else if (object instanceof Line || object instanceof Points) {
      row = builder.element({ name: object.name || 'Lines', category, parent });
      builder.warn(row, 'it has only lines or points');
    } else if (object !== scene && object.name !== '' && object.children.length > 0) {
      row = builder.element({ name: object.name, category: 'Group', parent });
      inner = groupCategory(object.name, category);
    }
    for (const child of object.children) visit(child, row, inner);
  };
  visit(scene, -1, 'Object');
}

function addMesh(
  builder: ModelBuilder,
  mesh: Mesh,
  parent: number,
  category: string,
  geometries: Map<string, number | null>,
  { paint, picture }: SceneLook,
): number {
  const materials = [mesh.material].flat();
  const row = builder.element({
    name: mesh.name || 'Object',
    category,
    parent,
    material: [...new Set(materials.map(({ name }) => paint?.(name)?.name ?? name))].filter(Boolean).join(', '),
  });
  builder.model.productsWithShape++;
  let placed = 0;
  for (const run of runs(mesh.geometry, materials.length)) {
    const key = `${mesh.geometry.uuid}/${run.start}/${run.count}`;
    let geometry = geometries.get(key);
    if (geometry === undefined) {
      const read = readRun(mesh.geometry, run);
      geometry = read && builder.geometry(read);
      geometries.set(key, geometry);
    }
    if (geometry === null) continue;
    placed++;
    const material = materials[run.material];
    const own = paint?.(material?.name ?? '') ?? surface(material, picture);
    builder.place(row, geometry, builder.material(own), mesh.matrixWorld.elements);
  }
  if (placed === 0) builder.warn(row, 'it has no triangles, or data that do not fit together');
  return row;
}

function addCamera(builder: ModelBuilder, camera: PerspectiveCamera): void {
  const at = new Vector3().setFromMatrixPosition(camera.matrixWorld);
  const ahead = new Vector3(0, 0, -1).applyMatrix4(camera.matrixWorld);
  builder.model.cameras.push({
    name: camera.name || `Camera ${builder.model.cameras.length + 1}`,
    position: at.toArray(),
    target: ahead.toArray(),
    fov: Math.min(120, Math.max(10, camera.fov)),
  });
}

function runs(geometry: BufferGeometry, materials: number): Run[] {
  const total = geometry.index?.count ?? geometry.getAttribute('position')?.count ?? 0;
  if (geometry.groups.length === 0 || materials === 1) return [{ start: 0, count: total, material: 0 }];
  return geometry.groups.map(({ start, count, materialIndex }) => ({
    start,
    count: Math.min(count, total - start),
    material: materialIndex ?? 0,
  }));
}

/**
 * The triangles of a run with only the vertices that they use; null if nothing usable is there. Triangles that name vertices
 * which are not there, or places that are no numbers, are left out.
 */
function readRun(source: BufferGeometry, { start, count }: Run): Geometry | null {
  const position = source.getAttribute('position');
  const color = source.getAttribute('color');
  const normal = source.getAttribute('normal');
  const uv = source.getAttribute('uv');
  if (!position) return null;
  const used = new Map<number, number>();
  const corners: number[] = [];
  const isThere = (vertex: number) =>
    vertex < position.count && Number.isFinite(position.getX(vertex) + position.getY(vertex) + position.getZ(vertex));
  for (let i = 0; i + 2 < count; i += 3) {
    const triangle = [0, 1, 2].map((corner) => source.index?.getX(start + i + corner) ?? start + i + corner);
    if (!triangle.every(isThere)) continue;
    for (const vertex of triangle) {
      let own = used.get(vertex);
      if (own === undefined) used.set(vertex, (own = used.size));
      corners.push(own);
    }
  }
  if (corners.length === 0) return null;
  const indices = Uint32Array.from(corners);
  const positions = new Float32Array(used.size * 3);
  const colors = color ? new Uint8Array(used.size * 4) : undefined;
  const normals = normal ? new Float32Array(used.size * 3) : undefined;
  const uvs = uv ? new Float32Array(used.size * 2) : undefined;
  const paint = new Color();
  for (const [vertex, own] of used) {
    positions.set([position.getX(vertex), position.getY(vertex), position.getZ(vertex)], own * 3);
    if (normal) normals?.set([normal.getX(vertex), normal.getY(vertex), normal.getZ(vertex)], own * 3);
    // These formats count a picture's rows from below.
    if (uv) uvs?.set([uv.getX(vertex), 1 - uv.getY(vertex)], own * 2);
    if (!color || !colors) continue;
    // The loaders hand out linear colours.
    paint.setRGB(color.getX(vertex), color.getY(vertex), color.getZ(vertex)).convertLinearToSRGB();
    const alpha = color.itemSize > 3 ? color.getW(vertex) : 1;
    colors.set(
      [paint.r, paint.g, paint.b, alpha].map((part) => Math.round(Math.min(1, Math.max(0, part)) * 255)),
      own * 4,
    );
  }
  return {
    positions,
    indices,
    ...(colors && { colors }),
    ...(normals?.every(Number.isFinite) && { normals }),
    ...(uvs?.every(Number.isFinite) && { uvs }),
  };
}

function surface(material: Material | undefined, picture: SceneLook['picture']): SurfaceMaterial {
  const { color = new Color(0.8, 0.8, 0.8), emissive, map } = (material ?? {}) as Partial<MeshStandardMaterial>;
  const texture = map ? picture?.(map.name) : undefined;
  // What is black but for the light that it gives off, such as a lamp, looks like that light.
  const shown = emissive && color.getHex() === 0 ? emissive : color;
  const rgb = shown.getRGB({ r: 0, g: 0, b: 0 }, SRGBColorSpace);
  const opacity = material?.transparent ? material.opacity : 1;
  return {
    name: material?.name ?? '',
    color: [rgb.r, rgb.g, rgb.b, opacity],
    ...(texture !== undefined && { texture }),
  };
}

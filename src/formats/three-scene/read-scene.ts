import {
  Color,
  Line,
  Mesh,
  Points,
  SRGBColorSpace,
  type BufferGeometry,
  type Material,
  type MeshStandardMaterial,
  type Object3D,
} from 'three';
import type { Geometry, SurfaceMaterial } from '../building-model';
import type { ModelBuilder } from '../model-builder';

/** A run of a mesh's triangles in one material. */
interface Run {
  start: number;
  count: number;
  material: number;
}

/**
 * Takes a scene of the three.js loaders over: every mesh becomes an element, a group with a name an element without
 * geometry. Positions stay in the file's numbers.
 *
 * @param paint the surface of a material by its name, where a reader knows it better than the loader
 */
export function readScene(
  builder: ModelBuilder,
  scene: Object3D,
  category: string,
  paint: (name: string) => SurfaceMaterial | undefined = () => undefined,
): void {
  scene.updateMatrixWorld(true);
  const geometries = new Map<string, number | null>();
  const visit = (object: Object3D, parent: number): void => {
    let row = parent;
    if (object instanceof Mesh) {
      row = addMesh(builder, object as Mesh, parent, category, geometries, paint);
    } else if (object instanceof Line || object instanceof Points) {
      row = builder.element({ name: object.name || 'Lines', category, parent });
      builder.warn(row, 'it has only lines or points');
    } else if (object !== scene && object.name !== '' && object.children.length > 0) {
      row = builder.element({ name: object.name, category: 'Group', parent });
    }
    for (const child of object.children) visit(child, row);
  };
  visit(scene, -1);
}

function addMesh(
  builder: ModelBuilder,
  mesh: Mesh,
  parent: number,
  category: string,
  geometries: Map<string, number | null>,
  paint: (name: string) => SurfaceMaterial | undefined,
): number {
  const materials = [mesh.material].flat();
  const row = builder.element({
    name: mesh.name || 'Object',
    category,
    parent,
    material: [...new Set(materials.map((material) => material.name))].filter(Boolean).join(', '),
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
    const look = paint(material?.name ?? '') ?? surface(material);
    builder.place(row, geometry, builder.material(look), mesh.matrixWorld.elements);
  }
  if (placed === 0) builder.warn(row, 'it has no triangles, or data that do not fit together');
  return row;
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

/** The triangles of a run with only the vertices that they use; null if nothing usable is there. */
function readRun(source: BufferGeometry, { start, count }: Run): Geometry | null {
  const position = source.getAttribute('position');
  const color = source.getAttribute('color');
  if (!position || count < 3) return null;
  const used = new Map<number, number>();
  const indices = new Uint32Array(count - (count % 3));
  for (let i = 0; i < indices.length; i++) {
    const vertex = source.index ? source.index.getX(start + i) : start + i;
    if (vertex >= position.count) return null;
    let own = used.get(vertex);
    if (own === undefined) {
      own = used.size;
      used.set(vertex, own);
    }
    indices[i] = own;
  }
  const positions = new Float32Array(used.size * 3);
  const colors = color ? new Uint8Array(used.size * 4) : undefined;
  const paint = new Color();
  for (const [vertex, own] of used) {
    positions.set([position.getX(vertex), position.getY(vertex), position.getZ(vertex)], own * 3);
    if (!color || !colors) continue;
    // The loaders hand out linear colours.
    paint.setRGB(color.getX(vertex), color.getY(vertex), color.getZ(vertex)).convertLinearToSRGB();
    const alpha = color.itemSize > 3 ? color.getW(vertex) : 1;
    colors.set(
      [paint.r, paint.g, paint.b, alpha].map((part) => Math.round(Math.min(1, Math.max(0, part)) * 255)),
      own * 4,
    );
  }
  return positions.every(Number.isFinite) ? { positions, indices, ...(colors && { colors }) } : null;
}

function surface(material: Material | undefined): SurfaceMaterial {
  const { color } = (material ?? {}) as Partial<MeshStandardMaterial>;
  const rgb = (color ?? new Color(0.8, 0.8, 0.8)).getRGB({ r: 0, g: 0, b: 0 }, SRGBColorSpace);
  const opacity = material?.transparent ? material.opacity : 1;
  return { name: material?.name ?? '', color: [rgb.r, rgb.g, rgb.b, opacity] };
}

import { streamXml } from '../xml/stream-xml';

/** sRGB and opacity, each 0..1. */
type Rgba = [number, number, number, number];

export interface MfSurface {
  name: string;
  color: Rgba;
  /** For a place in a picture: the picture's id, and where, counted from its lower left corner. */
  picture?: { id: string; at: [number, number] };
}

/** A place in a group of materials or colours. */
export interface SurfaceRef {
  group: string;
  index: number;
  /** For a triangle whose corners are of different kinds. */
  corners?: [number, number, number];
}

export interface MfReference {
  objectId: string;
  /** Column-major 4x4, or null for none. */
  matrix: number[] | null;
  /** Part that holds the object, by the production extension. */
  path: string | null;
}

export interface MfObject {
  name: string;
  partNumber: string;
  vertices: number[];
  triangles: [number, number, number][];
  /** What the object is made of where a triangle does not say. */
  surface: SurfaceRef | null;
  /** By triangle; only where it says so itself. */
  surfaces: (SurfaceRef | undefined)[];
  components: MfReference[];
  /** Of a lattice: bars that stand for bodies, and are not shown. */
  beams: number;
}

/** One model part of a 3MF package. */
export interface ModelPart {
  unit: string;
  version: string;
  program: string;
  objects: Map<string, MfObject>;
  surfaces: Map<string, MfSurface[]>;
  /** Parts that hold pictures, by their ids. */
  pictures: Map<string, string>;
  items: MfReference[];
  /** Namespaces of extensions that the part cannot do without and that are not read. */
  unreadExtensions: string[];
}

/** Extensions that are read here, or say nothing about what shows. */
const READ_EXTENSIONS = /\/(core|material|production|slice)\//;

/** Reads a model part as the 3MF core specification 1.3 and its materials and production extensions write it. */
export async function readModelPart(path: string): Promise<ModelPart> {
  const part: ModelPart = {
    unit: 'millimeter',
    version: '1',
    program: '',
    objects: new Map(),
    surfaces: new Map(),
    pictures: new Map(),
    items: [],
    unreadExtensions: [],
  };
  let object: MfObject | null = null;
  let group: MfSurface[] | null = null;
  let picture = '';
  let metadata = '';
  let isModel = false;
  await streamXml(path, {
    open(name, at) {
      switch (name) {
        case 'model':
          isModel = true;
          part.unit = at.unit ?? part.unit;
          part.unreadExtensions = (at.requiredextensions ?? '')
            .split(/\s+/)
            .filter(Boolean)
            .map((prefix) => at[`xmlns:${prefix}`] ?? prefix)
            .filter((namespace) => !READ_EXTENSIONS.test(namespace));
          break;
        case 'metadata':
          metadata = at.name ?? '';
          break;
        case 'basematerials':
        case 'colorgroup':
        case 'texture2dgroup':
          group = [];
          picture = at.texid ?? '';
          part.surfaces.set(at.id ?? '', group);
          break;
        case 'base':
          group?.push({ name: at.name ?? '', color: colour(at.displaycolor) });
          break;
        case 'color':
          group?.push({ name: '', color: colour(at.color) });
          break;
        case 'tex2coord':
          group?.push({ name: '', color: [1, 1, 1, 1], picture: { id: picture, at: [number(at.u), number(at.v)] } });
          break;
        case 'texture2d':
          part.pictures.set(at.id ?? '', at.path ?? '');
          break;
        case 'object':
          object = {
            name: at.name ?? '',
            partNumber: at.partnumber ?? '',
            vertices: [],
            triangles: [],
            surface: at.pid === undefined ? null : { group: at.pid, index: whole(at.pindex ?? '0') },
            surfaces: [],
            components: [],
            beams: 0,
          };
          part.objects.set(at.id ?? '', object);
          break;
        case 'vertex':
          object?.vertices.push(number(at.x), number(at.y), number(at.z));
          break;
        case 'triangle':
          if (!object) break;
          if (at.p1 !== undefined) {
            const own = at.pid ?? object.surface?.group;
            const first = whole(at.p1);
            const corners = [first, whole(at.p2 ?? at.p1), whole(at.p3 ?? at.p1)] as [number, number, number];
            if (own !== undefined) object.surfaces[object.triangles.length] = { group: own, index: first, corners };
          }
          object.triangles.push([whole(at.v1), whole(at.v2), whole(at.v3)]);
          break;
        case 'beam':
          if (object) object.beams++;
          break;
        case 'component':
          object?.components.push(referenceOf(at));
          break;
        case 'item':
          part.items.push(referenceOf(at));
      }
    },
    close(name, text) {
      if (name === 'metadata' && metadata === 'Application') part.program = text;
      if (name === 'object') object = null;
      if (['basematerials', 'colorgroup', 'texture2dgroup'].includes(name)) group = null;
    },
  });
  if (!isModel) throw new Error('it holds no model element');
  return part;
}

function referenceOf(at: Record<string, string>): MfReference {
  // The production extension goes by whatever prefix the file gives it.
  const path = Object.keys(at).find((name) => /(^|:)path$/.test(name));
  return { objectId: at.objectid ?? '', matrix: transform(at.transform), path: path ? at[path]! : null };
}

/** Twelve numbers, row by row of a matrix that is multiplied from the right: as columns they are ours. */
function transform(text: string | undefined): number[] | null {
  if (text === undefined) return null;
  const m = text.trim().split(/\s+/).map(number);
  if (m.length !== 12) throw new Error(`a transform has twelve numbers, not ${m.length}`);
  return [m[0]!, m[1]!, m[2]!, 0, m[3]!, m[4]!, m[5]!, 0, m[6]!, m[7]!, m[8]!, 0, m[9]!, m[10]!, m[11]!, 1];
}

/** #RRGGBB or #RRGGBBAA in sRGB. */
function colour(text = '#D9D4C8'): Rgba {
  const channels = /^#?([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})?$/i.exec(text.trim());
  if (!channels) throw new Error(`“${text}” is no colour`);
  return [1, 2, 3, 4].map((i) => parseInt(channels[i] ?? 'ff', 16) / 255) as Rgba;
}

function number(text: string | undefined): number {
  const value = Number(text);
  if (text === undefined || text.trim() === '' || !Number.isFinite(value)) throw new Error(`“${text}” is no number`);
  return value;
}

function whole(text: string | undefined): number {
  const value = number(text);
  if (!Number.isInteger(value) || value < 0) throw new Error(`“${text}” is no index`);
  return value;
}

import { createHash } from 'node:crypto';
import type { FileSource } from '@/core/project/publish-report';
import {
  emptyModel,
  type BuildingModel,
  type Geometry,
  type PropertySets,
  type SurfaceMaterial,
} from './building-model';

export interface NewElement {
  name: string;
  category: string;
  /** The file's own identity; without one, a guid is made from the path of names down to the element. */
  guid?: string;
  /** Row of the element that this one is a part of. */
  parent?: number;
  storey?: number;
  room?: string;
  material?: string;
  facts?: PropertySets;
}

/**
 * Collects a building model for readers whose format is a tree of named things. Gives elements without an identity of
 * their own a stable one: the same tree exported again has the same guids.
 */
export class ModelBuilder {
  readonly model: BuildingModel;
  private readonly paths: string[] = [];
  private readonly siblings = new Map<string, number>();
  private readonly materials = new Map<string, number>();
  private readonly textures = new Map<string, number>();

  constructor(source: FileSource) {
    this.model = emptyModel(source, { metresPerUnit: 1, up: 'Z', from: 'file', reason: '' });
  }

  /** Adds a row; returns its number. */
  element({
    name,
    category,
    guid,
    parent = -1,
    storey = -1,
    room = '',
    material = '',
    facts = {},
  }: NewElement): number {
    const table = this.model.elements;
    const base = `${this.paths[parent] ?? ''}/${name}`;
    const nth = this.siblings.get(base) ?? 0;
    this.siblings.set(base, nth + 1);
    const path = nth === 0 ? base : `${base}#${nth}`;
    this.paths.push(path);
    table.guid.push(guid ?? guidFromPath(path));
    table.name.push(name);
    table.category.push(category);
    table.storey.push(storey);
    table.room.push(room);
    table.system.push('');
    table.discipline.push('');
    table.material.push(material);
    table.parent.push(parent);
    this.model.properties.push(facts);
    return table.guid.length - 1;
  }

  geometry(geometry: Geometry): number {
    return this.model.geometries.push(geometry) - 1;
  }

  /** Index of a material; one of the same name and look is there once. */
  material(material: SurfaceMaterial): number {
    const key = JSON.stringify([material.name, material.color, material.texture, material.cutOut]);
    let index = this.materials.get(key);
    if (index === undefined) {
      index = this.model.materials.push(material) - 1;
      this.materials.set(key, index);
    }
    return index;
  }

  /** Index of a picture; one of the same content is there once. */
  texture(name: string, bytes: Uint8Array): number {
    const key = createHash('sha256').update(bytes).digest('base64');
    let index = this.textures.get(key);
    if (index === undefined) {
      index = this.model.textures.push({ name, bytes }) - 1;
      this.textures.set(key, index);
    }
    return index;
  }

  place(element: number, geometry: number, material: number, matrix: ArrayLike<number>): void {
    this.model.placements.push({ element, geometry, material, matrix: Float64Array.from(matrix) });
  }

  /** Notes that an element shows nothing, and why. */
  warn(element: number, reason: string): void {
    const { guid, name, category } = this.model.elements;
    this.model.warnings.push({ guid: guid[element]!, name: name[element]!, category: category[element]!, reason });
  }
}

/** 22 characters, as long as an IFC GlobalId. */
function guidFromPath(path: string): string {
  return createHash('sha256').update(path).digest('base64url').slice(0, 22);
}

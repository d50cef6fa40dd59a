import { readFileSync } from 'node:fs';
import { MTLLoader } from 'three/addons/loaders/MTLLoader.js';
import type { SurfaceMaterial } from '../building-model';
import type { ModelBuilder } from '../model-builder';
import { pictureParts } from '../picture-parts';
import { findPart, type SourceFile } from '../source-file';
import { decodeText } from '../text/text-file';

/** What a face without a material looks like. */
const PLAIN: SurfaceMaterial['color'] = [0.8, 0.8, 0.8, 1];

/** The materials of an OBJ file, from the MTL files that came along. */
export class MaterialLibrary {
  private readonly materials = new Map<string, SurfaceMaterial>();
  private readonly picture: (name: string) => number | undefined;

  constructor(
    private readonly source: SourceFile,
    private readonly builder: ModelBuilder,
  ) {
    this.picture = pictureParts(builder, source);
  }

  /** The surface of a name, told of by then or not. */
  surface(name: string): SurfaceMaterial {
    return this.materials.get(name) ?? { name, color: PLAIN };
  }

  /** Reads a file of materials; one that did not come along is noted. */
  load(name: string): void {
    const path = findPart(this.source, name);
    if (!path) {
      this.builder.model.warnings.push({
        reason: `the material file “${name}” did not come along, so its colours are missing`,
      });
      return;
    }
    const { materialsInfo } = new MTLLoader().parse(decodeText(readFileSync(path)), '');
    for (const [key, info] of Object.entries(materialsInfo)) {
      const parts = (given: number[]) => given.map((part) => Math.min(1, Math.max(0, Number(part) || 0)));
      const own = parts(info.kd ?? PLAIN.slice(0, 3));
      // What is black but for the light that it gives off, such as a lamp, looks like that light.
      const [r, g, b] = info.ke && own.every((part) => part === 0) ? parts(info.ke) : own;
      const opacity = info.d !== undefined ? Number(info.d) : info.tr !== undefined ? 1 - Number(info.tr) : 1;
      const texture = typeof info.map_kd === 'string' ? this.picture(withoutOptions(info.map_kd)) : undefined;
      this.materials.set(key, {
        name: key,
        // A picture takes the colour's place: many programs write black beside it.
        color: [
          ...(texture === undefined ? ([r!, g!, b!] as const) : ([1, 1, 1] as const)),
          Number.isFinite(opacity) ? Math.min(1, Math.max(0, opacity)) : 1,
        ],
        ...(texture !== undefined && { texture, cutOut: typeof info.map_d === 'string' }),
      });
    }
  }
}

/** A map's file name without what may stand before it, such as `-s 1 1 1` or `-clamp on`. */
function withoutOptions(map: string): string {
  return map.replace(/^(?:-\w+(?:\s+(?:[-+.\d]+|on|off|[rgbmlz]))+\s+)+/, '').trim();
}

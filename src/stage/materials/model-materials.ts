import {
  DoubleSide,
  LineBasicMaterial,
  MeshBasicMaterial,
  MeshDepthMaterial,
  MeshLambertMaterial,
  RGBADepthPacking,
  type Material,
  type Texture,
} from 'three';
import type { ElementOffsets } from '../model/element-offsets';
import type { ElementPaint } from '../model/element-paint';
import type { ElementState } from '../model/element-state';
import type { CutUniforms } from './cut-uniforms';
import {
  CUT_MATTER,
  cutChunk,
  CUTTING,
  FADED_ALPHA,
  FADED_ONLY,
  inkChunk,
  lookChunk,
  offsetChunk,
  paintChunk,
  SEAMS,
  SOLID_ONLY,
  stateChunk,
  SURFACE_PAINT,
} from './element-chunks';
import type { LookUniforms } from './look-uniforms';
import { composeShader, type ShaderChunk } from './shader-chunks';

/** How a surface is drawn. */
export interface SurfaceLook {
  seeThrough: boolean;
  /** Whether it has normals of its own; without, every face is flat. */
  curved: boolean;
  /** Address of its picture, if it has one; the material shows it once `showPicture` has been given it. */
  picture: string | null;
  /** Whether the clear places of its picture are cut away. */
  cutOut: boolean;
}

/** The materials that a surface is drawn with: as it is, and where its elements are faded. */
export interface SurfaceMaterials {
  solid: MeshLambertMaterial;
  faded: MeshLambertMaterial;
}

/** Surfaces stand back a little, so that the ink lines on them show. */
const BEHIND_LINES = { polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 };

/**
 * What casts a shadow is moved away from the sun by its slope over the texels that are read for one place, so that it does not shade
 * itself. Both sides of a surface cast: with far sides alone, light enters where a roof meets a wall.
 */
const BEHIND_LIT = { polygonOffset: true, polygonOffsetFactor: 2.5, polygonOffsetUnits: 1 };

/** How dark ink lines are at their usual weight; lighter ones are fainter, heavier ones are wider. */
const INK_OPACITY = 0.34;
/** Where nothing but lines is drawn, they are the drawing. */
const ALONE_OPACITY = 0.6;

/** The materials of one model: matt surfaces and ink lines; all of them follow the element state. */
export class ModelMaterials {
  readonly lines: LineBasicMaterial;
  /** Casts shadows. */
  readonly shadow: MeshDepthMaterial;
  /** Lays down the depth of what is faded, so that of many faded surfaces only the nearest shows. */
  readonly fadedDepth: MeshBasicMaterial;
  private readonly surfaces = new Map<string, SurfaceMaterials>();
  /** What every material begins with. */
  private readonly base: ShaderChunk[];
  private readonly paint: ShaderChunk;
  private readonly lookEdit: ShaderChunk;
  private isCutting = false;

  constructor(
    state: ElementState,
    paint: ElementPaint,
    offsets: ElementOffsets,
    cuts: CutUniforms,
    private readonly look: LookUniforms,
  ) {
    this.base = [stateChunk(state), offsetChunk(offsets), cutChunk(cuts)];
    this.paint = paintChunk(paint);
    this.lookEdit = lookChunk(look);
    this.lines = new LineBasicMaterial({ color: look.ink, transparent: true, depthWrite: false });
    this.lines.opacity = INK_OPACITY;
    composeShader(this.lines, [...this.base, this.paint, inkChunk(look), SEAMS, FADED_ALPHA]);
    this.shadow = new MeshDepthMaterial({ depthPacking: RGBADepthPacking, side: DoubleSide, ...BEHIND_LIT });
    composeShader(this.shadow, [...this.base, SOLID_ONLY]);
    this.fadedDepth = new MeshBasicMaterial({ colorWrite: false, side: DoubleSide, ...BEHIND_LINES });
    composeShader(this.fadedDepth, [...this.base, this.paint, FADED_ONLY]);
  }

  /** The materials for a look; the same for the same look. */
  surface(look: SurfaceLook): SurfaceMaterials {
    const key = `${look.seeThrough}/${look.curved}/${look.cutOut}/${look.picture ?? ''}`;
    let materials = this.surfaces.get(key);
    if (!materials) {
      materials = { solid: this.surfaceMaterial(look, look.seeThrough), faded: this.surfaceMaterial(look, true) };
      const { solid, faded } = materials;
      composeShader(solid, [
        ...this.base,
        this.paint,
        this.lookEdit,
        SURFACE_PAINT,
        SOLID_ONLY,
        ...(look.seeThrough ? [] : [CUT_MATTER]),
      ]);
      composeShader(faded, [...this.base, this.paint, this.lookEdit, SURFACE_PAINT, FADED_ONLY, FADED_ALPHA]);
      for (const material of [solid, faded]) applyCutting(material, this.isCutting);
      if (!look.seeThrough) this.applyClear(solid);
      solid.userData.seeThrough = look.seeThrough;
      this.surfaces.set(key, materials);
    }
    return materials;
  }

  /** Whether anything is cut: only then the materials look for it. */
  setCutting(isCutting: boolean): void {
    if (isCutting === this.isCutting) return;
    this.isCutting = isCutting;
    for (const material of this.all) applyCutting(material, isCutting);
  }

  /** Takes over how models are drawn. */
  restyle(): void {
    this.lines.color.copy(this.look.ink);
    this.lines.opacity = (this.look.isInkAlone ? ALONE_OPACITY : INK_OPACITY) * Math.min(1, this.look.inkWeight);
    this.lines.visible = this.look.inkWeight > 0;
    for (const { solid } of this.surfaces.values()) if (solid.userData.seeThrough !== true) this.applyClear(solid);
  }

  private applyClear(material: Material): void {
    const { isClear } = this.look;
    if (material.transparent === isClear) return;
    material.transparent = isClear;
    material.depthWrite = !isClear;
    material.needsUpdate = true;
  }

  dispose(): void {
    for (const material of this.all) material.dispose();
  }

  private get all(): Material[] {
    const surfaces = [...this.surfaces.values()].flatMap(({ solid, faded }): Material[] => [solid, faded]);
    return [this.lines, this.shadow, this.fadedDepth, ...surfaces];
  }

  private surfaceMaterial({ curved, cutOut }: SurfaceLook, transparent: boolean): MeshLambertMaterial {
    return new MeshLambertMaterial({
      vertexColors: true,
      flatShading: !curved,
      alphaTest: cutOut ? 0.5 : 0,
      side: DoubleSide,
      transparent,
      depthWrite: !transparent,
      ...BEHIND_LINES,
    });
  }
}

function applyCutting(material: Material, isCutting: boolean): void {
  material.defines = isCutting ? { [CUTTING]: '' } : {};
  material.needsUpdate = true;
}

/** From now on a surface shows a picture. */
export function showPicture(materials: SurfaceMaterials, picture: Texture): void {
  for (const material of [materials.solid, materials.faded]) {
    if (material.map === picture) continue;
    material.map = picture;
    material.needsUpdate = true;
  }
}

import type { Material, Texture, TextureInfo } from '@gltf-transform/core';
import type { PBRSpecularGlossiness, Transmission } from '@gltf-transform/extensions';
import type { SurfaceMaterial } from '../building-model';
import type { ModelBuilder } from '../model-builder';

interface BasePicture {
  /** Linear parts and opacity. */
  factor: number[];
  texture: Texture | null;
  info: TextureInfo | null;
}

/** Linear parts up to this are black. */
const BLACK = 0.02;

/**
 * The picture and factor that a material shows: its own colour, also where it is told in the older specular-glossiness
 * way, and with it the light that it gives off. A lamp or a screen is often black but for that.
 */
export function basePicture(material: Material | null): BasePicture {
  const own = ownPicture(material);
  const [r, g, b] = material?.getEmissiveFactor() ?? [0, 0, 0];
  if (own.texture || r + g + b === 0) return own;
  const texture = material!.getEmissiveTexture();
  if (!texture) {
    const [red, green, blue, opacity] = own.factor;
    return { ...own, factor: [Math.min(1, red! + r), Math.min(1, green! + g), Math.min(1, blue! + b), opacity!] };
  }
  if (own.factor.slice(0, 3).some((part) => part > BLACK)) return own;
  return { factor: [r, g, b, own.factor[3]!], texture, info: material!.getEmissiveTextureInfo() };
}

function ownPicture(material: Material | null): BasePicture {
  const older = material?.getExtension<PBRSpecularGlossiness>('KHR_materials_pbrSpecularGlossiness');
  if (older)
    return {
      factor: older.getDiffuseFactor(),
      texture: older.getDiffuseTexture(),
      info: older.getDiffuseTextureInfo(),
    };
  return {
    factor: material?.getBaseColorFactor() ?? [0.8, 0.8, 0.8, 1],
    texture: material?.getBaseColorTexture() ?? null,
    info: material?.getBaseColorTextureInfo() ?? null,
  };
}

/** Of what lets all light through, so much is still to be seen: panes of glass are there to the eye. */
const GLASS = 0.2;

/** What makes of the base colour's opacity the one that shows. Glass may be told by the light that it lets through instead. */
export function opacityIn(material: Material | null): (base: number) => number {
  const through = material?.getExtension<Transmission>('KHR_materials_transmission')?.getTransmissionFactor() ?? 0;
  const most = 1 - (1 - GLASS) * Math.min(1, Math.max(0, through));
  return material?.getAlphaMode() === 'BLEND' ? (base) => base * most : () => most;
}

/** A material's colour and picture. */
export function surfaceMaterial(builder: ModelBuilder, material: Material | null): SurfaceMaterial {
  const { factor, texture } = basePicture(material);
  const [r, g, b, a] = factor;
  const mode = material?.getAlphaMode();
  const bytes = texture?.getImage();
  return {
    name: material?.getName() ?? '',
    color: [toSrgb(r!), toSrgb(g!), toSrgb(b!), opacityIn(material)(a!)],
    ...(bytes && { texture: builder.texture(texture!.getName() || texture!.getURI(), bytes) }),
    // A picture that may let light through on a solid colour is mostly leaves, nets or lettering.
    ...((mode === 'MASK' || (mode === 'BLEND' && bytes && a! > 0.999)) && { cutOut: true }),
  };
}

/** Linear to sRGB transfer function, IEC 61966-2-1. */
export function toSrgb(linear: number): number {
  return linear <= 0.0031308 ? linear * 12.92 : 1.055 * linear ** (1 / 2.4) - 0.055;
}

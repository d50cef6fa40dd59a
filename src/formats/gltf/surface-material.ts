import type { Material, Texture, TextureInfo } from '@gltf-transform/core';
import type { PBRSpecularGlossiness } from '@gltf-transform/extensions';
import type { SurfaceMaterial } from '../building-model';
import type { ModelBuilder } from '../model-builder';

/** The picture and factor of a material's own colour, also where it is told in the older specular-glossiness way. */
export function basePicture(material: Material | null): {
  factor: number[];
  texture: Texture | null;
  info: TextureInfo | null;
} {
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

/** A material's own colour and picture. */
export function surfaceMaterial(builder: ModelBuilder, material: Material | null): SurfaceMaterial {
  const { factor, texture } = basePicture(material);
  const [r, g, b, a] = factor;
  const mode = material?.getAlphaMode();
  const bytes = texture?.getImage();
  return {
    name: material?.getName() ?? '',
    color: [toSrgb(r!), toSrgb(g!), toSrgb(b!), mode === 'BLEND' ? a! : 1],
    ...(bytes && { texture: builder.texture(texture!.getName() || texture!.getURI(), bytes) }),
    // A picture that may let light through on a solid colour is mostly leaves, nets or lettering.
    ...((mode === 'MASK' || (mode === 'BLEND' && bytes && a! > 0.999)) && { cutOut: true }),
  };
}

/** Linear to sRGB transfer function, IEC 61966-2-1. */
export function toSrgb(linear: number): number {
  return linear <= 0.0031308 ? linear * 12.92 : 1.055 * linear ** (1 / 2.4) - 0.055;
}

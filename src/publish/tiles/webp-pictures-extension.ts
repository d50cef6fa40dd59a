import { Extension, type ReaderContext, type WriterContext } from '@gltf-transform/core';

const NAME = 'EXT_texture_webp';

/**
 * Writer for pictures in WebP (EXT_texture_webp) that lie beside the tiles as files of their own, so that tiles that show
 * the same picture share it: every texture is written with its URI and without content.
 */
export class WebpPicturesExtension extends Extension {
  static override readonly EXTENSION_NAME = NAME;
  override readonly extensionName = NAME;

  override read(_context: ReaderContext): this {
    return this;
  }

  override write({ jsonDoc: { json }, imageIndexMap }: WriterContext): this {
    for (const texture of this.document.getRoot().listTextures()) {
      const source = imageIndexMap.get(texture)!;
      json.images![source] = { name: texture.getName(), uri: texture.getURI(), mimeType: 'image/webp' };
      for (const definition of json.textures ?? []) {
        if (definition.source !== source) continue;
        definition.extensions = { [NAME]: { source } };
        delete definition.source;
      }
    }
    return this;
  }
}

import { RepeatWrapping, SRGBColorSpace, Texture, TextureLoader } from 'three';

/** A glTF texture as its loader hands it to plugins; only what is read here. */
interface GltfJson {
  textures?: { extensions?: { EXT_texture_webp?: { source: number } } }[];
  images?: { uri?: string }[];
}

/**
 * Plugin for the tile loader: a picture is not loaded with every tile that shows it, its texture only carries the
 * address. `Pictures` loads it once for all tiles.
 */
export function pictureAddresses({ json }: { json: GltfJson }) {
  return {
    name: 'EXT_texture_webp', // takes the place of the loader's own
    loadTexture(index: number): Promise<Texture> | null {
      const source = json.textures?.[index]?.extensions?.EXT_texture_webp?.source;
      if (source === undefined) return null;
      const texture = new Texture();
      texture.name = json.images?.[source]?.uri ?? '';
      return Promise.resolve(texture);
    },
  };
}

/** The pictures of one model, each loaded once. */
export class Pictures {
  private readonly textures = new Map<string, Texture>();
  private readonly waiting = new Map<string, ((picture: Texture) => void)[]>();
  private readonly loader = new TextureLoader();

  /**
   * @param tiles address of the folder of the tiles, to which the addresses in them are relative
   * @param onLoad called when a picture has come
   */
  constructor(
    private readonly tiles: string,
    private readonly onLoad: () => void,
  ) {}

  /** Calls back once the picture is there, at once if it is there already; never where it cannot be had. */
  want(address: string, show: (picture: Texture) => void): void {
    const known = this.textures.get(address);
    if (known?.image) return show(known);
    const users = this.waiting.get(address);
    if (users) {
      users.push(show);
      return;
    }
    this.waiting.set(address, [show]);
    const texture = this.loader.load(new URL(address, this.tiles).href, () => {
      for (const waiting of this.waiting.get(address) ?? []) waiting(texture);
      this.waiting.delete(address);
      this.onLoad();
    });
    texture.flipY = false;
    texture.colorSpace = SRGBColorSpace;
    texture.wrapS = RepeatWrapping;
    texture.wrapT = RepeatWrapping;
    texture.anisotropy = 4;
    this.textures.set(address, texture);
  }

  dispose(): void {
    this.waiting.clear();
    for (const texture of this.textures.values()) texture.dispose();
  }
}

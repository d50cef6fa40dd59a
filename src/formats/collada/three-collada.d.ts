/** The two halves of three.js's COLLADA loader, which need no page when used apart. */
declare module 'three/addons/loaders/collada/ColladaParser.js' {
  export interface ColladaAsset {
    /** Metres in one unit. */
    unit: number;
    upAxis: 'X_UP' | 'Y_UP' | 'Z_UP';
  }
  export class ColladaParser {
    /** @returns null if the text is no COLLADA */
    parse(text: string): { library: object; asset: ColladaAsset; collada: object } | null;
  }
}

declare module 'three/addons/loaders/collada/ColladaComposer.js' {
  import type { Group, Texture } from 'three';
  export class ColladaComposer {
    constructor(
      library: object,
      collada: object,
      textureLoader: { load(url: string): Texture },
      tgaLoader: { load(url: string): Texture },
    );
    compose(): { scene: Group };
  }
}

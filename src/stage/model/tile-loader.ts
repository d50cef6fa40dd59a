import { MeshoptDecoder } from 'meshoptimizer/decoder';
import type { LoadingManager } from 'three';
import { GLTFLoader, type GLTFLoaderPlugin, type GLTFParser } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { pictureAddresses } from './pictures';

/** Reads the GLB contents of tiles: meshopt-coded, pictures by their address alone. */
export function tileLoader(manager?: LoadingManager): GLTFLoader {
  const loader = new GLTFLoader(manager);
  loader.setMeshoptDecoder(MeshoptDecoder);
  // The loader's types know only its own parser; of it, the plugin reads the file's JSON.
  loader.register((parser: GLTFParser) => pictureAddresses(parser) as GLTFLoaderPlugin);
  return loader;
}

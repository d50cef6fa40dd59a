import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname } from 'node:path';
import { runInThisContext } from 'node:vm';
import type { RawPicture } from './open-picture';

/** The transcoder of Basis Universal, as far as it is used here. */
interface Transcoder {
  initializeBasis(): void;
  KTX2File: new (bytes: Uint8Array) => {
    isValid(): boolean;
    getWidth(): number;
    getHeight(): number;
    startTranscoding(): boolean;
    getImageTranscodedSizeInBytes(level: number, layer: number, face: number, format: number): number;
    transcodeImage(
      out: Uint8Array,
      level: number,
      layer: number,
      face: number,
      format: number,
      allowFlags: number,
      channel0: number,
      channel1: number,
    ): boolean;
    close(): void;
    delete(): void;
  };
}

const SIGN = 'ab4b5458203230bb0d0a1a0a';
/** Four bytes a pixel, in the transcoder's numbering. */
const RGBA32 = 13;
const TRANSCODER = 'three/examples/jsm/libs/basis/basis_transcoder';

/** Whether bytes are KTX 2.0 (Khronos Texture File Format, section 3.1). */
export function isKtx2(bytes: Uint8Array): boolean {
  return Buffer.from(bytes.subarray(0, 12)).toString('hex') === SIGN;
}

/**
 * The largest image of a KTX 2.0 file with Basis Universal.
 *
 * @throws Error if it is damaged or holds pixels of another kind
 */
export async function readKtx2(bytes: Uint8Array): Promise<RawPicture> {
  const { KTX2File } = await transcoder();
  const file = new KTX2File(bytes);
  try {
    if (!file.isValid() || !file.startTranscoding()) throw new Error('no KTX2 picture with Basis Universal');
    const [width, height] = [file.getWidth(), file.getHeight()];
    const data = new Uint8Array(file.getImageTranscodedSizeInBytes(0, 0, 0, RGBA32));
    if (data.length !== width * height * 4 || !file.transcodeImage(data, 0, 0, 0, RGBA32, 0, -1, -1))
      throw new Error('a damaged KTX2 picture');
    return { data, width, height };
  } finally {
    file.close();
    file.delete();
  }
}

let loaded: Promise<Transcoder> | undefined;

/** The script is made for pages: it is neither a module nor, beside modules, can it be required. */
function transcoder(): Promise<Transcoder> {
  loaded ??= (async () => {
    const require = createRequire(import.meta.url);
    const path = require.resolve(`${TRANSCODER}.js`);
    const script = runInThisContext(
      `(function (module, exports, require, __filename, __dirname) {${readFileSync(path, 'utf8')}\n})`,
      {
        filename: path,
      },
    ) as (module: object, exports: object, require: NodeJS.Require, filename: string, folder: string) => void;
    const module = { exports: {} };
    script(module, module.exports, require, path, dirname(path));
    const start = module.exports as (options: { wasmBinary: Buffer }) => Promise<Transcoder>;
    const basis = await start({ wasmBinary: readFileSync(require.resolve(`${TRANSCODER}.wasm`)) });
    basis.initializeBasis();
    return basis;
  })();
  return loaded;
}

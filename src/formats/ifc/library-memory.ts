import type { IfcAPI } from 'web-ifc';

/**
 * The reader library's memory as numbers, to be read without a copy. What was seen there may be another thing as soon as
 * the library does anything, and another memory where that had to grow.
 */
export class LibraryMemory {
  private views = viewsOf(new ArrayBuffer(0));

  constructor(private readonly api: IfcAPI) {}

  get doubles(): Float64Array<ArrayBuffer> {
    return this.latest.doubles;
  }

  get floats(): Float32Array<ArrayBuffer> {
    return this.latest.floats;
  }

  get words(): Uint32Array<ArrayBuffer> {
    return this.latest.words;
  }

  private get latest(): Views {
    const { buffer } = (this.api.wasmModule as { HEAPU8: Uint8Array<ArrayBuffer> }).HEAPU8;
    if (this.views.words.buffer !== buffer) this.views = viewsOf(buffer);
    return this.views;
  }
}

interface Views {
  doubles: Float64Array<ArrayBuffer>;
  floats: Float32Array<ArrayBuffer>;
  words: Uint32Array<ArrayBuffer>;
}

function viewsOf(buffer: ArrayBuffer): Views {
  return { doubles: new Float64Array(buffer), floats: new Float32Array(buffer), words: new Uint32Array(buffer) };
}

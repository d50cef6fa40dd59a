/** The Khronos validator ships without types; the tests use this much of it. */
declare module 'gltf-validator' {
  export function validateBytes(
    bytes: Uint8Array,
  ): Promise<{ issues: { numErrors: number; numWarnings: number; messages: { code: string; message: string }[] } }>;
}

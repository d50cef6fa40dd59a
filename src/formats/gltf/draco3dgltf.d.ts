/** The package ships no types; the decoder module goes straight into glTF Transform, which knows how to use it. */
declare module 'draco3dgltf' {
  const draco3d: { createDecoderModule(): Promise<object> };
  export default draco3d;
}

/** Whether bytes are a PNG; every other picture that is kept is a JPEG. */
export function isPng(bytes: Uint8Array): boolean {
  return bytes[0] === 0x89 && bytes[1] === 0x50;
}

/** CRC-32 (ISO 3309) a byte. */
const TABLE = Int32Array.from({ length: 256 }, (_, byte) => {
  let crc = byte;
  for (let bit = 0; bit < 8; bit++) crc = crc & 1 ? (crc >>> 1) ^ 0xedb88320 : crc >>> 1;
  return crc;
});

/** The number by which the reader library knows a type: the CRC-32 of its name in capitals. */
export function typeCode(bytes: Uint8Array, from: number, to: number): number {
  let crc = -1;
  for (let i = from; i < to; i++) {
    const byte = bytes[i]!;
    const capital = byte >= 97 && byte <= 122 ? byte - 32 : byte;
    crc = TABLE[(crc ^ capital) & 255]! ^ (crc >>> 8);
  }
  return ~crc >>> 0;
}

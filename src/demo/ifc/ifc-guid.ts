import { createHash } from 'node:crypto';

import { guidText } from '@/core/step/guid-text';

/** IFC GlobalId (128 bits as 22 digits of base 64) derived from a key, so that every run gives the same identity. */
export function ifcGuid(key: string): string {
  return guidText(BigInt(`0x${createHash('sha256').update(key).digest('hex').slice(0, 32)}`));
}

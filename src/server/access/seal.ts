import { createCipheriv, createDecipheriv, hkdfSync, randomBytes } from 'node:crypto';
import { config } from '../config';

const NONCE = 12;
const TAG = 16;

/** Encrypts a secret of somebody else's, which must be readable again, for the database (AES-256-GCM). */
export function seal(purpose: string, text: string): string {
  const nonce = randomBytes(NONCE);
  const cipher = createCipheriv('aes-256-gcm', key(purpose), nonce);
  return Buffer.concat([nonce, cipher.update(text, 'utf8'), cipher.final(), cipher.getAuthTag()]).toString('base64url');
}

/** @throws Error if it was sealed for another purpose, by another installation, or changed since */
export function unseal(purpose: string, sealed: string): string {
  const bytes = Buffer.from(sealed, 'base64url');
  const decipher = createDecipheriv('aes-256-gcm', key(purpose), bytes.subarray(0, NONCE));
  decipher.setAuthTag(bytes.subarray(-TAG));
  return decipher.update(bytes.subarray(NONCE, -TAG), undefined, 'utf8') + decipher.final('utf8');
}

function key(purpose: string): Buffer {
  return Buffer.from(hkdfSync('sha256', config().secret, '', `seal ${purpose}`, 32));
}

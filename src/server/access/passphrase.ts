import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { promisify } from 'node:util';

const derive = promisify<string, Buffer, number, Buffer>(scrypt);
const SALT = 16;
const LENGTH = 32;

/** What is stored of a passphrase: a salt and what scrypt makes of both, so that nobody reads it back. */
export async function hashPassphrase(passphrase: string): Promise<string> {
  const salt = randomBytes(SALT);
  return Buffer.concat([salt, await derive(plain(passphrase), salt, LENGTH)]).toString('base64url');
}

export async function isPassphrase(passphrase: string, hash: string): Promise<boolean> {
  const stored = Buffer.from(hash, 'base64url');
  const found = await derive(plain(passphrase), stored.subarray(0, SALT), LENGTH);
  return timingSafeEqual(found, stored.subarray(SALT));
}

/** Capitals and spaces are heard wrongly on the telephone: they do not count. */
function plain(passphrase: string): string {
  return passphrase.normalize('NFKC').toLocaleLowerCase().replace(/\s+/g, ' ').trim();
}

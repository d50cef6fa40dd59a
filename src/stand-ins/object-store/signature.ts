import { createHash, createHmac, timingSafeEqual } from 'node:crypto';
import type { IncomingMessage } from 'node:http';

/** How far the clocks of client and store may be apart, in milliseconds. */
const SKEW = 15 * 60_000;

export type SignatureFault = 'AccessDenied' | 'InvalidAccessKeyId' | 'RequestTimeTooSkewed' | 'SignatureDoesNotMatch';

/**
 * Checks that a request was signed with a secret, by AWS Signature Version 4 in the header `Authorization`: the steps are
 * those of “Signature Version 4 signing process” of the S3 reference, canonical request first.
 *
 * @returns what is wrong, by S3's code; null for a good signature. The content is not looked at, only its announced hash
 */
export function signatureFault(
  request: IncomingMessage,
  { keyId, secret }: { keyId: string; secret: string },
  now = Date.now(),
): SignatureFault | null {
  const parts =
    /^AWS4-HMAC-SHA256 Credential=([^/]+)\/(\d{8})\/([^/]+)\/s3\/aws4_request, ?SignedHeaders=([\w;-]+), ?Signature=([0-9a-f]{64})$/.exec(
      request.headers.authorization ?? '',
    );
  if (!parts) return 'AccessDenied';
  const [, id, day, region, signed, signature] = parts as unknown as [string, string, string, string, string, string];
  if (id !== keyId) return 'InvalidAccessKeyId';
  const time = header(request, 'x-amz-date');
  const at = Date.parse(time.replace(/^(\d{4})(\d\d)(\d\d)T(\d\d)(\d\d)(\d\d)Z$/, '$1-$2-$3T$4:$5:$6Z'));
  if (!(Math.abs(at - now) < SKEW) || !time.startsWith(day)) return 'RequestTimeTooSkewed';

  const [path, query = ''] = (request.url ?? '/').split('?') as [string, string?];
  const canonical = [
    request.method,
    path,
    canonicalQuery(query),
    ...signed.split(';').map((name) => `${name}:${header(request, name).trim().replace(/ +/g, ' ')}`),
    '',
    signed,
    header(request, 'x-amz-content-sha256'),
  ].join('\n');
  const scope = `${day}/${region}/s3/aws4_request`;
  const toSign = ['AWS4-HMAC-SHA256', time, scope, createHash('sha256').update(canonical).digest('hex')].join('\n');
  const key = [day, region, 's3', 'aws4_request'].reduce<string | Buffer>(hmac, `AWS4${secret}`);
  return timingSafeEqual(hmac(key, toSign), Buffer.from(signature, 'hex')) ? null : 'SignatureDoesNotMatch';
}

function hmac(key: string | Buffer, text: string): Buffer {
  return createHmac('sha256', key).update(text).digest();
}

function header(request: IncomingMessage, name: string): string {
  return [request.headers[name] ?? ''].flat().join(',');
}

/** Parameters in the order of their encoded names. */
function canonicalQuery(query: string): string {
  return [...new URLSearchParams(query.replaceAll('+', '%2B'))]
    .map(([name, value]) => `${encoded(name)}=${encoded(value)}`)
    .sort()
    .join('&');
}

function encoded(text: string): string {
  return encodeURIComponent(text).replace(/[!'()*]/g, (sign) => `%${sign.charCodeAt(0).toString(16).toUpperCase()}`);
}

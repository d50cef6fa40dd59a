import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { text } from 'node:stream/consumers';
import { DOMParser } from '@xmldom/xmldom';
import send from 'send';
import { Objects, type StoredObject } from './objects';
import { signatureFault } from './signature';

export interface ObjectStoreSettings {
  bucket: string;
  /** The one key that may do everything. */
  keyId: string;
  secret: string;
  /** Most bytes that the bucket holds. */
  quota?: number;
}

const MOST_KEYS = 1000;

/**
 * Plays a store of objects that speaks S3, on loopback, with one bucket. README.md beside it lists what it understands.
 *
 * @param home folder where all is kept
 * @param port 0 for any that is free
 */
export async function startObjectStore(
  home: string,
  port: number,
  settings: ObjectStoreSettings,
): Promise<{ url: string; close(): Promise<void> }> {
  const objects = await Objects.open(home);
  const server = createServer((request, response) => {
    answer(request, response).catch((error: unknown) => refuse(response, error));
  });
  await new Promise<void>((ready, fail) => {
    server.once('error', fail);
    server.listen(port, '127.0.0.1', ready);
  });
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}/${settings.bucket}`,
    close: () =>
      new Promise((closed) => {
        server.close(() => closed());
        server.closeAllConnections();
      }),
  };

  async function answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const fault = signatureFault(request, settings);
    if (fault) throw new Refused(403, fault);
    // Not as a URL, which would resolve the dots that a key may have.
    const [path, query] = (request.url ?? '/').split('?') as [string, string?];
    const [bucket, ...rest] = path.slice(1).split('/').map(decodeURIComponent);
    const parameters = new URLSearchParams(query);
    if (bucket !== settings.bucket) throw new Refused(404, 'NoSuchBucket');
    const key = rest.join('/');
    return key ? answerObject(request, response, key, parameters) : answerBucket(request, response, parameters);
  }

  async function answerBucket(
    request: IncomingMessage,
    response: ServerResponse,
    query: URLSearchParams,
  ): Promise<void> {
    if (request.method === 'HEAD') return void response.writeHead(200).end();
    if (request.method === 'GET' && query.get('list-type') === '2') return list(response, query);
    if (request.method === 'POST' && query.has('delete')) {
      for (const { Key } of rowsOf(await text(request), 'Object', ['Key'])) await objects.remove(Key!);
      return xml(response, '<DeleteResult></DeleteResult>');
    }
    throw new Refused(501, 'NotImplemented');
  }

  async function list(response: ServerResponse, query: URLSearchParams): Promise<void> {
    const after = Buffer.from(query.get('continuation-token') ?? '', 'base64url').toString();
    const found = (await objects.list(query.get('prefix') ?? '')).filter(({ key }) => key > after);
    const page = found.slice(0, Math.min(MOST_KEYS, Number(query.get('max-keys') ?? MOST_KEYS)));
    const more = page.length < found.length;
    const contents = page.map(
      ({ key, bytes, modified, etag }) =>
        `<Contents><Key>${escaped(key)}</Key><LastModified>${modified.toISOString()}</LastModified>` +
        `<ETag>${escaped(etag)}</ETag><Size>${bytes}</Size></Contents>`,
    );
    const next = more
      ? `<NextContinuationToken>${Buffer.from(page.at(-1)!.key).toString('base64url')}</NextContinuationToken>`
      : '';
    const count = `<KeyCount>${page.length}</KeyCount><IsTruncated>${more}</IsTruncated>`;
    xml(response, `<ListBucketResult>${count}${next}${contents.join('')}</ListBucketResult>`);
  }

  async function answerObject(
    request: IncomingMessage,
    response: ServerResponse,
    key: string,
    query: URLSearchParams,
  ): Promise<void> {
    const upload = query.get('uploadId');
    if (upload !== null && !(await objects.hasParts(upload))) throw new Refused(404, 'NoSuchUpload');
    switch (request.method) {
      case 'GET':
      case 'HEAD': {
        const object = await objects.find(key);
        if (!object) throw new Refused(404, 'NoSuchKey');
        response.setHeader('ETag', object.etag);
        response.setHeader('Content-Type', 'application/octet-stream');
        send(request, encodeURI(objects.path(key)), { cacheControl: false, dotfiles: 'allow' })
          .on('error', ({ status }: { status: number }) =>
            refuse(response, new Refused(status, status === 416 ? 'InvalidRange' : 'InternalError')),
          )
          .pipe(response);
        return;
      }
      case 'PUT': {
        await keepToQuota(request);
        const hash = announcedHash(request);
        const kept = upload
          ? await objects.putPart(upload, Number(query.get('partNumber')), request, hash)
          : await objects.put(key, request, hash);
        if (!kept) throw new Refused(400, 'XAmzContentSHA256Mismatch');
        response.writeHead(200, { ETag: kept.etag }).end();
        return;
      }
      case 'POST':
        if (query.has('uploads')) {
          const id = await objects.beginParts();
          return xml(
            response,
            `<InitiateMultipartUploadResult><UploadId>${id}</UploadId></InitiateMultipartUploadResult>`,
          );
        }
        if (upload) return xml(response, completed(await join(upload, key, await text(request))));
        break;
      case 'DELETE':
        await (upload ? objects.dropParts(upload) : objects.remove(key));
        response.writeHead(204).end();
        return;
    }
    throw new Refused(501, 'NotImplemented');
  }

  async function join(upload: string, key: string, body: string): Promise<StoredObject> {
    const parts = rowsOf(body, 'Part', ['PartNumber', 'ETag']).map(({ PartNumber, ETag }) => ({
      number: Number(PartNumber),
      etag: ETag!,
    }));
    const object = await objects.joinParts(upload, key, parts);
    if (!object) throw new Refused(400, 'InvalidPart');
    return object;
  }

  async function keepToQuota(request: IncomingMessage): Promise<void> {
    if (settings.quota === undefined) return;
    const held = (await objects.list('')).reduce((sum, { bytes }) => sum + bytes, 0);
    if (held + Number(request.headers['content-length'] ?? 0) > settings.quota) throw new Refused(403, 'QuotaExceeded');
  }
}

function completed({ key, etag }: StoredObject): string {
  return `<CompleteMultipartUploadResult><Key>${escaped(key)}</Key><ETag>${escaped(etag)}</ETag></CompleteMultipartUploadResult>`;
}

/** @returns null where the client has not hashed the content */
function announcedHash(request: IncomingMessage): string | null {
  const announced = String(request.headers['x-amz-content-sha256']);
  if (announced === 'UNSIGNED-PAYLOAD') return null;
  if (!/^[0-9a-f]{64}$/.test(announced)) throw new Refused(501, 'NotImplemented'); // content in signed chunks
  return announced;
}

/** The texts of some children of every element of a name. */
function rowsOf<Name extends string>(body: string, element: string, children: Name[]): Partial<Record<Name, string>>[] {
  const document = new DOMParser({ onError: () => undefined }).parseFromString(body, 'text/xml');
  return Array.from(document.getElementsByTagName(element), (row) =>
    Object.fromEntries(children.map((child) => [child, row.getElementsByTagName(child)[0]?.textContent ?? ''])),
  ) as Partial<Record<Name, string>>[];
}

function xml(response: ServerResponse, content: string): void {
  response.writeHead(200, { 'Content-Type': 'application/xml' });
  response.end(`<?xml version="1.0" encoding="UTF-8"?>\n${content}`);
}

function escaped(text: string): string {
  return text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);
}

/** An answer with one of S3's error codes. */
class Refused extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
  ) {
    super(code);
  }
}

function refuse(response: ServerResponse, error: unknown): void {
  if (response.headersSent) return void response.destroy();
  if (!(error instanceof Refused)) process.stderr.write(`object store: ${String(error)}\n`);
  const [status, code] = error instanceof Refused ? [error.status, error.code] : [500, 'InternalError'];
  response.writeHead(status, { 'Content-Type': 'application/xml' });
  response.end(`<?xml version="1.0" encoding="UTF-8"?>\n<Error><Code>${code}</Code></Error>`);
}

import { randomBytes } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  DeleteObjectsCommand,
  GetObjectCommand,
  HeadBucketCommand,
  ListObjectsV2Command,
  PutObjectCommand,
  S3Client,
} from '@aws-sdk/client-s3';
import { Upload } from '@aws-sdk/lib-storage';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { startObjectStore } from './object-store';

// The client is the one that programs use with every store of this kind.

const KEY = { keyId: 'yurta', secret: 'felt/and+ink' };
const Bucket = 'models';
let home: string;
let store: Awaited<ReturnType<typeof startObjectStore>>;

beforeEach(async () => {
  home = await mkdtemp(join(tmpdir(), 'object-store-'));
  store = await startObjectStore(home, 0, { bucket: Bucket, ...KEY });
});
afterEach(async () => {
  await store.close();
  await rm(home, { recursive: true });
});

function client(secret = KEY.secret, keyId = KEY.keyId): S3Client {
  return new S3Client({
    endpoint: new URL(store.url).origin,
    region: 'eu-north-1',
    credentials: { accessKeyId: keyId, secretAccessKey: secret },
    forcePathStyle: true,
    requestChecksumCalculation: 'WHEN_REQUIRED',
    responseChecksumValidation: 'WHEN_REQUIRED',
    maxAttempts: 1,
  });
}

async function bytes(Key: string, Range?: string): Promise<Buffer> {
  const { Body } = await client().send(new GetObjectCommand({ Bucket, Key, Range }));
  return Buffer.from(await Body!.transformToByteArray());
}

describe('the object store', () => {
  it('gives back what it was given, whole and in ranges, under any key', async () => {
    const content = randomBytes(4000);
    for (const Key of ['a', 'a/b c/ü+&=?#.glb', '..', '(1)*!']) {
      await client().send(new PutObjectCommand({ Bucket, Key, Body: content }));
      expect(await bytes(Key), Key).toEqual(content);
    }
    expect(await bytes('a', 'bytes=10-19')).toEqual(content.subarray(10, 20));
    expect(await bytes('a', 'bytes=-5')).toEqual(content.subarray(3995));
    await expect(bytes('a', 'bytes=4000-')).rejects.toMatchObject({ $metadata: { httpStatusCode: 416 } });
    await expect(bytes('b')).rejects.toMatchObject({ name: 'NoSuchKey' });
  });

  it('takes large content in parts', async () => {
    const content = randomBytes(12e6);
    await new Upload({ client: client(), params: { Bucket, Key: 'large', Body: content } }).done();
    expect((await bytes('large')).equals(content)).toBe(true);
  });

  it('lists keys by their beginning, page by page, and removes several at once', async () => {
    const keys = ['r/1/a', 'r/1/b', 'r/1/c', 'r/10/a', 's'];
    for (const Key of keys) await client().send(new PutObjectCommand({ Bucket, Key, Body: 'x' }));
    const page = (ContinuationToken?: string) =>
      client().send(new ListObjectsV2Command({ Bucket, Prefix: 'r/1/', MaxKeys: 2, ContinuationToken }));
    const first = await page();
    expect(first.Contents!.map(({ Key, Size }) => [Key, Size])).toEqual([
      ['r/1/a', 1],
      ['r/1/b', 1],
    ]);
    expect(first.IsTruncated).toBe(true);
    const second = await page(first.NextContinuationToken);
    expect([second.Contents!.map(({ Key }) => Key), second.IsTruncated]).toEqual([['r/1/c'], false]);
    await client().send(
      new DeleteObjectsCommand({ Bucket, Delete: { Objects: [{ Key: 'r/1/a' }, { Key: 's' }, { Key: 'never' }] } }),
    );
    const left = await client().send(new ListObjectsV2Command({ Bucket }));
    expect(left.Contents!.map(({ Key }) => Key)).toEqual(['r/1/b', 'r/1/c', 'r/10/a']);
  });

  it('keeps what it holds over a restart', async () => {
    await client().send(new PutObjectCommand({ Bucket, Key: 'kept', Body: 'still here' }));
    const { ETag } = await client().send(new GetObjectCommand({ Bucket, Key: 'kept' }));
    await store.close();
    store = await startObjectStore(home, 0, { bucket: Bucket, ...KEY });
    expect((await bytes('kept')).toString()).toBe('still here');
    await expect(client().send(new GetObjectCommand({ Bucket, Key: 'kept', IfNoneMatch: ETag }))).rejects.toMatchObject(
      { $metadata: { httpStatusCode: 304 } },
    );
  });

  it('refuses who has not the secret, another bucket, and content that is not what was signed', async () => {
    const put = (by: S3Client) => by.send(new PutObjectCommand({ Bucket, Key: 'a', Body: 'x' }));
    await expect(put(client('wrong'))).rejects.toMatchObject({ name: 'SignatureDoesNotMatch' });
    await expect(put(client(KEY.secret, 'somebody'))).rejects.toMatchObject({ name: 'InvalidAccessKeyId' });
    expect((await fetch(`${store.url}/a`)).status).toBe(403);
    await expect(client().send(new HeadBucketCommand({ Bucket: 'other' }))).rejects.toMatchObject({
      $metadata: { httpStatusCode: 404 },
    });
    const tampering = client();
    tampering.middlewareStack.add(
      (next) => (args) => {
        (args.request as { body: unknown }).body = 'y';
        return next(args);
      },
      { step: 'finalizeRequest', priority: 'low', name: 'tamper' },
    );
    await expect(put(tampering)).rejects.toMatchObject({ name: 'XAmzContentSHA256Mismatch' });
    await expect(bytes('a')).rejects.toMatchObject({ name: 'NoSuchKey' });
  });

  it('refuses what is over its quota', async () => {
    await store.close();
    store = await startObjectStore(home, 0, { bucket: Bucket, ...KEY, quota: 100 });
    await client().send(new PutObjectCommand({ Bucket, Key: 'a', Body: 'x'.repeat(60) }));
    await expect(client().send(new PutObjectCommand({ Bucket, Key: 'b', Body: 'x'.repeat(60) }))).rejects.toMatchObject(
      { name: 'QuotaExceeded' },
    );
    await client().send(new PutObjectCommand({ Bucket, Key: 'c', Body: 'x'.repeat(40) }));
  });
});

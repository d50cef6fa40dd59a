import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, readdir, rm } from 'node:fs/promises';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { dirname, join, normalize, relative, sep } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import {
  DeleteObjectsCommand,
  GetObjectCommand,
  HeadBucketCommand,
  HeadObjectCommand,
  NoSuchKey,
  paginateListObjectsV2,
  S3Client,
  S3ServiceException,
} from '@aws-sdk/client-s3';
import { Upload } from '@aws-sdk/lib-storage';
import { v7 as uuidv7 } from 'uuid';
import { inLanes } from '@/core/lanes';
import type { BucketSettings } from '../config';
import type { Storage } from './storage';
import { workFolder } from './work-folder';

/** Files of a folder under way at once. */
const AT_ONCE = 8;
/** A bucket that does not answer for so long is away, in milliseconds. */
const PATIENCE = { connect: 3000, answer: 30_000 };
const TRIES = 3;

/**
 * Keeps files in a bucket of any store that speaks S3, so that nodes and workers need no disk in common.
 */
export class Bucket implements Storage {
  private readonly client: S3Client;
  private readonly name: string;

  constructor({ url, region, keyId, secret }: BucketSettings) {
    const { origin, pathname } = new URL(url);
    this.name = decodeURIComponent(pathname.slice(1));
    this.client = new S3Client({
      endpoint: origin,
      region,
      credentials: { accessKeyId: keyId, secretAccessKey: secret },
      // The bucket stands in the path, and checksums come only where S3 demands them: all stores understand that.
      forcePathStyle: true,
      requestChecksumCalculation: 'WHEN_REQUIRED',
      responseChecksumValidation: 'WHEN_REQUIRED',
      maxAttempts: TRIES,
      requestHandler: { connectionTimeout: PATIENCE.connect, requestTimeout: PATIENCE.answer },
    });
  }

  /** @throws an error of the client if the bucket cannot be reached with the settings */
  async check(): Promise<void> {
    await this.client.send(new HeadBucketCommand({ Bucket: this.name }));
  }

  keepFile(from: string, key: string): Promise<void> {
    return this.put(from, key);
  }

  async takeFolder(from: string, key: string): Promise<void> {
    await this.putFolder(from, `${key}/`);
    await rm(from, { recursive: true });
  }

  /** Copies everything that is kept into a folder, under its keys. What is removed meanwhile is left out. */
  async copyTo(folder: string): Promise<void> {
    for await (const page of paginateListObjectsV2({ client: this.client }, { Bucket: this.name })) {
      const keys = (page.Contents ?? []).map(({ Key }) => Key!);
      await inLanes(keys, AT_ONCE, async (key) => {
        const path = normalize(join(folder, key));
        if (!path.startsWith(folder + sep)) throw new RangeError(`“${key}” leads out of the folder`);
        await mkdir(dirname(path), { recursive: true });
        await this.fetch(key, path).catch((error: unknown) => {
          if (!(error instanceof NoSuchKey)) throw error;
        });
      });
    }
  }

  /** Keeps everything that such a copy holds. */
  copyFrom(folder: string): Promise<void> {
    return this.putFolder(folder, '');
  }

  private async putFolder(from: string, prefix: string): Promise<void> {
    const files = (await readdir(from, { recursive: true, withFileTypes: true }))
      .filter((entry) => entry.isFile())
      .map((entry) => join(entry.parentPath, entry.name));
    await inLanes(files, AT_ONCE, (path) => this.put(path, `${prefix}${relative(from, path).split(sep).join('/')}`));
  }

  private async fetch(key: string, to: string): Promise<void> {
    const { Body } = await this.client.send(new GetObjectCommand({ Bucket: this.name, Key: key }));
    await pipeline(Body as Readable, createWriteStream(to));
  }

  async withFile<Result>(key: string, read: (path: string) => Promise<Result>): Promise<Result> {
    await mkdir(workFolder(), { recursive: true });
    const path = join(workFolder(), uuidv7());
    try {
      await this.fetch(key, path);
      return await read(path);
    } finally {
      await rm(path, { force: true });
    }
  }

  async send(key: string, request: IncomingMessage, response: ServerResponse): Promise<boolean> {
    const asked = {
      Bucket: this.name,
      Key: key,
      Range: request.headers.range,
      IfNoneMatch: request.headers['if-none-match'],
    };
    try {
      const isHead = request.method === 'HEAD';
      const answer = await this.client.send(isHead ? new HeadObjectCommand(asked) : new GetObjectCommand(asked));
      const { ContentRange, ContentLength, ETag, LastModified } = answer;
      response.writeHead(ContentRange ? 206 : 200, {
        'Accept-Ranges': 'bytes',
        ...(ContentLength !== undefined && { 'Content-Length': ContentLength }),
        ...(ContentRange && { 'Content-Range': ContentRange }),
        ...(ETag && { ETag }),
        ...(LastModified && { 'Last-Modified': LastModified.toUTCString() }),
      });
      // Once it has begun, an answer that breaks off can only be ended; so it is when the browser has gone.
      if ('Body' in answer) await pipeline(answer.Body as Readable, response).catch(() => response.destroy());
      else response.end();
      return true;
    } catch (error) {
      const status = error instanceof S3ServiceException ? error.$metadata.httpStatusCode : undefined;
      if (status === 404) return false;
      if (status !== 304 && status !== 416) throw error;
      response.writeHead(status).end();
      return true;
    }
  }

  async remove(key: string): Promise<void> {
    await this.removeAll([key]);
    for await (const page of paginateListObjectsV2({ client: this.client }, { Bucket: this.name, Prefix: `${key}/` }))
      await this.removeAll((page.Contents ?? []).map(({ Key }) => Key!));
  }

  private async removeAll(keys: string[]): Promise<void> {
    if (keys.length === 0) return;
    const { Errors = [] } = await this.client.send(
      new DeleteObjectsCommand({ Bucket: this.name, Delete: { Objects: keys.map((Key) => ({ Key })), Quiet: true } }),
    );
    if (Errors[0]) throw new Error(`The bucket did not remove “${Errors[0].Key}”: ${Errors[0].Message}`);
  }

  /** Large files go in parts. */
  private async put(path: string, key: string): Promise<void> {
    await new Upload({
      client: this.client,
      params: { Bucket: this.name, Key: key, Body: createReadStream(path) },
    }).done();
  }
}

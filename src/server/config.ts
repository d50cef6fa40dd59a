import { createHash, randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import Joi from 'joi';

/** A model store in the cloud that this installation may take files from. */
export interface StoreSettings {
  /** What people call it. */
  name: string;
  /** Its address, also the issuer of its OAuth 2.0 metadata (RFC 8414). */
  url: string;
  clientId: string;
  clientSecret: string;
}

/** A bucket of a store that speaks S3. */
export interface BucketSettings {
  /** Address of the store with the bucket as its path. */
  url: string;
  region: string;
  keyId: string;
  secret: string;
}

/** Every setting with its default. Read from the environment; README.md has the same table. */
export interface Config {
  /** Where the database, uploads, logs and, without a bucket, files lie. */
  dataFolder: string;
  /** Where source files and revisions lie; null for the data folder. */
  bucket: BucketSettings | null;
  publicUrl: string;
  maxUploadBytes: number;
  /** What one account may have uploaded and not published. */
  maxPendingBytes: number;
  /** What one guest may store in pictures and files. */
  maxGuestBytes: number;
  /** Worker processes that the start command runs on this machine. */
  workers: number;
  jobMinutes: number;
  jobMemoryMb: number;
  maxElements: number;
  maxParticipants: number;
  /** Where outgoing mail is handed over: `smtp://…` or `smtps://…`; null where there is no mail. */
  smtpUrl: string | null;
  /** Where the stand-in mail server keeps its mail; null where a real one is used. Told by the start command. */
  outboxFolder: string | null;
  mailFrom: string;
  /** A notice that was not seen for so long is mailed. */
  mailAfterSeconds: number;
  /** Null where the administrator has set none. */
  modelStore: StoreSettings | null;
  /** Whether programs whose addresses people enter may lie in this installation's own network. */
  reachesOwnNetwork: boolean;
  /** Whether a reverse proxy in front of Yurta tells the address of a request in `x-forwarded-for`. */
  trustProxy: boolean;
  /** By which a collector of metrics from elsewhere is known; null for none. */
  metricsToken: string | null;
  /** Whether only this machine reaches the server: it listens on loopback and nothing passes requests on. */
  isLocal: boolean;
  /** Keys cookies and codes; made on first start and kept in the data folder unless given. */
  secret: string;
}

const schema = Joi.object({
  YURTA_DATA: Joi.string().default('.yurta'),
  YURTA_PUBLIC_URL: Joi.string().uri({ scheme: ['http', 'https'] }),
  PORT: Joi.number().port().default(3210),
  YURTA_MAX_UPLOAD_MB: Joi.number().integer().min(1).default(2048),
  YURTA_MAX_PENDING_MB: Joi.number().integer().min(1).default(10_240),
  YURTA_MAX_GUEST_MB: Joi.number().integer().min(1).default(200),
  YURTA_WORKERS: Joi.number().integer().min(1).max(64).default(1),
  YURTA_JOB_MINUTES: Joi.number().min(0.1).default(30),
  YURTA_JOB_MEMORY_MB: Joi.number().integer().min(256).default(8192),
  YURTA_MAX_ELEMENTS: Joi.number().integer().min(1).default(1_000_000),
  YURTA_MAX_PARTICIPANTS: Joi.number().integer().min(2).default(200),
  YURTA_SMTP_URL: Joi.string().uri({ scheme: ['smtp', 'smtps'] }),
  YURTA_OUTBOX: Joi.string(),
  YURTA_MAIL_FROM: Joi.string().default('Yurta <yurta@localhost>'),
  YURTA_MAIL_AFTER_SECONDS: Joi.number().min(0).default(60),
  YURTA_STORE_URL: Joi.string().uri({ scheme: ['http', 'https'] }),
  YURTA_STORE_NAME: Joi.string().max(60).default('Model store'),
  YURTA_STORE_CLIENT_ID: Joi.string(),
  YURTA_STORE_CLIENT_SECRET: Joi.string(),
  YURTA_BUCKET_URL: Joi.string()
    .uri({ scheme: ['http', 'https'] })
    .pattern(/^https?:\/\/[^/]+\/[^/]+$/, 'address of a store, then the bucket'),
  YURTA_BUCKET_REGION: Joi.string().default('us-east-1'),
  YURTA_BUCKET_KEY_ID: Joi.string(),
  YURTA_BUCKET_SECRET: Joi.string(),
  YURTA_REACH_OWN_NETWORK: Joi.boolean().truthy('1').falsy('0').default(false),
  YURTA_TRUST_PROXY: Joi.boolean().truthy('1').falsy('0').default(false),
  YURTA_METRICS_TOKEN: Joi.string().min(16),
  YURTA_SECRET: Joi.string().min(32),
})
  .with('YURTA_STORE_URL', ['YURTA_STORE_CLIENT_ID', 'YURTA_STORE_CLIENT_SECRET'])
  .with('YURTA_BUCKET_URL', ['YURTA_BUCKET_KEY_ID', 'YURTA_BUCKET_SECRET'])
  .unknown(true);

let cached: Config | undefined;

/** @throws Error that names the variable whose value makes no sense */
export function config(): Config {
  cached ??= readConfig();
  return cached;
}

function readConfig(): Config {
  const { value, error } = schema.validate(process.env);
  if (error) throw new Error(`Setting not understood: ${error.message}. See the table of settings in README.md.`);
  const dataFolder = resolve(process.env.YURTA_HOME ?? process.cwd(), value.YURTA_DATA as string);
  return {
    dataFolder,
    bucket: value.YURTA_BUCKET_URL
      ? {
          url: value.YURTA_BUCKET_URL,
          region: value.YURTA_BUCKET_REGION,
          keyId: value.YURTA_BUCKET_KEY_ID,
          secret: value.YURTA_BUCKET_SECRET,
        }
      : null,
    publicUrl: ((value.YURTA_PUBLIC_URL as string | undefined) ?? `http://localhost:${value.PORT}`).replace(/\/$/, ''),
    maxUploadBytes: value.YURTA_MAX_UPLOAD_MB * 1024 * 1024,
    maxPendingBytes: value.YURTA_MAX_PENDING_MB * 1024 * 1024,
    maxGuestBytes: value.YURTA_MAX_GUEST_MB * 1024 * 1024,
    workers: value.YURTA_WORKERS,
    jobMinutes: value.YURTA_JOB_MINUTES,
    jobMemoryMb: value.YURTA_JOB_MEMORY_MB,
    maxElements: value.YURTA_MAX_ELEMENTS,
    maxParticipants: value.YURTA_MAX_PARTICIPANTS,
    smtpUrl: value.YURTA_SMTP_URL ?? null,
    outboxFolder: value.YURTA_OUTBOX ?? null,
    mailFrom: value.YURTA_MAIL_FROM,
    mailAfterSeconds: value.YURTA_MAIL_AFTER_SECONDS,
    modelStore: value.YURTA_STORE_URL
      ? {
          name: value.YURTA_STORE_NAME,
          url: value.YURTA_STORE_URL.replace(/\/$/, ''),
          clientId: value.YURTA_STORE_CLIENT_ID,
          clientSecret: value.YURTA_STORE_CLIENT_SECRET,
        }
      : null,
    reachesOwnNetwork: value.YURTA_REACH_OWN_NETWORK,
    trustProxy: value.YURTA_TRUST_PROXY,
    metricsToken: value.YURTA_METRICS_TOKEN ?? null,
    isLocal: !value.YURTA_TRUST_PROXY && ['127.0.0.1', 'localhost', '::1'].includes(process.env.HOST ?? '127.0.0.1'),
    secret: (value.YURTA_SECRET as string | undefined) ?? installationSecret(dataFolder),
  };
}

function installationSecret(dataFolder: string): string {
  const path = join(dataFolder, 'secret');
  if (!existsSync(path)) {
    mkdirSync(dataFolder, { recursive: true });
    try {
      writeFileSync(path, randomBytes(32).toString('base64url'), { mode: 0o600, flag: 'wx' });
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error; // another process of ours was first
    }
  }
  return readFileSync(path, 'utf8').trim();
}

/** One-way mark of a token or code, keyed by the server's secret, as it is stored. */
export function keyedHash(purpose: string, value: string): string {
  return createHash('sha256').update(`${config().secret}\0${purpose}\0${value}`).digest('base64url');
}

import { createWriteStream } from 'node:fs';
import { rm } from 'node:fs/promises';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import Joi from 'joi';
import {
  allowInsecureRequests,
  authorizationCodeGrant,
  buildAuthorizationUrl,
  calculatePKCECodeChallenge,
  ClientSecretPost,
  discovery,
  randomPKCECodeVerifier,
  randomState,
  refreshTokenGrant,
  ResponseBodyError,
  tokenRevocation,
  type Configuration,
  type TokenEndpointResponse,
} from 'openid-client';
import type { StoreFolder, StoreVersion } from '@/core/project/model-store';
import { config, type StoreSettings } from '../config';
import { notFound, Problem } from '../problems';

const SCOPE = 'files.read';
const PATIENCE_MS = 15_000;
/** A token is renewed this long before it ends, so that it does not end on the way. */
const EARLY_MS = 30_000;

export interface StoreTokens {
  access: string;
  refresh: string;
  /** Milliseconds since 1970. */
  endsAt: number;
}

/** What a person's browser carries from the store's door back to us. */
export interface StoreErrand {
  state: string;
  verifier: string;
  redirect: string;
}

/** The store said no for good: somebody has to connect again. */
export class StoreRefusal extends Error {
  override readonly name = 'StoreRefusal';
}

/** The settings of this installation's model store. @throws Problem 404 if there is none */
export function storeSettings(): StoreSettings {
  const { modelStore } = config();
  if (!modelStore) throw notFound('A model store');
  return modelStore;
}

let discovered: Promise<Configuration> | undefined;

/** The store's addresses, asked of it once. */
async function door(): Promise<Configuration> {
  const { url, clientId, clientSecret } = storeSettings();
  discovered ??= discovery(new URL(url), clientId, undefined, ClientSecretPost(clientSecret), {
    algorithm: 'oauth2',
    timeout: PATIENCE_MS / 1000,
    // On this machine, where the stand-in runs, nobody can listen in.
    execute: isLoopback(url) ? [allowInsecureRequests] : [],
  });
  try {
    return await discovered;
  } catch (error) {
    discovered = undefined; // the next one asks again
    throw away(error);
  }
}

function isLoopback(url: string): boolean {
  return ['localhost', '127.0.0.1', '[::1]'].includes(new URL(url).hostname);
}

function away(error: unknown): Problem {
  process.stderr.write(`model store: ${error instanceof Error ? error.message : String(error)}\n`);
  return new Problem(
    502,
    `${storeSettings().name} does not answer as it should. What was taken from it before is safe; try again later.`,
  );
}

/** Where to send a person who connects, and what to remember meanwhile. @param redirect where the store sends them back */
export async function beginErrand(redirect: string): Promise<{ address: URL; errand: StoreErrand }> {
  const verifier = randomPKCECodeVerifier();
  const state = randomState();
  const address = buildAuthorizationUrl(await door(), {
    redirect_uri: redirect,
    scope: SCOPE,
    state,
    code_challenge: await calculatePKCECodeChallenge(verifier),
    code_challenge_method: 'S256',
  });
  return { address, errand: { state, verifier, redirect } };
}

/** Fetches tokens for the code that the person came back with. @throws Problem if the store or the person said no */
export async function finishErrand(query: URLSearchParams, errand: StoreErrand): Promise<StoreTokens> {
  const address = new URL(errand.redirect);
  address.search = query.toString();
  try {
    return tokensOf(
      await authorizationCodeGrant(await door(), address, {
        expectedState: errand.state,
        pkceCodeVerifier: errand.verifier,
      }),
    );
  } catch (error) {
    if (error instanceof Problem) throw error;
    throw new Problem(409, `${storeSettings().name} was not connected: access was not allowed, or it took too long.`);
  }
}

export function isStale({ endsAt }: StoreTokens): boolean {
  return Date.now() > endsAt - EARLY_MS;
}

/** New tokens for old ones. @throws StoreRefusal if the store takes the old ones no more */
export async function renew(tokens: StoreTokens): Promise<StoreTokens> {
  try {
    return tokensOf(await refreshTokenGrant(await door(), tokens.refresh), tokens.refresh);
  } catch (error) {
    if (error instanceof ResponseBodyError && error.error === 'invalid_grant')
      throw new StoreRefusal(`${storeSettings().name} does not let Yurta in any more. Connect again.`);
    throw error instanceof Problem ? error : away(error);
  }
}

/** Tells the store that the tokens are not needed any more. */
export async function giveBack(tokens: StoreTokens): Promise<void> {
  await tokenRevocation(await door(), tokens.refresh);
}

function tokensOf(answer: TokenEndpointResponse, before?: string): StoreTokens {
  const refresh = answer.refresh_token ?? before;
  if (!refresh) throw new Problem(502, `${storeSettings().name} gave no lasting access, so nothing was connected.`);
  return { access: answer.access_token, refresh, endsAt: Date.now() + (answer.expires_in ?? 300) * 1000 };
}

// What it holds. All that comes from outside is checked.

const named = Joi.object({ id: Joi.string().max(200).required(), name: Joi.string().max(500).required() });
const version = Joi.object<StoreVersion>({
  number: Joi.number().integer().min(1).required(),
  bytes: Joi.number().integer().min(0).required(),
  at: Joi.string().isoDate().required(),
  by: Joi.string().allow('').max(200).required(),
});
const folderSchema = named.keys({
  path: Joi.array().items(named).required(),
  folders: Joi.array().items(named).required(),
  files: Joi.array()
    .items(named.keys({ version: version.required() }))
    .required(),
});
const fileSchema = named.keys({
  path: Joi.array().items(named).required(),
  versions: Joi.array().items(version).min(1).required(),
});
const accountSchema = Joi.object({ name: Joi.string().max(200).required() });
const subscriptionSchema = Joi.object({ id: Joi.string().max(200).required() });

export interface StoreFileDetail {
  id: string;
  name: string;
  path: { id: string; name: string }[];
  versions: StoreVersion[];
}

export async function readAccount(access: string): Promise<string> {
  return (await ask<{ name: string }>(access, 'GET', '/me', accountSchema)).name;
}

export function readFolder(access: string, id: string): Promise<StoreFolder> {
  return ask<StoreFolder>(access, 'GET', `/folders/${encodeURIComponent(id)}`, folderSchema);
}

export function readFile(access: string, id: string): Promise<StoreFileDetail> {
  return ask<StoreFileDetail>(access, 'GET', `/files/${encodeURIComponent(id)}`, fileSchema);
}

/** Asks for notices about a file. Returns the subscription's id. */
export async function subscribe(access: string, file: string, address: string, secret: string): Promise<string> {
  const body = { file, address, secret };
  return (await ask<{ id: string }>(access, 'POST', '/subscriptions', subscriptionSchema, body)).id;
}

export async function unsubscribe(access: string, id: string): Promise<void> {
  await ask(access, 'DELETE', `/subscriptions/${encodeURIComponent(id)}`, Joi.object());
}

/** Fetches a version's content into a file. @throws Problem 413 if it is longer than uploads may be */
export async function download(access: string, file: string, number: number, path: string): Promise<void> {
  const answer = await send(access, 'GET', `/files/${encodeURIComponent(file)}/versions/${number}/content`);
  const most = config().maxUploadBytes;
  let bytes = 0;
  const measure = new Transform({
    transform(chunk: Buffer, _encoding, done) {
      bytes += chunk.length;
      const tooLong = `The file is larger than the ${Math.round(most / 1024 / 1024)} MB that this installation takes.`;
      done(bytes > most ? new Problem(413, tooLong) : null, chunk);
    },
  });
  try {
    await pipeline(Readable.fromWeb(answer.body as never), measure, createWriteStream(path));
  } catch (error) {
    await rm(path, { force: true });
    throw error instanceof Problem || (error as NodeJS.ErrnoException).code === 'ENOSPC' ? error : away(error);
  }
}

async function ask<T>(access: string, method: string, path: string, schema: Joi.Schema, body?: object): Promise<T> {
  const answer = await send(access, method, path, body);
  const { error, value } = schema.validate(await answer.json().catch(() => undefined), {
    stripUnknown: true,
    presence: 'required',
  });
  if (error) throw away(error);
  return value as T;
}

async function send(access: string, method: string, path: string, body?: object): Promise<Response> {
  const { url, name } = storeSettings();
  let answer: Response;
  try {
    answer = await fetch(url + path, {
      method,
      headers: {
        Authorization: `Bearer ${access}`,
        ...(body && { 'Content-Type': 'application/json' }),
      },
      body: body && JSON.stringify(body),
      redirect: 'error',
      // A content may take long; its beginning may not.
      signal: path.endsWith('/content') ? undefined : AbortSignal.timeout(PATIENCE_MS),
    });
  } catch (error) {
    throw away(error);
  }
  if (answer.ok) return answer;
  await answer.body?.cancel();
  if (answer.status === 401) throw new StoreRefusal(`${name} does not let Yurta in any more. Connect again.`);
  if (answer.status === 404) throw notFound(`What was asked of ${name}`);
  throw away(new Error(`${method} ${path}: ${answer.status}`));
}

import { lookup as resolve } from 'node:dns';
import { request as overHttp } from 'node:http';
import { request as overHttps } from 'node:https';
import type { LookupFunction } from 'node:net';
import ipaddr from 'ipaddr.js';
import { config } from '../config';

const TIMEOUT_MS = 10_000;
const MOST_BYTES = 20 * 1024 * 1024;

export interface Outgoing {
  method: 'GET' | 'POST' | 'PATCH';
  headers?: Record<string, string>;
  /** JSON. */
  body?: string;
}

export interface Answer {
  status: number;
  text: string;
}

/**
 * Asks another program whose address a person has entered. It must lie in the public network, unless this installation allows
 * its own; that is decided where the connection is made, so that a name cannot point elsewhere in between. Nothing is followed
 * to another address.
 *
 * @throws Error with what went wrong, as a sentence
 */
export async function ask(address: string, { method, headers = {}, body }: Outgoing): Promise<Answer> {
  const url = new URL(address);
  if (url.protocol !== 'http:' && url.protocol !== 'https:') throw new Error('The address is not one of the web.');
  // A name in figures is never looked up.
  if (ipaddr.isValid(bare(url.hostname)) && !mayReach(bare(url.hostname))) throw notReachable(url.hostname);
  const request = url.protocol === 'https:' ? overHttps : overHttp;
  return new Promise((done, fail) => {
    const asked = request(
      url,
      {
        method,
        lookup: checkedLookup,
        timeout: TIMEOUT_MS,
        headers: {
          'User-Agent': 'Yurta',
          ...(body !== undefined && { 'Content-Type': 'application/json', 'Content-Length': Buffer.byteLength(body) }),
          ...headers,
        },
      },
      (answer) => {
        const parts: Buffer[] = [];
        let size = 0;
        answer.on('data', (part: Buffer) => {
          size += part.length;
          if (size > MOST_BYTES) asked.destroy(new Error('It answered with too much.'));
          else parts.push(part);
        });
        answer.on('end', () => done({ status: answer.statusCode ?? 0, text: Buffer.concat(parts).toString('utf8') }));
        answer.on('error', fail);
      },
    );
    asked.on('timeout', () => asked.destroy(new Error('It did not answer within ten seconds.')));
    asked.on('error', (error: NodeJS.ErrnoException) =>
      fail(error.code === 'ECONNREFUSED' ? new Error('It cannot be reached.', { cause: error }) : error),
    );
    asked.end(body);
  });
}

const checkedLookup: LookupFunction = (host, options, callback) => {
  resolve(host, { ...options, all: true }, (error, addresses) => {
    if (error) return callback(error, '', 4);
    const allowed = addresses.filter(({ address }) => mayReach(address));
    const [first] = allowed;
    if (!first) return callback(notReachable(host), '', 4);
    if (options.all) return callback(null, allowed);
    callback(null, first.address, first.family);
  });
};

/** Whether an address lies in the public network, or this installation may reach its own. */
export function mayReach(address: string): boolean {
  return config().reachesOwnNetwork || ipaddr.process(address).range() === 'unicast';
}

function bare(host: string): string {
  return host.replace(/^\[|\]$/g, '');
}

function notReachable(host: string): Error {
  return new Error(`${host} lies in this installation’s own network, which it does not reach into.`);
}

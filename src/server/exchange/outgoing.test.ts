import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { ask, mayReach } from './outgoing';

const server = createServer((_, response) =>
  response.writeHead(302, { Location: 'http://example.test/' }).end('moved'),
);
let port: number;
beforeAll(async () => {
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  port = (server.address() as AddressInfo).port;
});
afterAll(() => void server.close());

it('reaches no address of its own network, whatever it is called', async () => {
  for (const address of [
    '127.0.0.1',
    '10.1.2.3',
    '192.168.0.1',
    '169.254.169.254',
    '::1',
    'fd00::1',
    '::ffff:127.0.0.1',
    '0.0.0.0',
  ])
    // prettier-ignore
    expect(mayReach(address), address).toBe(false);
  expect([mayReach('93.184.216.34'), mayReach('2606:2800:220:1::1')]).toEqual([true, true]);
  // A number, a name, a bracketed address: all lead to this machine.
  for (const host of ['127.0.0.1', 'localhost', '2130706433', '[::1]'])
    await expect(ask(`http://${host}:${port}/`, { method: 'GET' }), host).rejects.toThrow('own network'); // prettier-ignore
});

it('speaks HTTP only', async () => {
  await expect(ask('file:///etc/passwd', { method: 'GET' })).rejects.toThrow('not one of the web'); // prettier-ignore
});

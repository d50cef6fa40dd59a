import { readFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { afterEach, expect, it } from 'vitest';
import { freePort } from './free-port';

const server = createServer();
afterEach(() => server.close());

it('is none that an outgoing connection may take before somebody listens on it', async () => {
  const [first] = readFileSync('/proc/sys/net/ipv4/ip_local_port_range', 'utf8').split(/\s+/).map(Number);
  const ports = await Promise.all(Array.from({ length: 20 }, () => freePort()));
  expect(Math.max(...ports)).toBeLessThan(first!);
  expect(new Set(ports).size).toBe(20);
});

it('is the wanted one while that is free, and another one while somebody listens on it', async () => {
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  const { port: taken } = server.address() as AddressInfo;
  expect(await freePort(taken)).not.toBe(taken);
  await new Promise((closed) => server.close(closed));
  expect(await freePort(taken)).toBe(taken);
});

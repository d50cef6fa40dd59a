import type { IncomingMessage, ServerResponse } from 'node:http';
import { describe, expect, it, vi } from 'vitest';
import { setClientAddress } from './client-address';
import { isForeign, setSecurityHeaders } from './security-headers';

function incoming(method: string, headers: Record<string, string | string[]> = {}): IncomingMessage {
  return { method, headers: { host: 'yurta.example', ...headers }, socket: { remoteAddress: '10.0.0.7' } } as never;
}

describe('requests', () => {
  it('that change something come from our own pages, or from no page at all', () => {
    expect(isForeign(incoming('POST', { origin: 'https://yurta.example' }))).toBe(false);
    expect(isForeign(incoming('POST'))).toBe(false);
    expect(isForeign(incoming('POST', { origin: 'https://elsewhere.example' }))).toBe(true);
    expect(isForeign(incoming('POST', { origin: 'null' }))).toBe(true);
    expect(isForeign(incoming('DELETE', { origin: 'https://yurta.example:444' }))).toBe(true);
    expect(isForeign(incoming('POST', { 'sec-fetch-site': 'cross-site' }))).toBe(true);
    expect(isForeign(incoming('POST', { 'sec-fetch-site': 'same-origin' }))).toBe(false);
    expect(isForeign(incoming('GET', { origin: 'https://elsewhere.example' }))).toBe(false);
  });

  it('are known by the address they come from, whatever they claim', () => {
    const request = incoming('POST', { 'x-forwarded-for': '1.2.3.4' });
    setClientAddress(request);
    expect(request.headers['x-forwarded-for']).toBe('10.0.0.7');
  });

  it('get a policy of their own, which no request can bring along', () => {
    const policies = [1, 2].map(() => {
      const request = incoming('GET', { 'content-security-policy': "script-src 'unsafe-inline'" });
      const headers = new Map<string, unknown>();
      setSecurityHeaders(request, {
        setHeader: vi.fn((name, value) => headers.set(name, value)),
      } as unknown as ServerResponse);
      expect(request.headers['content-security-policy']).toBe(headers.get('Content-Security-Policy'));
      return String(headers.get('Content-Security-Policy'));
    });
    expect(policies[0]).not.toBe(policies[1]);
    const script = /script-src ([^;]*)/.exec(policies[0]!)![1];
    expect(script).not.toContain('unsafe-inline');
    expect(script).toMatch(/'nonce-[A-Za-z0-9+/=]{24}'/);
  });
});

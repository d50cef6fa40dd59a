import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Config } from './config';

let data: string;
beforeAll(async () => {
  data = await mkdtemp(join(tmpdir(), 'config-'));
});
afterAll(() => rm(data, { recursive: true }));
beforeEach(() => {
  for (const name of Object.keys(process.env)) if (/^(YURTA_|PORT$)/.test(name)) vi.stubEnv(name, undefined);
  vi.stubEnv('YURTA_DATA', data);
});
afterEach(() => vi.unstubAllEnvs());

/** The settings as a process finds them that starts with these variables. */
async function started(variables: Record<string, string> = {}): Promise<Config> {
  vi.resetModules();
  for (const [name, value] of Object.entries(variables)) vi.stubEnv(name, value);
  return (await import('./config')).config();
}

describe('settings', () => {
  it('have the defaults that README.md promises', async () => {
    const readme = await readFile(join(import.meta.dirname, '../../README.md'), 'utf8');
    const promised = (name: string) => readme.match(new RegExp(`^\\| \`${name}\` \\| \`?([^|]*?)\`? \\|`, 'm'))?.[1];
    const config = await started();
    expect({
      YURTA_MAX_UPLOAD_MB: config.maxUploadBytes / 1024 ** 2,
      YURTA_WORKERS: config.workers,
      YURTA_JOB_MINUTES: config.jobMinutes,
      YURTA_JOB_MEMORY_MB: config.jobMemoryMb,
      YURTA_MAX_ELEMENTS: config.maxElements,
      YURTA_MAX_PARTICIPANTS: config.maxParticipants,
      YURTA_MAIL_AFTER_SECONDS: config.mailAfterSeconds,
      YURTA_TRUST_PROXY: Number(config.trustProxy),
    }).toEqual(
      Object.fromEntries(
        [
          'YURTA_MAX_UPLOAD_MB',
          'YURTA_WORKERS',
          'YURTA_JOB_MINUTES',
          'YURTA_JOB_MEMORY_MB',
          'YURTA_MAX_ELEMENTS',
          'YURTA_MAX_PARTICIPANTS',
          'YURTA_MAIL_AFTER_SECONDS',
          'YURTA_TRUST_PROXY',
        ].map((name) => [name, Number(promised(name))]),
      ),
    );
    expect(config.mailFrom).toBe(promised('YURTA_MAIL_FROM'));
    expect([config.bucket, config.modelStore, config.smtpUrl]).toEqual([null, null, null]);
  });

  it.each([
    [{ YURTA_WORKERS: '0' }, 'YURTA_WORKERS'],
    [{ YURTA_MAX_UPLOAD_MB: 'much' }, 'YURTA_MAX_UPLOAD_MB'],
    [{ YURTA_PUBLIC_URL: 'yurta.example' }, 'YURTA_PUBLIC_URL'],
    [{ YURTA_SMTP_URL: 'http://mail.example' }, 'YURTA_SMTP_URL'],
    [{ YURTA_SECRET: 'short' }, 'YURTA_SECRET'],
    [{ YURTA_STORE_URL: 'https://files.example' }, 'YURTA_STORE_CLIENT_ID'],
    [
      { YURTA_BUCKET_URL: 'https://objects.example', YURTA_BUCKET_KEY_ID: 'k', YURTA_BUCKET_SECRET: 's' },
      'YURTA_BUCKET_URL',
    ],
    [{ YURTA_BUCKET_URL: 'https://objects.example/yurta' }, 'YURTA_BUCKET_KEY_ID'],
  ])('that make no sense are told by name: %o', async (variables, name) => {
    await expect(started(variables)).rejects.toThrow(new RegExp(`${name}.*README\\.md`));
  });

  it('join what belongs together', async () => {
    const config = await started({
      YURTA_PUBLIC_URL: 'https://yurta.example/',
      YURTA_STORE_URL: 'https://files.example/',
      YURTA_STORE_CLIENT_ID: 'yurta',
      YURTA_STORE_CLIENT_SECRET: 'felt',
      YURTA_TRUST_PROXY: '1',
    });
    expect(config.publicUrl).toBe('https://yurta.example');
    expect(config.trustProxy).toBe(true);
    expect(config.modelStore).toEqual({
      name: 'Model store',
      url: 'https://files.example',
      clientId: 'yurta',
      clientSecret: 'felt',
    });
  });

  it('hold one secret a data folder, that a second process finds again', async () => {
    const { secret } = await started();
    expect(secret.length).toBeGreaterThanOrEqual(32);
    expect((await started()).secret).toBe(secret);
    expect((await readFile(join(data, 'secret'), 'utf8')).trim()).toBe(secret);
    expect((await started({ YURTA_SECRET: 'x'.repeat(32) })).secret).toBe('x'.repeat(32));
  });
});

import { expect, it } from 'vitest';
import { seal, unseal } from './seal';

it('comes back as it was, and is never sealed alike', () => {
  const text = 'refresh token – 令牌 😀';
  const [one, other] = [seal('store tokens', text), seal('store tokens', text)];
  expect(unseal('store tokens', one)).toBe(text);
  expect(one).not.toBe(other);
  expect(unseal('empty', seal('empty', ''))).toBe('');
});

it('does not open for another purpose, when changed, or when it never was a seal', () => {
  const sealed = seal('store tokens', 'secret');
  expect(() => unseal('store errand', sealed)).toThrow();
  const bytes = Buffer.from(sealed, 'base64url');
  for (let i = 0; i < bytes.length; i++) {
    const changed = Buffer.from(bytes);
    changed[i]! ^= 1;
    expect(() => unseal('store tokens', changed.toString('base64url')), `byte ${i}`).toThrow();
  }
  for (const nothing of ['', 'abc', 'x'.repeat(200)]) expect(() => unseal('store tokens', nothing)).toThrow();
});

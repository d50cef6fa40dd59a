import { afterEach, describe, expect, it } from 'vitest';
import { timeText } from './time';

const zone = process.env.TZ;
afterEach(() => {
  if (zone === undefined) delete process.env.TZ;
  else process.env.TZ = zone;
});

describe('a moment', () => {
  // In March, New York is five hours behind UTC, and on the 8th at two o'clock it puts its clocks forward.
  it.each([
    ['Asia/Tokyo', '2 Mar 2026, 05:30'],
    ['America/New_York', '1 Mar 2026, 15:30'],
    ['UTC', '1 Mar 2026, 20:30'],
  ])('is told in the zone of the reader: %s', (TZ, said) => {
    process.env.TZ = TZ;
    expect(timeText('2026-03-01T20:30:00Z')).toBe(said);
  });

  it('heeds the change of the clocks', () => {
    process.env.TZ = 'America/New_York';
    expect(timeText('2026-03-08T06:59:00Z', 'time')).toBe('01:59');
    expect(timeText('2026-03-08T07:00:00Z', 'time')).toBe('03:00');
    expect(timeText('2026-03-08T07:00:00Z', 'day')).toBe('8 Mar 2026');
  });
});

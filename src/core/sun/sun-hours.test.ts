import { describe, expect, it } from 'vitest';
import { sunnyDay, sunnyYear, type SunnyDay } from './sun-hours';
import { sunDay } from './sun-day';
import type { SunSite } from './sun-site';

const site: SunSite = { latitude: 51.5, longitude: 7.6, timeZone: 'Europe/Berlin', north: 0 };
const open = () => Promise.resolve(null);

describe('hours of direct sun', () => {
  it('are the length of the day where nothing stands in the way', async () => {
    const { hours, spans } = await sunnyDay(site, '2026-03-20', null, open);
    const { rises, sets } = sunDay(site, '2026-03-20');
    expect(Math.abs(hours * 60 - (sets! - rises!))).toBeLessThan(12);
    expect(spans.map(({ state }) => state)).toEqual(['night', 'sun', 'night']);
    expect(spans[0]!.from).toBe(0);
    expect(spans.at(-1)!.to).toBe(24 * 60);
  });

  it('are half of it on a wall to the west at the equinox, and none on one to the north in winter', async () => {
    const west = await sunnyDay(site, '2026-03-20', [-1, 0, 0], open);
    const whole = await sunnyDay(site, '2026-03-20', null, open);
    expect(Math.abs(west.hours - whole.hours / 2)).toBeLessThan(0.4);
    expect(west.spans.map(({ state }) => state)).toEqual(['night', 'behind', 'sun', 'night']);
    expect((await sunnyDay(site, '2026-12-21', [0, 1, 0], open)).hours).toBe(0);
  });

  it('name what casts the shade', async () => {
    // A tower stands in the west: from where the sun comes in the afternoon.
    const tower = ([x]: readonly number[]) => Promise.resolve(x! < -0.3 ? 'Tower' : null);
    const { spans } = await sunnyDay(site, '2026-06-21', null, tower);
    expect(spans.map(({ state, by }) => [state, by])).toEqual([
      ['night', null],
      ['sun', null],
      ['shade', 'Tower'],
      ['night', null],
    ]);
  });

  it('over a year are most in June and least in December, and can be ended', async () => {
    const days: SunnyDay[] = [];
    await sunnyYear(site, 2026, null, open, (day) => days.push(day) > 0);
    const most = days.reduce((a, b) => (b.hours > a.hours ? b : a));
    const least = days.reduce((a, b) => (b.hours < a.hours ? b : a));
    expect(most.date.slice(5, 7)).toBe('06');
    expect(least.date.slice(5, 7)).toMatch(/12|01/);
    let seen = 0;
    await sunnyYear(site, 2026, null, open, () => ++seen < 3);
    expect(seen).toBe(3);
  });
});

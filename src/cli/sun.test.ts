import { spawnSync } from 'node:child_process';
import { describe, expect, it } from 'vitest';
import { sun } from './sun';
import { listen } from './test-console';

const heard = listen();
const EXAMPLE = { lat: '39.742476', lon: '-105.1786', at: '2003-10-17T12:30:30-07:00' };

describe('yurta sun', () => {
  it('prints where the sun stands', async () => {
    expect(await sun({ ...EXAMPLE, json: true })).toBe(0);
    const { azimuth, elevation } = JSON.parse(heard.printed[0]!) as { azimuth: number; elevation: number };
    expect(azimuth).toBeCloseTo(194.34, 1);
    expect(elevation).toBeCloseTo(39.888, 1);
    expect(await sun(EXAMPLE)).toBe(0);
    expect(heard.printed[1]).toMatch(/^south-south-west, 194\.3\d° from north; 39\.8\d° above the horizon$/);
  });

  it('says in one line what is wrong', async () => {
    for (const wrong of [
      { lat: '91' },
      { lat: '' },
      { lon: 'east' },
      { at: '2003-10-17' },
      { at: '2003-10-17T12:30:30' },
      { at: '2003-13-17T12:30:30Z' },
      { at: '2003-02-30T12:30:30Z' },
    ])
      // prettier-ignore
      expect(await sun({ ...EXAMPLE, ...wrong })).toBe(2);
    expect(heard.printed).toHaveLength(0);
    for (const line of heard.complaints) expect(line).toMatch(/^yurta sun: [^\n]+$/);
  });

  it('ends with 2 and one line where an option is missing or unknown, and well where it is asked for help', () => {
    const run = (...options: string[]) => spawnSync('./yurta', ['sun', ...options], { encoding: 'utf8' });
    for (const wrong of [
      ['--lat', '5'],
      ['--lat', '5', '--lon', '6', '--at', EXAMPLE.at, '--moon'],
    ]) {
      const { status, stdout, stderr } = run(...wrong);
      expect(status).toBe(2);
      expect(stdout).toBe('');
      expect(stderr).toMatch(/^yurta: [^\n]+\n$/);
    }
    expect(run('--help')).toMatchObject({ status: 0, stderr: '' });
  });
});

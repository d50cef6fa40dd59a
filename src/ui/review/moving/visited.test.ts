import { describe, expect, it } from 'vitest';
import type { CameraPose } from '@/core/view/camera';
import { Visited } from './visited';

const at = (x: number, towards: number[] = [1, 0, 0]): CameraPose => ({
  position: [x, 0, 0],
  target: [x + towards[0]!, towards[1]!, towards[2]!],
  fov: 50,
});

describe('places visited', () => {
  it('lead back and forth, and what lay ahead is forgotten once one goes elsewhere', () => {
    const visited = new Visited();
    for (const x of [0, 10, 20]) visited.arrived(at(x));
    expect([visited.step(-1)?.position[0], visited.step(-1)?.position[0], visited.step(-1)]).toEqual([10, 0, null]);
    expect(visited.step(1)?.position[0]).toBe(10);
    visited.arrived(at(10));
    expect(visited.hasForth).toBe(true);
    visited.arrived(at(50));
    expect(visited.hasForth).toBe(false);
    expect(visited.step(-1)?.position[0]).toBe(10);
  });

  it('are told apart by where one looks, not by a little step', () => {
    const visited = new Visited();
    visited.arrived(at(0));
    visited.arrived(at(0.3));
    expect(visited.hasBack).toBe(false);
    visited.arrived(at(0.3, [0, 1, 0]));
    expect(visited.hasBack).toBe(true);
  });
});

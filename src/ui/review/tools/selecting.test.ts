import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Press } from '@/stage/input/pointer-taker';
import type { ReviewSession } from '../session';
import { selecting } from './selecting';

let frames: (() => void)[];
beforeEach(() => {
  frames = [];
  vi.stubGlobal('requestAnimationFrame', (frame: () => void) => frames.push(frame));
});
const nextFrame = () => frames.splice(0).forEach((frame) => frame());

function taker(isMeeting: boolean) {
  const pick = vi.fn((x: number, y: number) => ({ point: [x, y, 0] }));
  const pointed = vi.fn();
  const session = { stage: { pick }, meeting: { isMeeting, pointed } } as unknown as ReviewSession;
  return { pick, pointed, hover: selecting(session).hover! };
}
const at = (x: number) => ({ x, y: 0 }) as Press;

describe('hovering', () => {
  it('searches for nothing outside of a meeting', () => {
    const { pick, hover } = taker(false);
    hover(at(1));
    nextFrame();
    expect([pick.mock.calls, frames]).toEqual([[], []]);
  });

  it('searches once a frame in a meeting, however fast the mouse is, and tells the others', () => {
    const { pick, pointed, hover } = taker(true);
    [1, 2, 3].forEach((x) => hover(at(x)));
    nextFrame();
    expect(pick.mock.calls).toEqual([[3, 0]]);
    expect(pointed.mock.calls).toEqual([[[3, 0, 0]]]);
    hover(at(4));
    hover(null);
    nextFrame();
    expect(pointed.mock.calls.slice(1), 'who has left points at nothing').toEqual([[null]]);
  });
});

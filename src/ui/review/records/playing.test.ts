import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { ReviewSession } from '../session';
import { AWAY, card, testReview, type TestReview } from '../test-review';
import { Playing } from './playing';

let review: TestReview;
let playing: Playing;
beforeEach(() => {
  vi.useFakeTimers();
  review = testReview();
  playing = new Playing({ store: review.store, view: review.view } as unknown as ReviewSession);
});
afterEach(() => vi.useRealTimers());

const shown = () => review.state().viewpoint;

describe('the running order, played by itself', () => {
  it('goes from card to card and ends with the last', () => {
    playing.start();
    expect(shown()).toBe('a');
    vi.advanceTimersByTime(9_900);
    expect(shown()).toBe('a');
    vi.advanceTimersByTime(200);
    expect(shown()).toBe('b');
    vi.advanceTimersByTime(30_000);
    expect([shown(), playing.store.getState().isOn]).toEqual(['c', false]);
    playing.start();
    expect(shown()).toBe('a');
  });

  it('begins anew in a lobby, without end', () => {
    playing.store.setState({ isEndless: true, seconds: 5 });
    playing.start();
    vi.advanceTimersByTime(15_100);
    expect([shown(), playing.store.getState().isOn]).toEqual(['a', true]);
  });

  it('waits where something is to be decided, and goes on with Next', () => {
    review.store.setState({ viewpoints: [card('a'), { ...card('b', AWAY), question: 'Too low?' }, card('c')] });
    playing.start();
    vi.advanceTimersByTime(60_000);
    expect(shown()).toBe('b');
    review.view.stepViewpoint(1);
    vi.advanceTimersByTime(60_000);
    expect([shown(), playing.store.getState().isOn]).toEqual(['c', false]);
  });

  it('ends where a hand takes hold of the view', () => {
    playing.start();
    review.view.moveCamera(AWAY);
    expect(playing.store.getState().isOn).toBe(false);
    vi.advanceTimersByTime(60_000);
    expect(shown()).toBeNull();
  });
});

import { beforeEach, describe, expect, it } from 'vitest';
import { SHOW_ALL } from '@/core/viewpoint';
import { AWAY, CAMERA, door, testReview, wall, type TestReview } from './test-review';

let review: TestReview;
beforeEach(() => {
  review = testReview();
});

describe('what shows', () => {
  it('is hidden, shown again, shown alone, and every step can be taken back', () => {
    const { view, state } = review;
    expect(view.canUndo).toBe(false);
    view.hide([wall]);
    view.hide([wall, door]);
    expect(state().visibility.hidden).toEqual([wall, door]); // nothing twice
    view.show([wall]);
    expect(state().visibility.hidden).toEqual([door]);
    view.showOnly([wall]);
    expect(state().visibility).toEqual({ hiddenModels: [], hidden: [], only: [wall] });
    view.show([door]);
    expect(state().visibility.only).toEqual([wall, door]);
    for (let i = 0; i < 5; i++) view.undo();
    expect(state().visibility).toEqual(SHOW_ALL);
    expect(view.canUndo).toBe(false);
    view.undo();
    expect(state().visibility).toEqual(SHOW_ALL);
  });

  it('switches a model off and on, and forgets the card it no longer agrees with', () => {
    const { view, state } = review;
    expect(state().viewpoint).toBe('a');
    view.switchModel('m1');
    view.switchModel('m2');
    expect(state().visibility.hiddenModels).toEqual(['m1', 'm2']);
    expect(state().viewpoint).toBeNull();
    view.switchModel('m1');
    expect(state().visibility.hiddenModels).toEqual(['m2']);
    view.showAll();
    expect(state().visibility).toEqual(SHOW_ALL);
  });

  it('reaches the stage together with the selection', () => {
    review.view.select([door]);
    review.view.hide([wall]);
    expect(review.stage.setState).toHaveBeenLastCalledWith({ ...SHOW_ALL, hidden: [wall] }, [door]);
  });

  it('remembers fifty steps and no more', () => {
    for (let i = 0; i < 60; i++) review.view.showOnly([{ model: 'm1', guid: String(i) }]);
    let steps = 0;
    while (review.view.canUndo) {
      review.view.undo();
      steps++;
    }
    expect(steps).toBe(50);
    expect(review.state().visibility.only).toEqual([{ model: 'm1', guid: '9' }]);
  });
});

describe('the running order', () => {
  it('is stepped through without falling off its ends', () => {
    const { view, state, stage } = review;
    view.stepViewpoint(1);
    expect(state().viewpoint).toBe('b');
    expect(stage.rig.flyTo).toHaveBeenLastCalledWith(AWAY);
    view.stepViewpoint(1);
    view.stepViewpoint(1);
    expect(state().viewpoint).toBe('c');
    view.stepViewpoint(-1);
    expect(state().viewpoint).toBe('b');
  });

  it('begins at its first or last card from a view that is none of them', () => {
    const { view, state } = review;
    view.hide([wall]);
    view.stepViewpoint(1);
    expect(state().viewpoint).toBe('a');
    view.hide([wall]);
    view.stepViewpoint(-1);
    expect(state().viewpoint).toBe('c');
  });
});

describe('the view to save', () => {
  it('is where the camera is going, not where it happens to fly', () => {
    review.view.hide([wall]);
    review.view.select([door]);
    expect(review.view.current()).toEqual({
      camera: AWAY,
      visibility: { ...SHOW_ALL, hidden: [wall] },
      selection: [door],
    });
  });

  it('jumps or flies to a view that is taken over', () => {
    review.view.apply({ camera: AWAY, visibility: SHOW_ALL, selection: [wall] }, false);
    expect(review.stage.rig.pose).toEqual(AWAY);
    review.view.apply({ camera: CAMERA, visibility: SHOW_ALL, selection: [] }, true);
    expect(review.stage.rig.flyTo).toHaveBeenCalledWith(CAMERA);
    expect(review.state().selection).toEqual([]);
  });

  it('says so when the model is closed', () => {
    review.view.stage = null;
    expect(() => review.view.current()).toThrow('Load the page again');
  });
});

import fc from 'fast-check';
import { beforeEach, describe, expect, it } from 'vitest';
import { ALL_ELEMENTS, setOf, withoutElements } from '@/core/elements/element-set';
import { anyView } from '@/core/view/test-views';
import { INITIAL_VIEW, PART_NAMES, pick, UNDONE_PARTS } from '@/core/view/view-state';
import { SHOW_ALL } from '@/core/view/visibility';
import { AWAY, CAMERA, card, door, ducts, testReview, VIEW, wall, type TestReview } from '../test-review';

let review: TestReview;
beforeEach(() => {
  review = testReview();
});
const shown = () => review.state().view.visibility.shown;

describe('what shows', () => {
  it('is hidden, shown again, shown alone, and every step can be taken back and again', () => {
    const { view, state } = review;
    expect(state().undoable).toBe(0);
    view.hide([wall]);
    view.hide([wall, door]);
    expect(shown()).toEqual(withoutElements(ALL_ELEMENTS, [wall, door]));
    view.show([wall]);
    view.showOnly([wall]);
    expect(shown()).toEqual(setOf([wall]));
    const last = state().view;
    for (let i = 0; i < 4; i++) view.undo();
    expect(state().view.visibility).toEqual(SHOW_ALL);
    expect([state().undoable, state().redoable]).toEqual([0, 4]);
    view.undo();
    expect(state().view.visibility).toEqual(SHOW_ALL);
    for (let i = 0; i < 5; i++) view.redo();
    expect(state().view).toEqual(last);
    view.undo();
    view.hide([ducts]);
    expect(state().redoable).toBe(0); // another way was taken
  });

  it('switches a model off and on, and forgets the card it no longer agrees with', () => {
    const { view, state } = review;
    expect(state().viewpoint).toBe('a');
    view.switchModel('m1');
    view.switchModel('m2');
    expect(state().view.visibility.hiddenModels).toEqual(['m1', 'm2']);
    expect(state().viewpoint).toBeNull();
    view.switchModel('m1');
    expect(state().view.visibility.hiddenModels).toEqual(['m2']);
    view.showAll();
    expect(state().view.visibility).toEqual(SHOW_ALL);
  });

  it('reaches the stage through the store, and pointing something out leaves no card', () => {
    review.view.select([door]);
    expect(review.state().viewpoint).toBe('a');
    review.view.hide([wall]);
    expect(review.stage.show).toHaveBeenLastCalledWith(
      expect.objectContaining({ visibility: { ...SHOW_ALL, shown: shown() }, selection: [door] }),
    );
  });

  it('remembers fifty steps and no more', () => {
    for (let i = 0; i < 60; i++) review.view.showOnly([[{ is: 'category', value: String(i) }]]);
    let steps = 0;
    while (review.state().undoable > 0) {
      review.view.undo();
      steps++;
    }
    expect(steps).toBe(50);
    expect(shown()).toEqual([{ also: [{ is: 'category', value: '9' }] }]);
  });

  it('is moved by a slider in one step, with everything shown on the way', () => {
    const { view, state } = review;
    view.fade(setOf([ducts]), 0.5);
    for (const clear of [0.6, 0.7, 0.8]) view.fade(setOf([ducts]), clear, true);
    expect(state().view.fades).toEqual([{ of: setOf([ducts]), clear: 0.8 }]);
    view.fade(setOf([ducts]), 0.8);
    expect(state().undoable).toBe(2);
    view.undo();
    expect(state().view.fades[0]!.clear).toBe(0.5);
    view.redo();
    expect(state().view.fades[0]!.clear).toBe(0.8);
    view.unfade(0);
    expect(state().view.fades).toEqual([]);
  });

  it('is spread, and not spread at all by nothing', () => {
    review.view.spread({ by: 'storey', amount: 0.4, from: [] });
    expect(review.state().view.spread?.amount).toBe(0.4);
    review.view.spread({ by: 'storey', amount: 0, from: [] });
    expect(review.state().view.spread).toBeNull();
  });
});

describe('undo', () => {
  it('after opening a viewpoint brings back what showed before it', () => {
    const { view, state } = review;
    view.hide([wall]);
    const before = state().view.visibility;
    view.openViewpoint(card('b', AWAY));
    expect(state().view.visibility).toEqual(SHOW_ALL);
    view.undo();
    expect(state().view.visibility).toEqual(before);
  });

  it('after opening a comment takes its whole view back in one step', () => {
    const { view, state } = review;
    view.hide([door]);
    const before = state().view;
    view.open({
      ...VIEW,
      visibility: { ...SHOW_ALL, shown: setOf([wall]) },
      fades: [{ of: setOf([ducts]), clear: 0.3 }],
    });
    view.undo();
    expect([state().view.visibility, state().view.fades]).toEqual([before.visibility, before.fades]);
    expect(state().undoable).toBe(1);
  });

  it('does not reach what the lead has shown', () => {
    const { view, state } = review;
    view.hide([wall]);
    view.follow({ visibility: SHOW_ALL }, 'fly', null);
    expect(state().undoable).toBe(0);
    view.undo();
    expect(state().view.visibility).toEqual(SHOW_ALL);
  });
});

describe('the running order', () => {
  it('is stepped through without falling off its ends', () => {
    const { view, state, stage } = review;
    view.stepViewpoint(1);
    expect(state().viewpoint).toBe('b');
    expect(stage.flyTo).toHaveBeenLastCalledWith(AWAY);
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
    review.view.flyTo([door]);
    review.view.select([door]);
    expect(review.view.current()).toEqual({
      ...INITIAL_VIEW,
      camera: AWAY,
      visibility: { ...SHOW_ALL, shown: withoutElements(ALL_ELEMENTS, [wall]) },
      selection: [door],
    });
  });

  it('follows a hand on the camera without moving the camera again', () => {
    review.stage.jumpTo.mockClear();
    review.view.moveCamera(CAMERA);
    expect(review.view.current().camera).toEqual(CAMERA);
    expect(review.stage.jumpTo).not.toHaveBeenCalled();
    expect(review.state().viewpoint).toBeNull();
  });

  it('says so when the model is closed', () => {
    review.view.stage = null;
    expect(() => review.view.current()).toThrow('Load the page again');
  });
});

describe('a viewpoint', () => {
  it('brings back every part exactly, or just the parts that it is meant to, whatever showed before', () => {
    fc.assert(
      fc.property(anyView, anyView, fc.option(fc.subarray(PART_NAMES, { minLength: 1 })), (before, saved, parts) => {
        const { view, state } = testReview();
        view.follow(before, 'jump', null);
        view.openViewpoint({ ...card('saved'), state: saved, parts });
        const wanted = { ...before, ...pick(saved, parts ?? PART_NAMES) };
        expect(state().view).toEqual(wanted);
        // One step takes it back, apart from where one looks and what is selected.
        view.undo();
        expect(pick(state().view, UNDONE_PARTS)).toEqual(pick(before, UNDONE_PARTS));
      }),
      { numRuns: 60 },
    );
  });
});

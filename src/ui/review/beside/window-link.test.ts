import { beforeEach, describe, expect, it } from 'vitest';
import { AWAY, CAMERA, testReview, wall, type TestReview } from '../test-review';
import { ViewController } from '../view/view-controller';
import { BesideWindow, FirstWindow, type Channel } from './window-link';

/** Channels of one name: what one says all others hear, as copies. */
function channels(): () => Channel {
  const all: Channel[] = [];
  return () => {
    const own: Channel = {
      onmessage: null,
      postMessage: (letter) => {
        const data: unknown = structuredClone(letter);
        for (const other of all) if (other !== own) other.onmessage?.({ data } as MessageEvent);
      },
      close: () => all.splice(all.indexOf(own), 1),
    };
    all.push(own);
    return own;
  };
}

let first: TestReview;
let beside: TestReview;
let besideView: ViewController;
let link: BesideWindow;
let open: () => Channel;
beforeEach(() => {
  open = channels();
  first = testReview();
  beside = testReview();
  link = new BesideWindow(beside.store, () => besideView);
  besideView = new ViewController(beside.store, link, 'you');
  new FirstWindow(open(), first.store, first.view);
  link.open(open());
});

describe('windows of one person', () => {
  it('show the same after either has changed it', () => {
    first.view.hide([wall]);
    expect(beside.state().view).toEqual(first.state().view);
    besideView.select([wall]);
    expect(first.state().view.selection).toEqual([wall]);
    expect(beside.state().view).toEqual(first.state().view);
  });

  it('are in step again after one was loaded anew', () => {
    first.view.hide([wall]);
    beside.store.setState({ view: { ...first.state().view, selection: [wall], camera: AWAY } });
    link.ask();
    expect(beside.state().view).toEqual(first.state().view);
  });

  it('find each other again after the first one was loaded anew', () => {
    first = testReview();
    first.view.hide([wall]);
    new FirstWindow(open(), first.store, first.view);
    expect(beside.state().view).toEqual(first.state().view);
  });

  it('open viewpoints in the first one', () => {
    besideView.openViewpoint(beside.state().viewpoints[1]!);
    expect([first.state().viewpoint, beside.state().viewpoint]).toEqual(['b', 'b']);
  });

  it('may look from elsewhere: then only the rest is shared', () => {
    link.hasOwnCamera = true;
    first.view.change({ camera: AWAY, selection: [wall] });
    expect(beside.state().view.selection).toEqual([wall]);
    expect(beside.state().view.camera).toEqual(CAMERA);
    besideView.moveCamera({ ...CAMERA, fov: 33 });
    besideView.cameraRested({ ...CAMERA, fov: 33 });
    expect(first.state().view.camera).toEqual(AWAY);
  });
});

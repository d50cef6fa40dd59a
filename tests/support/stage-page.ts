import { Vector3 } from 'three';
import { Stage } from '@/stage/stage';
import './stage-page-types';

window.Vector3 = Vector3;

/** In pieces, because a function takes only so many arguments. */
function base64(bytes: Uint8ClampedArray): string {
  let text = '';
  for (let at = 0; at < bytes.length; at += 0x8000) text += String.fromCharCode(...bytes.subarray(at, at + 0x8000));
  return btoa(text);
}

let isLoading = true;
let frames = 0;

window.openStage = async (sources) => {
  window.stage = new Stage(document.getElementById('stage')!, {
    onLoading: (now) => (isLoading = now),
    onFrame: () => frames++,
  });
  await window.stage.setModels(sources);
};

window.pixels = async () => {
  // Lines and search trees arrive after the tiles; shadows are fitted to the view once it has rested for a quarter of a second.
  for (let calm = 0, seen = frames; calm < 18; seen = frames) {
    await new Promise((done) => requestAnimationFrame(done));
    await new Promise((done) => setTimeout(done, 5));
    calm = isLoading || frames !== seen ? 0 : calm + 1;
  }
  const { clientWidth: width } = document.getElementById('stage')!;
  const canvas = window.stage.snapshot(width);
  const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
  return { width: canvas.width, height: canvas.height, data: base64(data) };
};

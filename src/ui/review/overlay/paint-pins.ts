import { isOpen, type Comment } from '@/core/project/comment';
import type { Stage } from '@/stage/stage';

/** Pixels on the screen: a pin's size, three of its corners and the one at its place. */
const SIZE = 32;
const ROUND = 16;
const TIP = 3;
const BORDER = 2;
const COVERED = 0.3;

/** More pins would hide the model; older ones are found in Talk. */
const MOST = 200;

/** Comments that have a pin in the picture: the newest of those that are open and have a place. */
export function pinned(comments: readonly Comment[]): (Comment & { anchor: NonNullable<Comment['anchor']> })[] {
  return comments
    .flatMap((comment) => {
      const { anchor, replyTo, status } = comment;
      return anchor && !replyTo && isOpen({ status }) ? [{ ...comment, anchor }] : [];
    })
    .slice(-MOST);
}

/** Paints the pins of open comments into a picture of what the stage shows, as they stand on the screen. */
export function paintPins(
  picture: OffscreenCanvas,
  stage: Pick<Stage, 'project' | 'isCovered' | 'isCutAway' | 'snapshotScale'>,
  comments: readonly Comment[],
): void {
  const context = picture.getContext('2d')!;
  const scale = stage.snapshotScale(picture.width);
  const style = getComputedStyle(document.documentElement);
  const colour = (name: string) => style.getPropertyValue(`--chakra-colors-${name}`).trim();
  for (const { anchor, guest, number } of pinned(comments)) {
    const { point, element } = anchor;
    const at = stage.isCutAway(point, element) ? null : stage.project(point, element);
    if (!at) continue;
    context.save();
    context.scale(scale, scale);
    context.translate(at.x, at.y - SIZE);
    context.globalAlpha = stage.isCovered(point, element) ? COVERED : 1;
    context.beginPath();
    context.roundRect(BORDER / 2, BORDER / 2, SIZE - BORDER, SIZE - BORDER, [ROUND, ROUND, ROUND, TIP]);
    context.fillStyle = colour(guest ? 'indigo' : 'ink');
    context.fill();
    context.lineWidth = BORDER;
    context.strokeStyle = colour('card');
    context.stroke();
    context.fillStyle = colour('on-strong');
    context.font = `bold 14px ${style.getPropertyValue('--chakra-fonts-body')}`;
    context.textAlign = 'center';
    context.textBaseline = 'middle';
    context.fillText(String(number), SIZE / 2, SIZE / 2 + 1);
    context.restore();
  }
}

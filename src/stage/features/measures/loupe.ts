import type { Place } from '@/core/measure/layout';
import type { Aim } from './measures';
import { paintAim } from './paint';

/** CSS pixels: its radius, and how far its middle stands above the finger. */
const RADIUS = 58;
const ABOVE = 104;
const TIMES = 2.4;
const INK = '#26231F';

/** Shows what a finger covers in a circle above it, larger; below it where there is no room above. */
export function paintLoupe(
  context: CanvasRenderingContext2D,
  drawn: HTMLCanvasElement,
  at: Place,
  { kind, word }: Aim,
  size: { width: number; height: number },
  text: number,
): void {
  const y = at.y - ABOVE - RADIUS < 0 ? at.y + ABOVE : at.y - ABOVE;
  const middle = { x: Math.min(size.width - RADIUS, Math.max(RADIUS, at.x)), y };
  const perPixel = drawn.width / size.width;
  const part = (RADIUS / TIMES) * perPixel;
  context.save();
  context.beginPath();
  context.arc(middle.x, middle.y, RADIUS, 0, 2 * Math.PI);
  context.fillStyle = '#F1EBE0';
  context.fill();
  context.clip();
  const [sx, sy] = [at.x * perPixel - part, at.y * perPixel - part];
  context.drawImage(drawn, sx, sy, 2 * part, 2 * part, middle.x - RADIUS, middle.y - RADIUS, 2 * RADIUS, 2 * RADIUS);
  context.restore();
  context.beginPath();
  context.arc(middle.x, middle.y, RADIUS, 0, 2 * Math.PI);
  context.lineWidth = 2;
  context.strokeStyle = INK;
  context.stroke();
  paintAim(context, middle, kind, '', text);
  context.font = `600 ${text}px system-ui, sans-serif`;
  context.textAlign = 'center';
  context.lineWidth = text * 0.35;
  context.strokeStyle = '#FCFAF5';
  const below = middle.y + RADIUS - text * 1.2;
  context.strokeText(word, middle.x, below);
  context.fillStyle = INK;
  context.fillText(word, middle.x, below);
}

/** A kind of device that people look at a model with, and what it can carry. */
export interface Device {
  name: 'phone' | 'laptop' | 'headset';
  /** Pixels of a view from top to bottom. */
  height: number;
  /** Width of a view by its height. */
  aspect: number;
  /** Vertical field of view in degrees. */
  fov: number;
  /** How often a frame is drawn: once for each eye. */
  views: number;
  /** Triangles that it draws at its full frame rate, over all views. */
  triangles: number;
  drawCalls: number;
  /** Bytes in graphics memory. */
  memory: number;
}

/** Careful figures for devices some years old: what must work, not what the best of them can do. */
export const DEVICES: readonly Device[] = [
  { name: 'phone', height: 1500, aspect: 0.5, fov: 60, views: 1, triangles: 1_000_000, drawCalls: 300, memory: 300e6 },
  { name: 'laptop', height: 900, aspect: 1.6, fov: 50, views: 1, triangles: 3_000_000, drawCalls: 1000, memory: 1e9 },
  { name: 'headset', height: 1800, aspect: 0.95, fov: 96, views: 2, triangles: 750_000, drawCalls: 250, memory: 250e6 },
];

/** Pixels by which a shown surface may be off, where the device can carry it. */
export const FINEST_PIXEL_ERROR = 1.5;
/** Beyond this, shapes are no longer to be recognised. */
export const COARSEST_PIXEL_ERROR = 48;

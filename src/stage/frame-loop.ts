/** What a frame finds to do. */
export interface FrameWork {
  /** Moves what moves; returns whether something still does. */
  step(now: number): boolean;
  /** Asks for what the picture needs; returns whether some is on its way. */
  update(): boolean;
  draw(): void;
  /** Nothing moves any more; returns whether something waited for that and shows otherwise now. */
  rested(): boolean;
  /** Whether fewer pixels are drawn, because something moves and the device is slow. */
  setCoarse(coarse: boolean): void;
}

/** A device that needs longer than this between frames gets fewer pixels while something moves. */
const SLOW_FRAME_MS = 45;
const REST_MS = 260;
/** While tiles arrive and nobody moves, the picture is drawn this often at most: what draws cannot load. */
const ARRIVAL_MS = 400;

/** Draws on demand: a picture that is right is not drawn again. */
export class FrameLoop {
  private frame = 0;
  private isStopped = false;
  /** Whether the picture is no longer what it should be, and whether that cannot wait until tiles have arrived. */
  private isStale = false;
  private isUrgent = false;
  private isCoarse = false;
  private isInMotion = false;
  /** When the last frame of a movement was, 0 while nothing moves. */
  private lastFrame = 0;
  private lastDraw = 0;
  private restTimer: ReturnType<typeof setTimeout> | undefined;

  constructor(private readonly work: FrameWork) {}

  /** The picture is to be drawn in the next frame. */
  redraw(): void {
    this.isStale = true;
    this.isUrgent = true;
    this.request();
  }

  /** Something has come in. @param shows whether the picture is another one now; it is drawn when there is time */
  arrived(shows: boolean): void {
    if (shows) this.isStale = true;
    this.request();
  }

  /** The camera moves: once it has not for a moment, the picture is drawn again in full. */
  moving(): void {
    clearTimeout(this.restTimer);
    this.isInMotion = true;
    this.restTimer = setTimeout(() => this.rest(), REST_MS);
    this.redraw();
  }

  /** Whether something has moved a moment ago. */
  get isMoving(): boolean {
    return this.isInMotion;
  }

  /** Draws now and in full. */
  drawNow(): void {
    if (this.isCoarse) this.work.setCoarse(false);
    this.isCoarse = false;
    this.work.update();
    this.draw();
  }

  stop(): void {
    this.isStopped = true;
    cancelAnimationFrame(this.frame);
    clearTimeout(this.restTimer);
  }

  private request(): void {
    if (this.frame || this.isStopped) return;
    this.frame = requestAnimationFrame((now) => this.run(now));
  }

  private run(now: number): void {
    this.frame = 0;
    const moves = this.work.step(now);
    if (moves || this.lastFrame > 0) this.adapt(now);
    const loading = this.work.update();
    if (this.isStale && (this.isUrgent || !loading || now - this.lastDraw >= ARRIVAL_MS)) this.draw();
    if (moves || loading || this.isStale) this.request();
  }

  private draw(): void {
    this.isStale = this.isUrgent = false;
    this.lastDraw = performance.now();
    this.work.draw();
  }

  private rest(): void {
    this.isInMotion = false;
    this.lastFrame = 0;
    const isOther = this.work.rested();
    if (this.isCoarse) this.work.setCoarse(false);
    if (this.isCoarse || isOther) this.redraw();
    this.isCoarse = false;
  }

  private adapt(now: number): void {
    const isSlow = this.lastFrame > 0 && now - this.lastFrame > SLOW_FRAME_MS;
    this.lastFrame = now;
    if (!isSlow || this.isCoarse) return;
    this.isCoarse = true;
    this.work.setCoarse(true);
    this.moving();
  }
}

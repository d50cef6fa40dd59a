import type { Scene, WebGLRenderer } from 'three';
import { COARSEST_PIXEL_ERROR, FINEST_PIXEL_ERROR, type Device } from '@/core/detail/device';
import type { ElementRef } from '@/core/elements/element-ref';
import { emptyBox, expandByBox, isEmptyBox, type Box3 } from '@/core/math/box3';
import { placePoint } from '@/core/placement/placement';
import type { StageModelSource } from '@/core/project/models';
import type { CameraRig } from '../camera/camera-rig';
import { device, deviceByPointer, isHeadset } from '../device';
import type { CutUniforms } from '../materials/cut-uniforms';
import type { LookUniforms } from '../materials/look-uniforms';
import { StageModel, type Arrival } from '../model/stage-model';
import type { WorkerPool } from '../workers/worker-pool';
import type { Feature } from './feature';
import type { Light } from './light';

/** By how much the allowed error changes at once. */
const DETAIL_STEP = 1.25;

export interface ModelsEvents {
  onArrival(what: Arrival): void;
  /** A model is there, or its place has changed. */
  onModels(): void;
}

/** The published revisions that show, each with as much detail as the device can draw. */
export class Models implements Feature {
  private device: Device = deviceByPointer();
  private pixelError = FINEST_PIXEL_ERROR;
  private models: StageModel[] = [];
  private wanted: StageModelSource[] = [];
  private readonly arriving = new Map<string, Promise<void>>();
  private isDisposed = false;

  constructor(
    private readonly scene: Scene,
    private readonly renderer: WebGLRenderer,
    private readonly rig: CameraRig,
    private readonly light: Light,
    private readonly pool: WorkerPool,
    private readonly cuts: CutUniforms,
    private readonly look: LookUniforms,
    private readonly events: ModelsEvents,
  ) {
    void isHeadset().then((headset) => {
      if (headset) this.device = device('headset');
    });
  }

  get loaded(): readonly StageModel[] {
    return this.models;
  }

  get deviceName(): Device['name'] {
    return this.device.name;
  }

  get areArriving(): boolean {
    return this.arriving.size > 0;
  }

  /**
   * Loads models, the stage's zero chosen from the first; keeps those that are loaded or on their way already. When called
   * again before all have arrived, the last call says what shows. One that cannot be had does not keep the others away.
   *
   * @throws Error with the first reason, once all others are there
   */
  async set(sources: StageModelSource[]): Promise<void> {
    if (this.models.length === 0 && this.arriving.size === 0 && sources[0])
      this.rig.frame.origin = placePoint(sources[0].placement, sources[0].offset);
    this.wanted = sources;
    for (const model of this.models.filter(({ source }) => !this.wants(source))) {
      model.dispose();
      this.models = this.models.filter((other) => other !== model);
    }
    const outcomes = await Promise.allSettled(
      sources
        .filter(({ revisionId }) => !this.models.some(({ source }) => source.revisionId === revisionId))
        .map((source) => this.arrival(source)),
    );
    for (const { revisionId, placement } of this.wanted)
      this.models.find(({ source }) => source.revisionId === revisionId)?.place(placement);
    this.events.onModels();
    const failed = outcomes.find((outcome) => outcome.status === 'rejected');
    if (failed) throw failed.reason;
  }

  find(modelId: string): StageModel | undefined {
    return this.models.find(({ source }) => source.modelId === modelId);
  }

  /** Extent of all models in project coordinates. */
  get extent(): Box3 {
    const whole = emptyBox();
    for (const model of this.models) expandByBox(whole, model.extent);
    return whole;
  }

  /** Extent of the models without some elements, such as strays, in project coordinates. */
  extentWithout(except: readonly ElementRef[]): Box3 {
    if (except.length === 0) return this.extent;
    const box = emptyBox();
    for (const model of this.models) {
      const gone = new Set(except.filter((ref) => ref.model === model.source.modelId).map((ref) => ref.guid));
      model.index.guid.forEach((guid, row) => {
        const own = gone.has(guid) ? null : model.elementBox(row);
        if (own && !isEmptyBox(own)) expandByBox(box, own);
      });
    }
    return box;
  }

  /** Asks for the tiles that the view needs. */
  update(): boolean {
    let isLoading = false;
    for (const model of this.models)
      isLoading =
        (!model.isAway && model.update(this.rig.camera, this.light.shadowCamera, this.renderer, this.pixelError)) ||
        isLoading;
    return isLoading || this.fitTriangles();
  }

  dispose(): void {
    this.isDisposed = true;
    for (const model of this.models) model.dispose();
  }

  private wants({ revisionId }: StageModelSource): boolean {
    return !this.isDisposed && this.wanted.some((source) => source.revisionId === revisionId);
  }

  /** Loads a model once, however often it is asked for meanwhile. */
  private arrival(source: StageModelSource): Promise<void> {
    const underWay = this.arriving.get(source.revisionId);
    if (underWay) return underWay;
    const arrival = StageModel.load(source, this.rig.frame.origin, this.pool, this.cuts, this.look, (what) =>
      this.events.onArrival(what),
    )
      .then((model) => {
        if (!this.wants(source)) return model.dispose();
        model.restyle();
        this.models.push(model);
        this.scene.add(model.group);
        this.events.onModels();
      })
      .finally(() => this.arriving.delete(source.revisionId));
    this.arriving.set(source.revisionId, arrival);
    return arrival;
  }

  /**
   * Keeps to what the device can draw: coarsens what is asked for while there are too many triangles, refines again once
   * there is much room. Returns whether anything changed.
   */
  private fitTriangles(): boolean {
    const drawn = this.models.reduce((sum, model) => sum + (model.isAway ? 0 : model.triangles), 0);
    const before = this.pixelError;
    if (drawn > this.device.triangles) this.pixelError = Math.min(COARSEST_PIXEL_ERROR, before * DETAIL_STEP);
    else if (drawn < this.device.triangles / 3) this.pixelError = Math.max(FINEST_PIXEL_ERROR, before / DETAIL_STEP);
    return this.pixelError !== before;
  }
}

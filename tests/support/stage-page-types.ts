import type { Vector3 } from 'three';
import type { StageModelSource } from '@/core/project/models';
import type { Stage } from '@/stage/stage';

/** Four numbers a pixel, line by line. */
export interface Pixels {
  width: number;
  height: number;
  /** As base64: long lists of numbers take seconds to leave the page. */
  data: string;
}

declare global {
  interface Window {
    stage: Stage;
    Vector3: typeof Vector3;
    openStage(sources: StageModelSource[]): Promise<void>;
    /** Waits until nothing is on its way any more and the picture is drawn, then reads it. */
    pixels(): Promise<Pixels>;
  }
}

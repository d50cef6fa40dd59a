/** As much of the library as is used here; it comes without types of its own. */
declare module 'n8ao' {
  import type { Camera, Color, Scene, WebGLRenderer, WebGLRenderTarget } from 'three';

  export class N8AOPass {
    constructor(scene: Scene, camera: Camera, width: number, height: number);
    camera: Camera;
    renderToScreen: boolean;
    configuration: {
      aoSamples: number;
      aoRadius: number;
      denoiseSamples: number;
      denoiseRadius: number;
      distanceFalloff: number;
      intensity: number;
      color: Color;
      gammaCorrection: boolean;
      transparencyAware: boolean;
      halfRes: boolean;
    };
    setDisplayMode(mode: 'Combined' | 'AO'): void;
    setSize(width: number, height: number): void;
    render(renderer: WebGLRenderer, into: WebGLRenderTarget, from: WebGLRenderTarget | null): void;
    dispose(): void;
  }
}

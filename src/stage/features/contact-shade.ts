import type { N8AOPass } from 'n8ao';
import {
  CustomBlending,
  DstColorFactor,
  Mesh,
  OrthographicCamera,
  PlaneGeometry,
  Scene,
  ShaderMaterial,
  Vector2,
  WebGLRenderTarget,
  ZeroFactor,
  type Camera,
  type WebGLRenderer,
} from 'three';
import type { Feature } from './feature';

/** Metres within which one thing shades another: what an arm reaches, as in a room. */
const RADIUS = 1.4;
const INTENSITY = 2.4;
const SAMPLES = 16;

/**
 * Shade in corners and under things, laid over a picture that rests. It is worked out from depth alone, so that it knows of
 * hidden and cut elements what the picture knows. Its code comes once it is first wanted.
 */
export class ContactShade implements Feature {
  private pass: N8AOPass | null = null;
  private isLoading = false;
  private target: WebGLRenderTarget | null = null;
  private readonly over = new Scene();
  private readonly flat = new OrthographicCamera(-1, 1, 1, -1, 0, 1);
  private readonly material = new ShaderMaterial({
    uniforms: { shade: { value: null } },
    vertexShader: 'varying vec2 at; void main() { at = uv; gl_Position = vec4(position.xy, 0.0, 1.0); }',
    // Shade is warm here, as on card.
    fragmentShader: /* glsl */ `
uniform sampler2D shade;
varying vec2 at;
void main() { gl_FragColor = vec4(mix(vec3(0.36, 0.31, 0.27), vec3(1.0), texture2D(shade, at).r), 1.0); }`,
    blending: CustomBlending,
    blendSrc: DstColorFactor,
    blendDst: ZeroFactor,
    depthTest: false,
    depthWrite: false,
    toneMapped: false,
  });

  /** @param onReady called once it can be drawn */
  constructor(
    private readonly scene: Scene,
    private readonly onReady: () => void,
  ) {
    const quad = new Mesh(new PlaneGeometry(2, 2), this.material);
    quad.frustumCulled = false;
    this.over.add(quad);
  }

  /** Lays the shade over what has just been drawn. */
  draw(renderer: WebGLRenderer, camera: Camera): void {
    const { pass } = this;
    if (!pass) return void this.load(camera);
    const size = renderer.getDrawingBufferSize(new Vector2());
    if (this.target?.width !== size.x || this.target.height !== size.y) {
      this.target?.dispose();
      this.target = new WebGLRenderTarget(size.x, size.y);
      pass.setSize(size.x, size.y);
    }
    pass.camera = camera;
    const needsShadows = renderer.shadowMap.needsUpdate;
    renderer.shadowMap.needsUpdate = false;
    pass.render(renderer, this.target, null);
    renderer.shadowMap.needsUpdate = needsShadows;
    this.material.uniforms.shade!.value = this.target.texture;
    renderer.setRenderTarget(null);
    renderer.autoClear = false;
    renderer.render(this.over, this.flat);
    renderer.autoClear = true;
  }

  dispose(): void {
    this.pass?.dispose();
    this.target?.dispose();
    this.material.dispose();
  }

  private async load(camera: Camera): Promise<void> {
    if (this.isLoading) return;
    this.isLoading = true;
    const { N8AOPass } = await import('n8ao');
    const pass = new N8AOPass(this.scene, camera, 1, 1);
    Object.assign(pass.configuration, {
      aoRadius: RADIUS,
      distanceFalloff: 0.7,
      intensity: INTENSITY,
      aoSamples: SAMPLES,
      denoiseSamples: 8,
      denoiseRadius: 8,
      gammaCorrection: false,
      transparencyAware: false,
    });
    pass.setDisplayMode('AO');
    pass.renderToScreen = false;
    this.pass = pass;
    this.onReady();
  }
}

import type { IUniform, Material } from 'three';

/** A named edit of a built-in shader: what it adds, and where. */
export interface ShaderChunk {
  /** Tells programs apart: two chunks of one name have the same text. */
  name: string;
  uniforms?: Record<string, IUniform>;
  /** Declarations. */
  vertexHead?: string;
  /** Before anything is computed for the vertex. */
  begin?: string;
  /** Once `mvPosition` and `gl_Position` are there. */
  projected?: string;
  /** Where a shader has a `worldPosition`, once it is there. */
  world?: string;
  vertexEnd?: string;
  fragmentHead?: string;
  /** Before anything is computed for the pixel. */
  fragmentBegin?: string;
  /** Once `diffuseColor` is there. */
  color?: string;
  /** Once `outgoingLight` is there, before it is written. */
  out?: string;
}

/** Edits a material's built-in shader. Materials of the same kind and chunks share one program. */
export function composeShader(material: Material, chunks: readonly ShaderChunk[]): void {
  const text = (part: Exclude<keyof ShaderChunk, 'name' | 'uniforms'>) =>
    chunks.map((chunk) => chunk[part] ?? '').join('\n');
  material.customProgramCacheKey = () => chunks.map(({ name }) => name).join('+');
  material.onBeforeCompile = (shader) => {
    for (const { uniforms } of chunks) Object.assign(shader.uniforms, uniforms);
    shader.vertexShader = shader.vertexShader
      .replace('void main() {', `${text('vertexHead')}\nvoid main() {\n${text('begin')}`)
      .replace('#include <project_vertex>', `#include <project_vertex>\n${text('projected')}`)
      .replace('#include <worldpos_vertex>', `#include <worldpos_vertex>\n${text('world')}`)
      .replace(/}\s*$/, `${text('vertexEnd')}\n}`);
    shader.fragmentShader = shader.fragmentShader
      .replace('void main() {', `${text('fragmentHead')}\nvoid main() {\n${text('fragmentBegin')}`)
      .replace('#include <color_fragment>', `#include <color_fragment>\n${text('color')}`)
      .replace('#include <opaque_fragment>', `${text('out')}\n#include <opaque_fragment>`);
  };
}

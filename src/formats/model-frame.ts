import { LENGTH_UNITS, unitName, type ModelFrame } from '@/core/units/length-unit';
import { proposeFrame } from '@/core/units/propose-frame';
import { multiply, transformPoint, Y_UP_TO_Z_UP } from '@/core/math/mat4';
import type { BuildingModel } from './building-model';
import { rawShape } from './raw-shape';

/**
 * Turns a model from its file's numbers into metres and Z up. What the file says counts; what it does not say is
 * proposed from the shape; what the user chose goes before both.
 *
 * @param said what the file itself says
 * @param usualUp what the format mostly means where nothing tells
 * @param chosen by the user, for this model
 */
export function agreeFrame(
  model: BuildingModel,
  said: Partial<ModelFrame>,
  usualUp: 'Y' | 'Z',
  chosen: Partial<ModelFrame>,
): void {
  const known = { ...said, ...chosen };
  const complete = known.metresPerUnit !== undefined && known.up !== undefined;
  const proposed = complete ? null : proposeFrame(rawShape(model), usualUp);
  const frame: ModelFrame = {
    metresPerUnit: known.metresPerUnit ?? proposed?.metresPerUnit ?? LENGTH_UNITS.m.metres,
    up: known.up ?? proposed?.up ?? usualUp,
  };
  model.frame = {
    ...frame,
    from: Object.keys(chosen).length > 0 ? 'chosen' : proposed ? 'proposed' : 'file',
    reason: proposed?.reason ?? `The file is in ${unitName(frame.metresPerUnit)} with ${frame.up} up.`,
  };
  const s = frame.metresPerUnit;
  const scale = [s, 0, 0, 0, 0, s, 0, 0, 0, 0, s, 0, 0, 0, 0, 1];
  const toModel = frame.up === 'Y' ? multiply(Y_UP_TO_Z_UP, scale) : scale;
  for (const placement of model.placements) placement.matrix = Float64Array.from(multiply(toModel, placement.matrix));
  for (const camera of model.cameras) {
    camera.position = transformPoint(toModel, ...camera.position);
    camera.target = transformPoint(toModel, ...camera.target);
  }
}

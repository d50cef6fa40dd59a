import Joi from 'joi';
import type { CameraPose } from './camera';

const coordinate = Joi.number().min(-1e8).max(1e8);

/** A point in project coordinates, metres. */
export const vec3Schema = Joi.array().items(coordinate).length(3).required();

export const cameraSchema = Joi.object<CameraPose>({
  position: vec3Schema,
  target: vec3Schema,
  fov: Joi.number().min(5).max(120).required(),
  parallel: Joi.valid(true),
});

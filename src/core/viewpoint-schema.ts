import Joi from 'joi';
import { optionChoiceSchema } from './options/option-set-schema';

const MAX_REFS = 50_000;
const coordinate = Joi.number().min(-1e8).max(1e8);
export const vec3Schema = Joi.array().items(coordinate).length(3).required();
export const cameraSchema = Joi.object({
  position: vec3Schema,
  target: vec3Schema,
  fov: Joi.number().min(5).max(120).required(),
});
export const elementRefSchema = Joi.object({
  model: Joi.string().uuid().required(),
  guid: Joi.string().min(1).max(64).required(),
});
const refs = Joi.array().items(elementRefSchema).max(MAX_REFS);
export const visibilitySchema = Joi.object({
  hiddenModels: Joi.array().items(Joi.string().uuid()).max(500).required(),
  hidden: refs.required(),
  only: refs.allow(null).required(),
  options: optionChoiceSchema,
});
export const viewStateSchema = Joi.object({
  camera: cameraSchema.required(),
  visibility: visibilitySchema.required(),
  selection: refs.required(),
});

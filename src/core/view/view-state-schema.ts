import Joi from 'joi';
import { wheresSchema } from '../elements/element-set-schema';
import { optionChoiceSchema } from '../options/option-set-schema';
import { cameraSchema } from './camera-schema';
import { colouringSchema } from './colouring-schema';
import { cutsSchema } from './cuts-schema';
import { fadesSchema } from './fades-schema';
import { lightSchema } from './light-schema';
import { marksSchema } from './marks-schema';
import { measuresSchema } from './measures-schema';
import { spreadSchema } from './spread-schema';
import { styleSchema } from './style-schema';
import type { ViewChange, ViewPartName, ViewState } from './view-state';
import { visibilitySchema } from './visibility-schema';

const parts: Record<ViewPartName, Joi.Schema> = {
  camera: cameraSchema,
  visibility: visibilitySchema,
  options: optionChoiceSchema,
  fades: fadesSchema,
  colouring: colouringSchema,
  spread: spreadSchema,
  cuts: cutsSchema,
  measures: measuresSchema,
  marks: marksSchema,
  light: lightSchema,
  style: styleSchema,
  selection: wheresSchema,
};

/** Some parts of the view, at least one. */
export const viewChangeSchema = Joi.object<ViewChange>(parts).min(1);

/** A whole view. What is not sent is as it was at first, except the camera, without which there is no view. */
export const viewStateSchema = Joi.object<ViewState>({ ...parts, camera: cameraSchema.required() });

import Joi from 'joi';
import type { JsonViewpoint } from './json-viewpoint';

const pointSchema = Joi.object({
  x: Joi.number().required(),
  y: Joi.number().required(),
  z: Joi.number().required(),
}).unknown();
const componentsSchema = Joi.array().items(Joi.object({ ifc_guid: Joi.string().allow('', null).max(100), authoring_tool_id: Joi.string().allow('', null).max(100) }).unknown()).max(50_000); // prettier-ignore
const camera = {
  camera_view_point: pointSchema.required(),
  camera_direction: pointSchema.required(),
  camera_up_vector: pointSchema.required(),
  aspect_ratio: Joi.number(),
};

/** What programs may send as a viewpoint. */
export const jsonViewpointSchema = Joi.object<JsonViewpoint>({
  guid: Joi.string().max(100),
  index: Joi.number().integer().allow(null),
  perspective_camera: Joi.object({ ...camera, field_of_view: Joi.number().required() }).unknown(),
  orthogonal_camera: Joi.object({ ...camera, view_to_world_scale: Joi.number().required() }).unknown(),
  lines: Joi.array()
    .items(Joi.object({ start_point: pointSchema.required(), end_point: pointSchema.required() }).unknown())
    .max(2000),
  clipping_planes: Joi.array()
    .items(Joi.object({ location: pointSchema.required(), direction: pointSchema.required() }).unknown())
    .max(100),
  components: Joi.object({
    selection: componentsSchema,
    visibility: Joi.object({ default_visibility: Joi.boolean(), exceptions: componentsSchema }).unknown(),
    coloring: Joi.array()
      .items(Joi.object({ color: Joi.string().max(20).required(), components: componentsSchema.required() }).unknown())
      .max(1000),
  }).unknown(),
  snapshot: Joi.object({
    snapshot_type: Joi.valid('jpg', 'png').required(),
    snapshot_data: Joi.string().base64().max(8_000_000),
  }).unknown(),
})
  .nand('perspective_camera', 'orthogonal_camera')
  .unknown();

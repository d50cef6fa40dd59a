import Joi from 'joi';
import { cutFaces, MOST_PLANES } from '../cut/cuts';
import type { Vec3 } from '../math/mat4';
import { INITIAL_VIEW, readView, type ViewState } from '../view/view-state';
import { cameraFrom, cutFrom, linesAsMarks, shownBy, selectedBy } from './view-from-bcf';
import { ASPECT, cameraVectors, exceptionsOf, guidsOf, linesOf, nearTarget } from './view-to-bcf';

interface JsonPoint {
  x: number;
  y: number;
  z: number;
}

interface JsonCamera {
  camera_view_point: JsonPoint;
  camera_direction: JsonPoint;
  camera_up_vector: JsonPoint;
  aspect_ratio?: number;
}

/** A viewpoint as the BCF-API 3.0 writes it. Metres, Z up. */
export interface JsonViewpoint {
  guid?: string;
  index?: number;
  perspective_camera?: JsonCamera & { field_of_view: number };
  orthogonal_camera?: JsonCamera & { view_to_world_scale: number };
  lines?: { start_point: JsonPoint; end_point: JsonPoint }[];
  clipping_planes?: { location: JsonPoint; direction: JsonPoint }[];
  components?: {
    selection?: { ifc_guid?: string }[];
    visibility?: { default_visibility?: boolean; exceptions?: { ifc_guid?: string }[] };
  };
  snapshot?: { snapshot_type: 'jpg' | 'png'; snapshot_data?: string };
}

const point = ([x, y, z]: Vec3): JsonPoint => ({ x, y, z });
const vector = ({ x, y, z }: JsonPoint): Vec3 => [x, y, z];
const named = (guids: readonly string[]) => guids.map((guid) => ({ ifc_guid: guid }));
const guidsIn = (list: readonly { ifc_guid?: string }[] | undefined) =>
  (list ?? []).flatMap((one) => one.ifc_guid ?? []);

/** A view for programs. */
export function jsonViewpoint(guid: string, view: ViewState, hasPicture: boolean): JsonViewpoint {
  const { position, direction, up, fov, height } = cameraVectors(view.camera);
  const camera: JsonCamera = {
    camera_view_point: point(position),
    camera_direction: point(direction),
    camera_up_vector: point(up),
    aspect_ratio: ASPECT,
  };
  const { isShownByDefault, exceptions } = exceptionsOf(view.visibility.shown);
  return {
    guid,
    index: 0,
    ...(height === null
      ? { perspective_camera: { ...camera, field_of_view: fov } }
      : { orthogonal_camera: { ...camera, view_to_world_scale: height } }),
    lines: linesOf(view).map(([from, to]) => ({ start_point: point(from), end_point: point(to) })),
    clipping_planes: cutFaces(view.cuts).map(({ plane }) => ({
      location: point(nearTarget(view.camera, plane)),
      direction: point(plane.normal),
    })),
    components: {
      selection: named(guidsOf(view.selection)),
      visibility: { default_visibility: isShownByDefault, exceptions: named(exceptions) },
    },
    ...(hasPicture && { snapshot: { snapshot_type: 'jpg' } }),
  };
}

/** A program's viewpoint as a view. @param by name of who drew its lines */
export function readJsonView(json: JsonViewpoint, by: string): ViewState {
  const { perspective_camera: perspective, orthogonal_camera: parallel, components } = json;
  const camera = perspective ?? parallel;
  const visibility = components?.visibility;
  return readView({
    ...INITIAL_VIEW,
    ...(camera && {
      camera: cameraFrom(
        vector(camera.camera_view_point),
        vector(camera.camera_direction),
        perspective ? { fov: perspective.field_of_view } : { height: parallel!.view_to_world_scale },
      ),
    }),
    selection: selectedBy(guidsIn(components?.selection)),
    visibility: { shown: shownBy(guidsIn(visibility?.exceptions), visibility?.default_visibility !== false), hiddenModels: [] }, // prettier-ignore
    cuts: {
      planes: (json.clipping_planes ?? [])
        .slice(0, MOST_PLANES)
        .flatMap(({ location, direction }, i) => cutFrom(vector(location), vector(direction), i + 1)),
      box: null,
      whole: [],
    },
    marks: linesAsMarks(
      (json.lines ?? []).map((line) => [vector(line.start_point), vector(line.end_point)]),
      by,
    ),
  });
}

const pointSchema = Joi.object({
  x: Joi.number().required(),
  y: Joi.number().required(),
  z: Joi.number().required(),
}).unknown();
const componentsSchema = Joi.array().items(Joi.object({ ifc_guid: Joi.string().allow('', null).max(100) }).unknown()).max(50_000); // prettier-ignore
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
  }).unknown(),
  snapshot: Joi.object({
    snapshot_type: Joi.valid('jpg', 'png').required(),
    snapshot_data: Joi.string().base64().max(8_000_000),
  }).unknown(),
})
  .nand('perspective_camera', 'orthogonal_camera')
  .unknown();

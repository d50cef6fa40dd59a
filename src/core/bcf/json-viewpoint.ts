import { cutFaces, MOST_PLANES } from '../cut/cuts';
import type { Vec3 } from '../math/mat4';
import { MOST_COLOURED } from '../view/colouring';
import { INITIAL_VIEW, readView, type ViewState } from '../view/view-state';
import { IFC_GUID } from './bcf-topic';
import { cameraFrom, colouredBy, cutFrom, linesAsMarks, shownBy, selectedBy } from './view-from-bcf';
import { ASPECT, cameraVectors, coloursOf, exceptionsOf, guidsOf, linesOf, nearTarget } from './view-to-bcf';

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

interface JsonComponent {
  ifc_guid?: string | null;
  authoring_tool_id?: string | null;
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
    selection?: JsonComponent[];
    visibility?: { default_visibility?: boolean; exceptions?: JsonComponent[] };
    coloring?: { color: string; components: JsonComponent[] }[];
  };
  snapshot?: { snapshot_type: 'jpg' | 'png'; snapshot_data?: string };
}

const point = ([x, y, z]: Vec3): JsonPoint => ({ x, y, z });
const vector = ({ x, y, z }: JsonPoint): Vec3 => [x, y, z];
const named = (guids: readonly string[]): JsonComponent[] =>
  guids.map((guid) => (IFC_GUID.test(guid) ? { ifc_guid: guid } : { authoring_tool_id: guid }));
const guidsIn = (list: readonly JsonComponent[] | undefined) =>
  (list ?? []).flatMap((one) => one.ifc_guid || one.authoring_tool_id || []);

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
      coloring: coloursOf(view).map(({ colour, guids }) => ({ color: `#${colour}`, components: named(guids) })),
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
    colouring: (components?.coloring ?? [])
      .slice(0, MOST_COLOURED)
      .flatMap((one) => colouredBy(one.color, guidsIn(one.components))),
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

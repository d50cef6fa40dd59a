import type { Element } from '@xmldom/xmldom';
import type { CutPlane } from '../cut/cuts';
import { MOST_PLANES } from '../cut/cuts';
import { ALL_ELEMENTS, type ElementSet } from '../elements/element-set';
import { MOST_MARKS, type Mark } from '../mark/marks';
import type { Vec3 } from '../math/mat4';
import { add, dot, scale, unit } from '../math/vec3';
import type { CameraPose } from '../view/camera';
import { INITIAL_VIEW, readView, type ViewState } from '../view/view-state';
import { attribute, child, children, numberAt } from './read-xml';

/** How far away what is looked at is taken to be, where a file tells only the direction, in metres. */
const DISTANCE = 10;
/** Vertical field of view for cameras without perspective, in degrees; the scale decides what is seen. */
const PARALLEL_FOV = 45;
/** More elements than this are not named one by one. */
const MOST_COMPONENTS = 50_000;

/**
 * VisualizationInfo of BCF 2.1 or 3.0 as a view: camera, selection, what is hidden or shown alone, cuts, and lines as marks on
 * surfaces. Metres, Z up. What a file does not say is as it is at first.
 *
 * @param by name of who drew the lines
 */
export function readVisualizationInfo(info: Element, by: string): ViewState {
  const components = child(info, 'Components');
  return readView({
    ...INITIAL_VIEW,
    camera: cameraOf(info),
    selection: guidsIn(components && child(components, 'Selection')).map((guid) => [element(guid)]),
    visibility: { shown: shownOf(components), hiddenModels: [] },
    cuts: { planes: planesOf(info), box: null, whole: [] },
    marks: marksOf(info, by),
  });
}

const element = (guid: string) => ({ is: 'element' as const, guids: [guid] });

function cameraOf(info: Element): CameraPose {
  const perspective = child(info, 'PerspectiveCamera');
  const parallel = child(info, 'OrthogonalCamera');
  const camera = perspective ?? parallel;
  const position = camera && pointAt(camera, 'CameraViewPoint');
  const direction = camera && pointAt(camera, 'CameraDirection');
  if (!position || !direction || Math.hypot(...direction) < 1e-9) return INITIAL_VIEW.camera;
  const along = unit(direction);
  if (perspective) {
    const fov = Math.min(Math.max(numberAt(perspective, 'FieldOfView') ?? 60, 1), 150);
    return { position, target: add(position, scale(along, DISTANCE)), fov };
  }
  // As far away that the scale of the file is what is seen at the target.
  const height = Math.max(numberAt(parallel!, 'ViewToWorldScale') ?? 2 * DISTANCE, 0.01);
  const away = height / 2 / Math.tan((PARALLEL_FOV * Math.PI) / 360);
  return { position, target: add(position, scale(along, away)), fov: PARALLEL_FOV, parallel: true };
}

/** Exceptions from what shows, in the words of 3.0 and of 2.1, which are the same. */
function shownOf(components: Element | undefined): ElementSet {
  const visibility = components && child(components, 'Visibility');
  if (!visibility) return ALL_ELEMENTS;
  const guids = guidsIn(child(visibility, 'Exceptions'));
  const isShownByDefault = attribute(visibility, 'DefaultVisibility') !== 'false';
  if (guids.length === 0) return ALL_ELEMENTS;
  const where = [{ is: 'element' as const, guids }];
  return isShownByDefault ? [...ALL_ELEMENTS, { except: where }] : [{ also: where }];
}

function guidsIn(list: Element | undefined): string[] {
  if (!list) return [];
  const guids = children(list, 'Component').map((one) => attribute(one, 'IfcGuid'));
  return [...new Set(guids.filter(Boolean))].slice(0, MOST_COMPONENTS);
}

function planesOf(info: Element): CutPlane[] {
  const list = child(info, 'ClippingPlanes');
  return (list ? children(list, 'ClippingPlane') : []).slice(0, MOST_PLANES).flatMap((plane, i): CutPlane[] => {
    const at = pointAt(plane, 'Location');
    const direction = pointAt(plane, 'Direction');
    if (!at || !direction || Math.hypot(...direction) < 1e-9) return [];
    const normal = unit(direction);
    return [{ id: `bcf-${i + 1}`, normal, offset: dot(normal, at), thickness: null, middle: at, isOn: true, isFramed: true }]; // prettier-ignore
  });
}

function marksOf(info: Element, by: string): Mark[] {
  const list = child(info, 'Lines');
  return (list ? children(list, 'Line') : []).slice(0, MOST_MARKS).flatMap((line, i): Mark[] => {
    const [from, to] = [pointAt(line, 'StartPoint'), pointAt(line, 'EndPoint')];
    if (!from || !to) return [];
    return [
      {
        id: `bcf-${i + 1}`,
        kind: 'surface',
        ink: 'madder',
        pen: 'fine',
        points: [...from, ...to],
        pressures: [],
        text: '',
        camera: null,
        by: { id: '', name: by },
      },
    ];
  });
}

function pointAt(node: Element, name: string): Vec3 | null {
  const point = child(node, name);
  if (!point) return null;
  const [x, y, z] = ['X', 'Y', 'Z'].map((axis) => numberAt(point, axis));
  return x == null || y == null || z == null ? null : [x, y, z];
}

import type { Element } from '@xmldom/xmldom';
import { MOST_PLANES } from '../cut/cuts';
import type { Vec3 } from '../math/mat4';
import type { CameraPose } from '../view/camera';
import { MOST_COLOURED } from '../view/colouring';
import { INITIAL_VIEW, readView, type ViewState } from '../view/view-state';
import { attribute, child, children, numberAt, textAt } from './read-xml';
import { cameraFrom, colouredBy, cutFrom, linesAsMarks, selectedBy, shownBy } from './view-from-bcf';

/**
 * VisualizationInfo of BCF 2.1 or 3.0 as a view: camera, selection, what is hidden or shown alone, colours, cuts, and lines as marks on
 * surfaces. Metres, Z up. What a file does not say is as it is at first.
 *
 * @param by name of who drew the lines
 */
export function readVisualizationInfo(info: Element, by: string): ViewState {
  const components = child(info, 'Components');
  const visibility = components && child(components, 'Visibility');
  const isShownByDefault = !visibility || attribute(visibility, 'DefaultVisibility') !== 'false';
  return readView({
    ...INITIAL_VIEW,
    camera: cameraOf(info),
    selection: selectedBy(guidsIn(components && child(components, 'Selection'))),
    visibility: { shown: shownBy(guidsIn(visibility && child(visibility, 'Exceptions')), isShownByDefault), hiddenModels: [] }, // prettier-ignore
    colouring: (components ? all(components, 'Coloring', 'Color') : [])
      .slice(0, MOST_COLOURED)
      .flatMap((one) => colouredBy(attribute(one, 'Color'), guidsIn(child(one, 'Components') ?? one))),
    cuts: {
      planes: all(info, 'ClippingPlanes', 'ClippingPlane')
        .slice(0, MOST_PLANES)
        .flatMap((plane, i) => {
          const [at, direction] = [pointAt(plane, 'Location'), pointAt(plane, 'Direction')];
          return at && direction ? cutFrom(at, direction, i + 1) : [];
        }),
      box: null,
      whole: [],
    },
    marks: linesAsMarks(
      all(info, 'Lines', 'Line').flatMap((line): [Vec3, Vec3][] => {
        const [from, to] = [pointAt(line, 'StartPoint'), pointAt(line, 'EndPoint')];
        return from && to ? [[from, to]] : [];
      }),
      by,
    ),
  });
}

function cameraOf(info: Element): CameraPose {
  const perspective = child(info, 'PerspectiveCamera');
  const camera = perspective ?? child(info, 'OrthogonalCamera');
  const position = camera && pointAt(camera, 'CameraViewPoint');
  const direction = camera && pointAt(camera, 'CameraDirection');
  if (!position || !direction) return INITIAL_VIEW.camera;
  const lens = perspective
    ? { fov: numberAt(perspective, 'FieldOfView') ?? 60 }
    : { height: numberAt(camera, 'ViewToWorldScale') ?? 20 };
  return cameraFrom(position, direction, lens);
}

function all(node: Element, list: string, name: string): Element[] {
  const found = child(node, list);
  return found ? children(found, name) : [];
}

function guidsIn(list: Element | undefined): string[] {
  return list
    ? children(list, 'Component').map((one) => attribute(one, 'IfcGuid') || textAt(one, 'AuthoringToolId'))
    : [];
}

function pointAt(node: Element, name: string): Vec3 | null {
  const point = child(node, name);
  if (!point) return null;
  const [x, y, z] = ['X', 'Y', 'Z'].map((axis) => numberAt(point, axis));
  return x == null || y == null || z == null ? null : [x, y, z];
}

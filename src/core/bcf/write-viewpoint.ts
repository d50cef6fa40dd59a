import { cutFaces } from '../cut/cuts';
import type { Vec3 } from '../math/mat4';
import type { CameraPose } from '../view/camera';
import type { ViewState } from '../view/view-state';
import { IFC_GUID } from './bcf-topic';
import { ASPECT, cameraVectors, coloursOf, exceptionsOf, guidsOf, linesOf, nearTarget } from './view-to-bcf';
import { element, type XmlNode } from './xml';

/**
 * A view as VisualizationInfo of BCF 3.0: camera, what is selected, what is hidden or shown alone as far as elements are named,
 * colours, cuts, and lines of measures and of marks on surfaces. Metres, Z up.
 */
export function visualizationInfo(guid: string, view: ViewState): XmlNode {
  const { isShownByDefault, exceptions } = exceptionsOf(view.visibility.shown);
  return element(
    'VisualizationInfo',
    [
      element('Components', [
        components('Selection', guidsOf(view.selection)),
        element('Visibility', [components('Exceptions', exceptions)], { DefaultVisibility: String(isShownByDefault) }),
        many(
          'Coloring',
          coloursOf(view).map(({ colour, guids }) =>
            element('Color', [components('Components', guids)], { Color: colour }),
          ),
        ),
      ]),
      camera(view.camera),
      many(
        'Lines',
        linesOf(view).map(([from, to]) => element('Line', [point('StartPoint', from), point('EndPoint', to)])),
      ),
      many(
        'ClippingPlanes',
        cutFaces(view.cuts).map(({ plane }) =>
          element('ClippingPlane', [
            point('Location', nearTarget(view.camera, plane)),
            point('Direction', plane.normal),
          ]),
        ),
      ),
    ],
    { Guid: guid },
  );
}

function camera(pose: CameraPose): XmlNode {
  const { position, direction, up, fov, height } = cameraVectors(pose);
  const common = [point('CameraViewPoint', position), point('CameraDirection', direction), point('CameraUpVector', up)];
  const aspect = element('AspectRatio', String(ASPECT));
  return height === null
    ? element('PerspectiveCamera', [...common, element('FieldOfView', number(fov)), aspect])
    : element('OrthogonalCamera', [...common, element('ViewToWorldScale', number(height)), aspect]);
}

function components(name: string, guids: readonly string[]): XmlNode {
  return element(
    name,
    guids.map((guid) =>
      IFC_GUID.test(guid)
        ? element('Component', [], { IfcGuid: guid })
        : element('Component', [element('AuthoringToolId', guid)]),
    ),
  );
}

function many(name: string, nodes: readonly XmlNode[]): XmlNode | null {
  return nodes.length > 0 ? element(name, nodes) : null;
}

function point(name: string, [x, y, z]: Vec3): XmlNode {
  return element(name, [element('X', number(x)), element('Y', number(y)), element('Z', number(z))]);
}

/** A decimal number without an exponent, which XML Schema's doubles may have but some readers do not know. */
function number(value: number): string {
  return String(Number(value.toFixed(6)) + 0);
}

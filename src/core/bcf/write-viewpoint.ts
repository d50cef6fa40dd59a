import { cutFaces } from '../cut/cuts';
import type { ElementSet, Where } from '../elements/element-set';
import type { Vec3 } from '../math/mat4';
import { add, cross, distance, dot, scale, subtract, unit } from '../math/vec3';
import type { CameraPose } from '../view/camera';
import type { ViewState } from '../view/view-state';
import { element, type XmlNode } from './xml';

/** Width of pictures to their height, where nothing else is known. */
const ASPECT = 1.6;

/**
 * A view as VisualizationInfo of BCF 3.0: camera, what is selected, what is hidden or shown alone as far as elements are named,
 * cuts, and lines of measures and of marks on surfaces. Metres, Z up.
 */
export function visualizationInfo(guid: string, view: ViewState): XmlNode {
  return element(
    'VisualizationInfo',
    [
      element('Components', [components('Selection', guidsOf(view.selection)), visibility(view.visibility.shown)]),
      camera(view.camera),
      many('Lines', lines(view)),
      many(
        'ClippingPlanes',
        cutFaces(view.cuts).map(({ plane: { normal, offset } }) => {
          const { target } = view.camera;
          const at = add(target, scale(normal, offset - dot(normal, target)));
          return element('ClippingPlane', [point('Location', at), point('Direction', normal)]);
        }),
      ),
    ],
    { Guid: guid },
  );
}

function camera(pose: CameraPose): XmlNode {
  const { position, target, fov, parallel } = pose;
  const direction = unit(subtract(target, position));
  const right = Math.abs(direction[2]) > 0.9999 ? ([1, 0, 0] as Vec3) : unit(cross(direction, [0, 0, 1]));
  const common = [
    point('CameraViewPoint', position),
    point('CameraDirection', direction),
    point('CameraUpVector', cross(right, direction)),
  ];
  const aspect = element('AspectRatio', String(ASPECT));
  if (!parallel) return element('PerspectiveCamera', [...common, element('FieldOfView', number(fov)), aspect]);
  const height = 2 * distance(position, target) * Math.tan((fov * Math.PI) / 360);
  return element('OrthogonalCamera', [...common, element('ViewToWorldScale', number(height)), aspect]);
}

/** What shows, as far as it is said by single elements; else everything does. */
function visibility(shown: ElementSet): XmlNode {
  const [first] = shown;
  const isAlone = first !== undefined && 'also' in first && guidsOf([first.also]).length > 0;
  const named = isAlone
    ? shown.flatMap((clause) => ('also' in clause ? guidsOf([clause.also]) : []))
    : shown.flatMap((clause) => ('except' in clause ? guidsOf([clause.except]) : []));
  return element('Visibility', [components('Exceptions', named)], { DefaultVisibility: String(!isAlone) });
}

/** The single elements that rules name. */
function guidsOf(wheres: readonly Where[]): string[] {
  return wheres.flatMap((where) => where.flatMap((condition) => (condition.is === 'element' ? condition.guids : [])));
}

function components(name: string, guids: readonly string[]): XmlNode {
  return element(
    name,
    guids.map((guid) => element('Component', [], { IfcGuid: guid })),
  );
}

function lines({ measures, marks }: ViewState): XmlNode[] {
  const ends: [Vec3, Vec3][] = measures
    .filter(({ kind }) => ['distance', 'elements', 'clear', 'height', 'chain'].includes(kind))
    .flatMap(({ points }) => pairs(points));
  for (const { kind, points } of marks)
    if (kind === 'surface')
      ends.push(
        ...pairs(
          Array.from({ length: points.length / 3 }, (_, i): Vec3 => [
            points[3 * i]!,
            points[3 * i + 1]!,
            points[3 * i + 2]!,
          ]),
        ),
      );
  return ends.map(([from, to]) => element('Line', [point('StartPoint', from), point('EndPoint', to)]));
}

function pairs(points: readonly Vec3[]): [Vec3, Vec3][] {
  return points.slice(1).map((to, i) => [points[i]!, to]);
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

import { DxfWriter, LWPolylineFlags, point3d, Units } from '@tarikjabiri/dxf';
import { hatchOf } from '../section/hatch';
import type { Path } from '../section/path';
import type { Drawing } from './drawing';
import { hatchLines } from './hatch-lines';

const BLACK_OR_WHITE = 7;
const GREY = 8;

/** A drawing as DXF in metres: a layer a category, its hatch on a layer beside it. */
export function drawingDxf({ elements }: Drawing): string {
  const dxf = new DxfWriter();
  dxf.setUnits(Units.Meters);
  const layers = new Set<string>();
  const layer = (name: string, color: number): string => {
    if (!layers.has(name)) dxf.addLayer(name, color, 'CONTINUOUS');
    layers.add(name);
    return name;
  };
  for (const { category, material, regions, lines } of elements) {
    const layerName = layer(layerOf(category), BLACK_OR_WHITE);
    const polyline = (path: Path, isClosed: boolean) =>
      dxf.addLWPolyline(corners(path), {
        layerName,
        flags: isClosed ? LWPolylineFlags.Closed : LWPolylineFlags.None,
      });
    for (const { border, holes } of regions) for (const path of [border, ...holes]) polyline(path, true);
    for (const line of lines) polyline(line, false);
    const strokes = regions.flatMap((region) => hatchLines(region, hatchOf(material, category)));
    if (strokes.length === 0) continue;
    const hatchLayer = layer(`${layerOf(category)} hatch`, GREY);
    for (const [x1, y1, x2, y2] of strokes) dxf.addLine(point3d(x1, y1), point3d(x2, y2), { layerName: hatchLayer });
  }
  return dxf.stringify();
}

/** Layer names may not hold these. */
function layerOf(category: string): string {
  return category.replace(/[<>/\\":;?*|=`,]/g, ' ').trim() || 'Other';
}

function corners(path: Path): { point: { x: number; y: number } }[] {
  return Array.from({ length: path.length / 2 }, (_, i) => ({ point: { x: path[2 * i]!, y: path[2 * i + 1]! } }));
}

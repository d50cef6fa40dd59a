import type { Scene } from 'three';
import { LineMaterial } from 'three/addons/lines/LineMaterial.js';
import { LineSegments2 } from 'three/addons/lines/LineSegments2.js';
import { LineSegmentsGeometry } from 'three/addons/lines/LineSegmentsGeometry.js';
import { INK_COLOURS, PEN_WIDTHS, type Mark } from '@/core/mark/marks';
import type { Vec3 } from '@/core/math/mat4';
import { heightOver, type Plane } from '@/core/section/plane';
import type { CoordinateFrame } from '../../coordinate-frame';

/** After surfaces and their ink, before what is clear. */
const ORDER = 1.5;
/** What lies in a plane is not before it, in metres. */
const LEAST_AWAY = 1e-4;

/** Marks that lie on surfaces: lines in the model, which one walks up to and which walls hide. */
export class SurfaceLines {
  private readonly lines = new Map<string, { mark: Mark; line: LineSegments2; material: LineMaterial }>();
  private planes: readonly Plane[] = [];
  private height = 1;
  private width = 1;

  constructor(
    private readonly scene: Scene,
    private readonly frame: CoordinateFrame,
  ) {}

  /**
   * @param planes what lies before one of them is cut away, and so is what was drawn there; project coordinates
   * @returns whether anything is other than before
   */
  show(marks: readonly Mark[], planes: readonly Plane[]): boolean {
    const wanted = new Map(marks.filter(({ kind }) => kind === 'surface').map((mark) => [mark.id, mark]));
    let isOther = false;
    if (planes.length > 0 || this.planes.length > 0) {
      this.planes = planes;
      isOther = this.lines.size > 0;
      for (const id of [...this.lines.keys()]) this.remove(id);
    }
    for (const [id, { mark }] of this.lines) {
      if (wanted.get(id) === mark) continue;
      this.remove(id);
      isOther = true;
    }
    for (const [id, mark] of wanted) {
      if (this.lines.has(id) || mark.points.length < 6) continue;
      this.add(mark);
      isOther = true;
    }
    return isOther;
  }

  resize(width: number, height: number): void {
    Object.assign(this, { width, height });
    for (const { mark, material } of this.lines.values()) this.fit(mark, material);
  }

  dispose(): void {
    for (const id of [...this.lines.keys()]) this.remove(id);
  }

  private add(mark: Mark): void {
    const places: number[] = [];
    const at = (i: number) => this.frame.toStage([mark.points[i]!, mark.points[i + 1]!, mark.points[i + 2]!]).toArray();
    const isAway = (i: number) => {
      const point: Vec3 = [mark.points[i]!, mark.points[i + 1]!, mark.points[i + 2]!];
      return this.planes.some((plane) => heightOver(plane, point) > LEAST_AWAY);
    };
    for (let i = 0; i + 5 < mark.points.length; i += 3)
      if (!isAway(i) && !isAway(i + 3)) places.push(...at(i), ...at(i + 3));
    const geometry = new LineSegmentsGeometry().setPositions(places);
    // They stand before the surface on which they lie.
    const material = new LineMaterial({
      color: INK_COLOURS[mark.ink],
      polygonOffset: true,
      polygonOffsetFactor: -2,
      polygonOffsetUnits: -8,
    });
    this.fit(mark, material);
    const line = new LineSegments2(geometry, material);
    line.renderOrder = ORDER;
    line.raycast = () => undefined;
    this.scene.add(line);
    this.lines.set(mark.id, { mark, line, material });
  }

  private remove(id: string): void {
    const { line, material } = this.lines.get(id)!;
    this.scene.remove(line);
    line.geometry.dispose();
    material.dispose();
    this.lines.delete(id);
  }

  private fit({ pen }: Mark, material: LineMaterial): void {
    material.linewidth = Math.max(1.5, (PEN_WIDTHS[pen] * this.height) / 2);
    material.resolution.set(this.width, this.height);
  }
}

import { uniqueRows } from '@/core/mesh/unique-rows';
import type { Geometry } from '../building-model';
import type { ModelBuilder } from '../model-builder';
import { nearPositions, translation, type NearPositions } from '../near-positions';
import { NumberList } from '../number-list';
import { wordsOf } from '../text/words';
import { triangulatePolygon } from '../triangulate-polygon';
import type { MaterialLibrary } from './material-library';

/** Faces of one element in one material. */
interface Run {
  element: number;
  material: string;
  /** Rows of vertex, place in the picture and normal, three a triangle; -1 where a corner has none. */
  corners: NumberList<Int32Array>;
}

/** What the format knows beside surfaces: none of it is wrong, and none of it shows. */
const FREE_FORM =
  /^(vp|cstype|deg|bmat|step|curv2?|surf|parm|trim|hole|scrv|sp|end|con|ctech|stech|bzp|bsp|cdc|cdp|res)$/;
const ATTRIBUTES =
  /^(s|mg|bevel|c_interp|d_interp|lod|shadow_obj|trace_obj|usemap|maplib|call|csh|vertexcolors|xrefname|version|units?)$/;
const TRIANGLE = [0, 1, 2];
/** Bad lines whose numbers are told. */
const TOLD = 3;

/** Takes the lines of an OBJ file one by one and makes a model of them (Wavefront, Advanced Visualizer Manual, appendix B1). */
export class ObjLines {
  private readonly positions = new NumberList(new Float64Array(3 * 1024));
  /** sRGB a vertex, each 0..1; NaN where a vertex has no colour. Empty as long as none has one. */
  private readonly colors = new NumberList(new Float32Array(0));
  private readonly uvs = new NumberList(new Float32Array(0));
  private readonly normals = new NumberList(new Float32Array(0));
  private readonly runs = new Map<string, Run>();
  private readonly rows = new Map<string, number>();
  private readonly materialsOf = new Map<number, Set<string>>();
  private readonly bad: number[] = [];
  private current: Run | null = null;
  private object = '';
  private objects = 0;
  private group = '';
  private material = '';
  private line = 0;
  private badLines = 0;
  private others = 0;
  private freeForms = 0;
  private unfinished = '';

  constructor(
    private readonly builder: ModelBuilder,
    private readonly library: MaterialLibrary,
  ) {}

  take(text: string): void {
    this.line++;
    const whole = this.unfinished + text;
    this.unfinished = '';
    if (whole.endsWith('\\')) {
      this.unfinished = `${whole.slice(0, -1)} `;
      return;
    }
    const trimmed = whole.trim();
    if (trimmed === '') return;
    if (trimmed.startsWith('#')) {
      // The first comment mostly names the program.
      const { source } = this.builder.model;
      if (source.program === '' && this.positions.length === 0) source.program = trimmed.slice(1).trim().slice(0, 120);
      return;
    }
    const words = wordsOf(trimmed);
    if (!this.statement(words[0]!.toLowerCase(), words, trimmed)) {
      this.badLines++;
      if (this.bad.length < TOLD) this.bad.push(this.line);
    }
  }

  /** Adds what was read to the model. */
  end(): void {
    if (this.unfinished !== '') this.take('');
    const { model } = this.builder;
    for (const run of this.runs.values()) {
      const { geometry, from } = this.geometryOf(run);
      const surface = this.library.surface(run.material);
      this.builder.place(
        run.element,
        this.builder.geometry(geometry),
        this.builder.material(surface),
        translation(from),
      );
    }
    for (const [row, names] of this.materialsOf) model.elements.material[row] = [...names].filter(Boolean).join(', ');
    model.productsWithShape = this.materialsOf.size;
    if (this.badLines > 0)
      model.warnings.push({
        reason:
          this.badLines === 1
            ? `line ${this.bad[0]} makes no sense and is left out`
            : `${this.badLines} lines make no sense and are left out, such as line ${this.bad.join(', ')}`,
      });
    if (this.others > 0)
      model.warnings.push({ reason: `lines and points are no surfaces and do not show (${this.others} in the file)` });
    if (this.freeForms > 0)
      model.warnings.push({ reason: 'free-form curves and surfaces are not shown; export the model as a mesh' });
  }

  /** Whether the line makes sense. */
  private statement(keyword: string, words: string[], line: string): boolean {
    switch (keyword) {
      case 'v':
        return this.vertex(words);
      case 'vt':
        return this.numbers(this.uvs, words, 2, 1);
      case 'vn':
        return this.numbers(this.normals, words, 3, 3);
      case 'f':
      case 'fo':
        return this.face(words);
      case 'o':
        this.object = restOf(line);
        this.objects++;
        this.group = '';
        this.current = null;
        return true;
      case 'g':
        this.group = /^default$/i.test(restOf(line)) ? '' : restOf(line);
        this.current = null;
        return true;
      case 'usemtl':
        this.material = restOf(line);
        this.current = null;
        return true;
      case 'mtllib':
        this.library.load(restOf(line));
        return true;
      case 'l':
      case 'p':
        this.others++;
        return true;
      default:
        if (FREE_FORM.test(keyword)) this.freeForms++;
        return FREE_FORM.test(keyword) || ATTRIBUTES.test(keyword);
    }
  }

  private vertex(words: string[]): boolean {
    const [x, y, z] = [Number(words[1]), Number(words[2]), Number(words[3])];
    const isWhole = words.length >= 4 && Number.isFinite(x + y + z);
    const before = this.positions.length / 3;
    // One that makes no sense keeps its number, or all faces after it would be wrong.
    if (isWhole) this.positions.push3(x, y, z);
    else this.positions.push3(NaN, NaN, NaN);
    if (words.length >= 7 || this.colors.length > 0) {
      while (this.colors.length < before * 3) this.colors.push3(NaN, NaN, NaN);
      this.colors.push3(Number(words[4]), Number(words[5]), Number(words[6]));
    }
    return isWhole;
  }

  /** @param least numbers that have to be there; the others are zero */
  private numbers(list: NumberList<Float32Array>, words: string[], width: number, least: number): boolean {
    const values = Array.from({ length: width }, (_, i) => (i + 1 < words.length ? Number(words[i + 1]) : 0));
    const isWhole = words.length > least && values.every(Number.isFinite);
    list.push(...(isWhole ? values : values.map(() => NaN)));
    return isWhole;
  }

  private face(words: string[]): boolean {
    const count = words.length - 1;
    if (count < 3) return false;
    const corners: number[] = [];
    for (let i = 0; i < count; i++) {
      const word = words[i + 1]!;
      const slash = word.indexOf('/');
      const vertex = rowOf(slash < 0 ? word : word.slice(0, slash), this.positions.length / 3);
      if (vertex < 0 || Number.isNaN(this.positions.at(vertex * 3))) return false;
      const [vt, vn] = slash < 0 ? [] : word.slice(slash + 1).split('/');
      corners[i * 3] = vertex;
      corners[i * 3 + 1] = rowOf(vt, this.uvs.length / 2);
      corners[i * 3 + 2] = rowOf(vn, this.normals.length / 3);
    }
    const run = (this.current ??= this.runOf(this.material));
    for (const corner of count === 3 ? TRIANGLE : triangulatePolygon(this.pointsOf(corners)))
      run.corners.push3(corners[corner * 3]!, corners[corner * 3 + 1]!, corners[corner * 3 + 2]!);
    return true;
  }

  private pointsOf(corners: number[]): number[] {
    return corners.map((_, i) => this.positions.at(corners[i - (i % 3)]! * 3 + (i % 3)));
  }

  private runOf(material: string): Run {
    const element = this.element();
    const key = `${element}/${material}`;
    let run = this.runs.get(key);
    if (!run) {
      run = { element, material, corners: new NumberList(new Int32Array(0)) };
      this.runs.set(key, run);
      this.materialsOf.set(element, (this.materialsOf.get(element) ?? new Set()).add(material));
    }
    return run;
  }

  /** Row of what the faces belong to now: a group, within an object if there is one, or an object. */
  private element(): number {
    const key = JSON.stringify([this.objects, this.group]);
    let row = this.rows.get(key);
    if (row === undefined) {
      const name = this.group || this.object || 'Object';
      const parent = this.group !== '' && this.object !== '' ? this.whole() : -1;
      row = this.builder.element({ name, category: 'Object', parent });
      this.rows.set(key, row);
    }
    return row;
  }

  /** Row of the object that has groups. */
  private whole(): number {
    const key = JSON.stringify([this.objects]);
    let row = this.rows.get(key);
    if (row === undefined) {
      row = this.builder.element({ name: this.object, category: 'Group' });
      this.rows.set(key, row);
    }
    return row;
  }

  /** A run's triangles with only the vertices that they use, and where they are counted from. */
  private geometryOf({ corners }: Run): { geometry: Geometry; from: NearPositions['from'] } {
    const { of, first } = uniqueRows(corners.values, 3);
    const count = first.length;
    const row = (vertex: number, kind: 0 | 1 | 2) => corners.at(first[vertex]! * 3 + kind);
    const places = new Float64Array(count * 3);
    const colors = new Uint8Array(count * 4).fill(255);
    const normals = new Float32Array(count * 3);
    const uvs = new Float32Array(count * 2);
    let [painted, shaded, pictured] = [this.colors.length > 0, true, true];
    for (let i = 0; i < count; i++) {
      const [vertex, uv, normal] = [row(i, 0), row(i, 1), row(i, 2)];
      shaded &&= normal >= 0 && Number.isFinite(this.normals.at(normal * 3));
      pictured &&= uv >= 0 && Number.isFinite(this.uvs.at(uv * 2));
      painted &&= vertex * 3 < this.colors.length && Number.isFinite(this.colors.at(vertex * 3));
      for (let axis = 0; axis < 3; axis++) {
        places[i * 3 + axis] = this.positions.at(vertex * 3 + axis);
        if (shaded) normals[i * 3 + axis] = this.normals.at(normal * 3 + axis);
        if (painted)
          colors[i * 4 + axis] = Math.round(Math.min(1, Math.max(0, this.colors.at(vertex * 3 + axis))) * 255);
      }
      if (!pictured) continue;
      uvs[i * 2] = this.uvs.at(uv * 2);
      // The format counts a picture's rows from below.
      uvs[i * 2 + 1] = 1 - this.uvs.at(uv * 2 + 1);
    }
    const { positions, from } = nearPositions(places);
    const geometry: Geometry = { positions, indices: of };
    if (shaded) geometry.normals = normals;
    if (pictured) geometry.uvs = uvs;
    if (painted) geometry.colors = colors;
    return { geometry, from };
  }
}

/** What stands after the keyword, with its blanks. */
function restOf(line: string): string {
  return line.replace(/^\S+\s*/, '');
}

/** Row of what a corner names, counted from 1 or back from the last; -1 where it names nothing. */
function rowOf(name: string | undefined, count: number): number {
  if (!name) return -1;
  const number = Number(name);
  if (!Number.isInteger(number)) return -1;
  const row = number < 0 ? count + number : number - 1;
  return row >= 0 && row < count ? row : -1;
}

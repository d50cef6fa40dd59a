import { Box3 as ThreeBox3, Vector3 } from 'three';
import type { WorkerPool } from '../workers/worker-pool';
import { SurfaceMesh } from './surface-mesh';

/** As much of a tile of `tileset.json` as is read here. */
interface TileJson {
  boundingVolume: { box: number[] };
  content?: { uri: string };
  children?: TileJson[];
}

export interface FinestTile {
  url: string;
  /** In the model's own coordinates. */
  box: ThreeBox3;
}

/** Tiles that nobody has asked for lately are given up beyond this many triangles. */
const MOST_TRIANGLES = 3_000_000;

/** The finest tiles of one model, loaded where somebody asks about surfaces, whatever the camera sees. */
export class FinestTiles {
  private readonly tiles: Promise<FinestTile[]>;
  private known: FinestTile[] | null = null;
  private readonly loading = new Map<string, Promise<SurfaceMesh>>();
  /** Those asked for last come last. */
  private readonly loaded = new Map<string, SurfaceMesh>();

  /** @param base address of the folder of `tileset.json` */
  constructor(
    private readonly base: string,
    private readonly pool: WorkerPool,
  ) {
    this.tiles = this.readTileset();
    this.tiles.catch(() => undefined); // whoever asks is told
  }

  /** Meshes of all tiles that a region touches, as far as they are there; whether they are all there. */
  ready(touches: (box: ThreeBox3) => boolean): { meshes: SurfaceMesh[]; isWhole: boolean } {
    if (!this.known) return { meshes: [], isWhole: false };
    const wanted = this.known.filter(({ box }) => touches(box));
    const meshes = wanted.flatMap(({ url }) => this.use(url) ?? []);
    return { meshes, isWhole: meshes.length === wanted.length };
  }

  /** The tiles that a region touches, at once; null until it is known which there are. */
  listed(touches: (box: ThreeBox3) => boolean): FinestTile[] | null {
    return this.known?.filter(({ box }) => touches(box)) ?? null;
  }

  /** A tile that is there. */
  there({ url }: FinestTile): SurfaceMesh | null {
    return this.use(url) ?? null;
  }

  /**
   * Loads all tiles that a region touches, nearest first by the given measure.
   *
   * @throws Error if one cannot be had
   */
  async load(touches: (box: ThreeBox3) => boolean, order: (box: ThreeBox3) => number): Promise<SurfaceMesh[]> {
    const wanted = (await this.tiles).filter(({ box }) => touches(box)).sort((a, b) => order(a.box) - order(b.box));
    return Promise.all(wanted.map((tile, i) => this.fetch(tile, -i)));
  }

  /** The tiles along which somebody wants to go one by one. */
  async within(touches: (box: ThreeBox3) => boolean): Promise<FinestTile[]> {
    return (await this.tiles).filter(({ box }) => touches(box));
  }

  fetch({ url }: FinestTile, priority = 0): Promise<SurfaceMesh> {
    const there = this.use(url);
    if (there) return Promise.resolve(there);
    const underWay = this.loading.get(url);
    if (underWay) return underWay;
    const loading = this.pool
      .run('load-surfaces', { url }, { priority })
      .then((surfaces) => {
        const mesh = new SurfaceMesh(surfaces);
        this.loaded.set(url, mesh);
        this.shrink();
        return mesh;
      })
      .finally(() => this.loading.delete(url));
    this.loading.set(url, loading);
    return loading;
  }

  dispose(): void {
    for (const mesh of this.loaded.values()) mesh.dispose();
    this.loaded.clear();
  }

  private use(url: string): SurfaceMesh | undefined {
    const mesh = this.loaded.get(url);
    if (mesh) {
      this.loaded.delete(url);
      this.loaded.set(url, mesh);
    }
    return mesh;
  }

  private shrink(): void {
    let triangles = 0;
    for (const { geometry } of this.loaded.values()) triangles += geometry.index!.count / 3;
    for (const [url, mesh] of this.loaded) {
      if (triangles <= MOST_TRIANGLES || this.loaded.size === 1) return;
      triangles -= mesh.geometry.index!.count / 3;
      this.loaded.delete(url);
      mesh.dispose();
    }
  }

  private async readTileset(): Promise<FinestTile[]> {
    const answer = await fetch(new URL('tileset.json', this.base));
    if (!answer.ok) throw new Error(`The parts of a model could not be listed (${answer.status}).`);
    const { root } = (await answer.json()) as { root: TileJson };
    this.known = finestOf(root, this.base);
    return this.known;
  }
}

/** The tiles below which there is nothing finer. */
export function finestOf(tile: TileJson, base: string): FinestTile[] {
  const finer = (tile.children ?? []).flatMap((child) => finestOf(child, base));
  if (finer.length > 0 || !tile.content) return finer;
  const [x, y, z, ax, ay, az, bx, by, bz, cx, cy, cz] = tile.boundingVolume.box as [
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
    number,
  ];
  const half = new Vector3(
    Math.abs(ax) + Math.abs(bx) + Math.abs(cx),
    Math.abs(ay) + Math.abs(by) + Math.abs(cy),
    Math.abs(az) + Math.abs(bz) + Math.abs(cz),
  );
  const centre = new Vector3(x, y, z);
  const box = new ThreeBox3(centre.clone().sub(half), centre.add(half));
  return [{ url: new URL(tile.content.uri, base).href, box }];
}

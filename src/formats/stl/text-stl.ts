import { NumberList } from '../number-list';
import { wordsOf } from '../text/words';
import { triangulatePolygon } from '../triangulate-polygon';
import type { Facets } from './facets';

/** Takes the lines of a text STL one by one. */
export class TextStl {
  /** Facets that are left out because their numbers make no sense. */
  bad = 0;
  readonly solids: Facets[] = [];
  private facets: NumberList<Float64Array> | null = null;
  private name = '';
  /** Corners of the facet that is being read. */
  private loop: number[] = [];
  private isWithinFacet = false;
  /** Numbers that still belong to a corner. */
  private awaited = 0;

  take(line: string): void {
    const words = wordsOf(line);
    if (/^solid$/i.test(words[0] ?? '')) {
      this.endSolid();
      this.facets = new NumberList(new Float64Array(9 * 64));
      this.name = line.trim().slice('solid'.length).trim();
      return;
    }
    for (const word of words) {
      if (this.awaited > 0) {
        this.loop.push(Number(word));
        this.awaited--;
      } else {
        switch (word.toLowerCase()) {
          case 'facet':
            this.isWithinFacet = true;
            break;
          case 'endfacet':
            this.isWithinFacet = false;
            break;
          case 'vertex':
            this.awaited = 3;
            break;
          case 'endloop':
            this.endLoop();
            break;
          case 'endsolid':
            this.endSolid();
            // Its name may come again.
            return;
        }
      }
    }
  }

  /**
   * To be called after the last line.
   *
   * @returns whether the last solid came to its end, ends after a whole facet as some programs leave it, or is broken off
   */
  end(): 'whole' | 'open' | 'broken' {
    const isOpen = this.facets !== null;
    const isBroken = isOpen && (this.isWithinFacet || this.facets!.length === 0);
    this.endSolid();
    return isBroken ? 'broken' : isOpen ? 'open' : 'whole';
  }

  private endLoop(): void {
    const { loop } = this;
    if (loop.length >= 9 && loop.every(Number.isFinite))
      for (const corner of triangulatePolygon(loop))
        this.facets?.push3(loop[corner * 3]!, loop[corner * 3 + 1]!, loop[corner * 3 + 2]!);
    else this.bad++;
    this.loop = [];
  }

  private endSolid(): void {
    if (this.facets && this.facets.length > 0) this.solids.push({ name: this.name, positions: this.facets.values });
    this.facets = null;
  }
}

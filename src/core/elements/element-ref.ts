/** An element across revisions. */
export interface ElementRef {
  model: string;
  guid: string;
}

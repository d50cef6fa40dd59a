import type { Device } from '../detail/device';
import type { Mended } from '../examination/finding';
import type { FileFormat } from './publish-report';

/** Of a revision's report, as much as a list of many revisions shows. The report itself is asked for one by one. */
export interface RevisionDigest {
  format: FileFormat;
  schema: string;
  elements: number;
  triangles: number;
  /** Bytes as sent: tiles in full detail, pictures, contents. */
  sent: number;
  /** Bytes until it shows; null for revisions from before there were levels of detail. */
  firstLook: number | null;
  /** Devices for which it is too heavy; null where there is no forecast. */
  heavyOn: Device['name'][] | null;
  unread: number;
  withheld: { elements: number; newCategories: string[] };
  mended: Mended[];
  /** What asks for attention, and neither was mended nor is to be. */
  noticed: Mended[];
  /** Cameras that came with the file. */
  cameras: number;
  /** Rules about colours and materials: how many did something, how many found nothing. */
  surfaces: { applied: number; idle: number };
  /** Whether the scale was only guessed. */
  scaleGuessed: boolean;
}

import type { FindingKind, Mended } from '@/core/examination/finding';
import type { ProjectFit } from '@/core/examination/project-fit';
import { plainNumber } from '@/core/plain-number';
import type { SurfaceRule } from '@/core/surfaces/surface-rule';

const PHASES: Record<string, string> = {
  waiting: 'Waiting in the queue',
  reading: 'Reading the file',
  examining: 'Looking it over',
  tiling: 'Making it light',
  indexing: 'Writing the contents',
  storing: 'Storing the facts',
  done: 'Done',
};

/** A phase of a publication in plain words. */
export function phaseName(phase: string): string {
  return PHASES[phase] ?? phase;
}

/** “1 element”, “20 elements”. */
export function elementCount(count: number): string {
  return `${plainNumber(count)} ${count === 1 ? 'element' : 'elements'}`;
}

/** Bytes as whole kilobytes, from ten thousand on as megabytes. */
export function kilobytes(bytes: number): string {
  const kilo = Math.ceil(bytes / 1024);
  return kilo < 10_000 ? `${plainNumber(kilo)}\u00a0kB` : `${plainNumber(Math.round(kilo / 1024))}\u00a0MB`;
}

/** A span of time as one would say it: “40 s”, “3 min”, “1 h 10 min”. */
export function duration(seconds: number): string {
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s`;
  const minutes = Math.round(seconds / 60);
  return minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

const FINDING_TITLES: Record<FindingKind, string> = {
  'far-away': 'far from the building',
  duplicate: 'standing twice in one place',
  'inside-out': 'turned inside out',
  coincident: 'flickering through another',
  unseen: 'so clear that nothing shows',
  'open-shell': 'with holes in the surface',
  'too-fine': 'finer than one can see',
  'repeated-guid': 'sharing an identity',
  'no-storey': 'on no storey',
  'no-name': 'without a name',
  'no-material': 'without a material',
};

/** A kind of finding with its number, such as “3 far from the building”. */
export function findingTitle(kind: FindingKind, count: number): string {
  return `${plainNumber(count)} ${FINDING_TITLES[kind]}`;
}

/** What was mended, such as “2 finer than one can see (3 100 triangles instead of 41 000)”. */
export function mendedTitle({ kind, count, reduced }: Mended): string {
  const title = findingTitle(kind, count);
  return reduced
    ? `${title} (${plainNumber(reduced.after)} triangles instead of ${plainNumber(reduced.before)})`
    : title;
}

/** A rule about surfaces, such as “Door: colour #334455, called Oak”. */
export function surfaceRuleSentence({ label, color, opacity, material }: SurfaceRule): string {
  const changes = [
    color && `colour ${color}${opacity < 1 ? `, ${Math.round(opacity * 100)} % solid` : ''}`,
    material && `called ${material}`,
  ];
  return `${label}: ${changes.filter(Boolean).join(', ')}`;
}

/** How a model does not go with the others of its project, in a sentence. */
export function fitSentence(fit: ProjectFit): string {
  if (fit.kind === 'apart') {
    const far = fit.metres >= 2000 ? `${plainNumber(Math.round(fit.metres / 1000))} km` : `${Math.round(fit.metres)} m`;
    return `Stands ${far} from the nearest other model, so that nobody sees both.`;
  }
  const factor = fit.factor > 1 ? fit.factor : 1 / fit.factor;
  return `About ${plainNumber(Number(factor.toPrecision(2)))} times as ${fit.factor > 1 ? 'large' : 'small'} as the other models of the project: is the unit right?`;
}

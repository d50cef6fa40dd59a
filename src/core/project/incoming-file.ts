/** What the name of a model file tells about it. */

/** Endings of files that are models, or archives of models. */
export const MODEL_ENDINGS = [
  '.ifc',
  '.ifczip',
  '.glb',
  '.gltf',
  '.obj',
  '.stl',
  '.ply',
  '.dae',
  '.3mf',
  '.xml',
  '.gbxml',
  '.zip',
] as const;
/** Endings of files that belong to a model that comes in parts. */
export const PART_ENDINGS = [
  '.mtl',
  '.bin',
  '.png',
  '.jpg',
  '.jpeg',
  '.webp',
  '.gif',
  '.tif',
  '.tiff',
  '.tga',
  '.bmp',
  '.ktx2',
] as const;
const IN_PARTS = ['.obj', '.gltf', '.dae', '.ply'];

export function isModelFile(fileName: string): boolean {
  return hasEnding(fileName, MODEL_ENDINGS);
}

/** Whether a model file may name others as its parts. */
export function comesInParts(fileName: string): boolean {
  return hasEnding(fileName, IN_PARTS);
}

export function isPartFile(fileName: string): boolean {
  return hasEnding(fileName, PART_ENDINGS);
}

function hasEnding(fileName: string, endings: readonly string[]): boolean {
  return endings.some((ending) => fileName.toLowerCase().endsWith(ending));
}

/** What the model of a file is called: the file's name without its endings. */
export function modelNameOf(fileName: string): string {
  return fileName.replace(/(\.(obj|gltf|dae|ply))?\.[^.]+$/i, '');
}

/** A file's name without revision marks and ending, so that `house-P02.ifc` follows `house-P01.ifc`. */
export function fileStem(fileName: string): string {
  return modelNameOf(fileName)
    .toLowerCase()
    .replace(/[-_ ]?(p|r|rev|v)?\d{1,3}$/, '');
}

/** The model of which a file is the next revision: one that had a file of that name. */
export function modelOfFile<Model extends { revisions: { fileName: string }[] }>(
  models: Model[],
  fileName: string,
): Model | undefined {
  return models.find((model) => model.revisions.some((revision) => fileStem(revision.fileName) === fileStem(fileName)));
}

/** What one may choose from for a new model. */
export const DISCIPLINES = [
  'Architecture',
  'Structure',
  'Building services',
  'Interior',
  'Landscape',
  'Other',
] as const;

/** The discipline that a file's name speaks of. */
export function disciplineOf(fileName: string): string {
  const name = fileName.toLowerCase();
  if (/struct|tragw|stat/.test(name)) return 'Structure';
  if (/serv|mep|hvac|plumb|electr/.test(name)) return 'Building services';
  return /land/.test(name) ? 'Landscape' : 'Architecture';
}

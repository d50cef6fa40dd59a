import { cutFaces, type CutFace, type Cuts } from './cuts';

/** The faces of all cuts that are on, as they are called. */
export function faceWords(cuts: Cuts): (CutFace & { words: string })[] {
  const numbers = new Map(cuts.planes.map(({ id }, i) => [id, i + 1]));
  return cutFaces(cuts).map((face) => {
    const [, id = face.key, back] = /^(.*?)( back)?$/.exec(face.key) ?? [];
    const number = numbers.get(id);
    const words = number === undefined ? (BOX_FACES[face.key] ?? face.key) : `Plane ${number}${back ? ', behind' : ''}`;
    return { ...face, words };
  });
}

const BOX_FACES: Record<string, string> = {
  'box 0': 'Box, east',
  'box 1': 'Box, west',
  'box 2': 'Box, north',
  'box 3': 'Box, south',
  'box 4': 'Box, top',
  'box 5': 'Box, bottom',
};

import type { IfcBuilder } from '../ifc/ifc-builder';

/** The materials of the library, in colours a card model would be made of. */
export function palette(ifc: IfcBuilder) {
  return {
    plaster: ifc.style('Lime plaster', '#efe6d6'),
    inner: ifc.style('Clay board', '#e6d9c4'),
    timber: ifc.style('Larch', '#c8965a'),
    glulam: ifc.style('Glued spruce', '#d3a468'),
    oak: ifc.style('Oak', '#a87443'),
    shingle: ifc.style('Fired clay shingle', '#8c5a41'),
    concrete: ifc.style('Concrete', '#cbc4b8'),
    screed: ifc.style('Polished screed', '#d9d0c1'),
    gravel: ifc.style('Roof gravel', '#ddd2bd'),
    glass: ifc.style('Insulating glass', '#a9c3c6', 0.38),
    steel: ifc.style('Painted steel', '#5d625f'),
    ceramic: ifc.style('Ceramic', '#f4f3ee'),
    felt: ifc.style('Wool felt', '#8b9d83'),
    ochre: ifc.style('Ochre linoleum', '#c99a4b'),
    grass: ifc.style('Meadow', '#a3ae78'),
    leaves: ifc.style('Foliage', '#84945c'),
    bark: ifc.style('Bark', '#75604b'),
    paving: ifc.style('Brick paving', '#c5a487'),
    earth: ifc.style('Ground', '#dfd3bb'),
    zinc: ifc.style('Galvanised steel', '#b9bfc1'),
    copper: ifc.style('Copper', '#b97852'),
    cold: ifc.style('Insulated cold water pipe', '#6f8fa6'),
    warm: ifc.style('Insulated hot water pipe', '#b5655a'),
    room: ifc.style('Room', '#b8c4c8', 0.12),
  };
}

export type Palette = ReturnType<typeof palette>;

type Rgba = [number, number, number, number];

/** Category and colour of a surface or opening by the type that gbXML gives it. */
interface SurfaceLook {
  category: string;
  color: Rgba;
}

const LOOKS: Record<string, SurfaceLook> = {
  ExteriorWall: { category: 'Exterior wall', color: [0.8, 0.66, 0.5, 1] },
  InteriorWall: { category: 'Interior wall', color: [0.91, 0.87, 0.78, 1] },
  UndergroundWall: { category: 'Underground wall', color: [0.55, 0.5, 0.45, 1] },
  Roof: { category: 'Roof', color: [0.61, 0.36, 0.3, 1] },
  Ceiling: { category: 'Ceiling', color: [0.95, 0.93, 0.88, 1] },
  UndergroundCeiling: { category: 'Underground ceiling', color: [0.72, 0.68, 0.62, 1] },
  InteriorFloor: { category: 'Interior floor', color: [0.76, 0.69, 0.56, 1] },
  ExposedFloor: { category: 'Exposed floor', color: [0.68, 0.6, 0.46, 1] },
  RaisedFloor: { category: 'Raised floor', color: [0.72, 0.65, 0.5, 1] },
  SlabOnGrade: { category: 'Slab on grade', color: [0.6, 0.58, 0.54, 1] },
  UndergroundSlab: { category: 'Underground slab', color: [0.5, 0.48, 0.45, 1] },
  Shade: { category: 'Shade', color: [0.45, 0.52, 0.44, 0.6] },
  Air: { category: 'Air boundary', color: [0.7, 0.78, 0.84, 0.25] },
  FixedWindow: { category: 'Window', color: [0.55, 0.7, 0.8, 0.45] },
  OperableWindow: { category: 'Window', color: [0.55, 0.7, 0.8, 0.45] },
  FixedSkylight: { category: 'Skylight', color: [0.6, 0.75, 0.85, 0.45] },
  OperableSkylight: { category: 'Skylight', color: [0.6, 0.75, 0.85, 0.45] },
  SlidingDoor: { category: 'Door', color: [0.5, 0.4, 0.32, 1] },
  NonSlidingDoor: { category: 'Door', color: [0.5, 0.4, 0.32, 1] },
  Space: { category: 'Space', color: [0.85, 0.8, 0.65, 0.3] },
};

/** A type that the schema does not know keeps its name, in plain words. */
export function surfaceLook(type: string): SurfaceLook {
  const words = type.replace(/(?<=[a-z0-9])(?=[A-Z])/g, ' ').toLowerCase();
  return LOOKS[type] ?? { category: words.charAt(0).toUpperCase() + words.slice(1), color: [0.85, 0.82, 0.76, 1] };
}

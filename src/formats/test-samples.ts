import { buffer } from 'node:stream/consumers';
import { ZipFile } from 'yazl';

/** Small files of every format, written by hand, for tests. */

/** Files by their paths in one archive. */
export async function zip(parts: Record<string, string | Uint8Array>): Promise<Buffer> {
  const archive = new ZipFile();
  for (const [name, content] of Object.entries(parts)) archive.addBuffer(Buffer.from(content as string), name);
  archive.end();
  return buffer(archive.outputStream as unknown as AsyncIterable<Buffer>);
}

/** A table 1200 x 700 x 740 in millimetres, Y up: a top and one leg, each a box, in two objects with materials. */
export const TABLE_OBJ = `# Made by hand
mtllib Table.mtl
o Top
usemtl oak
${box(0, 700, 0, 1200, 740, 700, 0)}
o Leg
usemtl steel
${box(0, 0, 0, 50, 700, 50, 8)}
`;
export const TABLE_MTL = `newmtl oak
Kd 0.8 0.6 0.4
newmtl steel
Kd 0.5 0.5 0.55
d 0.4
`;

/** Corners and faces of a box as OBJ lines. */
function box(x0: number, y0: number, z0: number, x1: number, y1: number, z1: number, before: number): string {
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((i) => `v ${i & 1 ? x1 : x0} ${i & 2 ? y1 : y0} ${i & 4 ? z1 : z0}`);
  const faces = ['1 3 4 2', '5 6 8 7', '1 2 6 5', '3 7 8 4', '1 5 7 3', '2 4 8 6'].map(
    (face) =>
      `f ${face
        .split(' ')
        .map((corner) => Number(corner) + before)
        .join(' ')}`,
  );
  return [...corners, ...faces].join('\n');
}

/** A tetrahedron as binary STL. */
export function binaryStl(header = 'solid in name only'): Buffer {
  const corners = [
    [0, 0, 0],
    [2, 0, 0],
    [0, 2, 0],
    [0, 0, 2],
  ];
  const faces = [
    [0, 2, 1],
    [0, 1, 3],
    [1, 2, 3],
    [2, 0, 3],
  ];
  const bytes = Buffer.alloc(84 + 50 * faces.length);
  bytes.write(header, 0, 'latin1');
  bytes.writeUInt32LE(faces.length, 80);
  faces.forEach((face, f) =>
    face.forEach((corner, c) =>
      corners[corner]!.forEach((value, axis) => bytes.writeFloatLE(value, 84 + f * 50 + 12 + c * 12 + axis * 4)),
    ),
  );
  return bytes;
}

export const TEXT_STL = `solid sheet
facet normal 0 0 1
 outer loop
  vertex 0 0 0
  vertex 3 0 0
  vertex 0 1 0
 endloop
endfacet
endsolid sheet
`;

export const PLY = `ply
format ascii 1.0
comment Scanned in Lindenau
element vertex 4
property float x
property float y
property float z
property uchar red
property uchar green
property uchar blue
element face 2
property list uchar int vertex_indices
end_header
0 0 0 255 0 0
4 0 0 255 0 0
4 0 3 0 0 128
0 0 3 0 0 128
3 0 1 2
3 0 2 3
`;

export const DAE = `<?xml version="1.0" encoding="utf-8"?>
<COLLADA xmlns="http://www.collada.org/2005/11/COLLADASchema" version="1.4.1">
  <asset><contributor><authoring_tool>Hand &amp; eye</authoring_tool></contributor>
    <unit name="centimeter" meter="0.01"/><up_axis>Z_UP</up_axis></asset>
  <library_effects><effect id="e"><profile_COMMON><technique sid="t"><lambert>
    <diffuse><color>0.6 0.2 0.1 1</color></diffuse></lambert></technique></profile_COMMON></effect></library_effects>
  <library_materials><material id="m" name="Clay"><instance_effect url="#e"/></material></library_materials>
  <library_geometries><geometry id="g" name="Tile"><mesh>
    <source id="p"><float_array id="pa" count="12">0 0 0 30 0 0 30 20 0 0 20 0</float_array>
      <technique_common><accessor source="#pa" count="4" stride="3"><param name="X" type="float"/><param name="Y" type="float"/><param name="Z" type="float"/></accessor></technique_common></source>
    <vertices id="v"><input semantic="POSITION" source="#p"/></vertices>
    <triangles material="s" count="2"><input semantic="VERTEX" source="#v" offset="0"/><p>0 1 2 0 2 3</p></triangles>
  </mesh></geometry></library_geometries>
  <library_visual_scenes><visual_scene id="vs"><node id="n1" name="Step one"><translate>100 0 50</translate>
    <instance_geometry url="#g"><bind_material><technique_common><instance_material symbol="s" target="#m"/></technique_common></bind_material></instance_geometry></node></visual_scene></library_visual_scenes>
  <scene><instance_visual_scene url="#vs"/></scene>
</COLLADA>
`;

const TYPES = `<?xml version="1.0"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"/>`;
export const MODEL_3MF = `<?xml version="1.0"?>
<model unit="centimeter" xmlns="http://schemas.microsoft.com/3dmanufacturing/core/2015/02">
 <metadata name="Application">By hand</metadata>
 <resources>
  <basematerials id="1"><base name="Red wax" displaycolor="#FF0000"/><base name="Water" displaycolor="#0000FF80"/></basematerials>
  <object id="2" name="Wedge" partnumber="W-7" pid="1" pindex="0"><mesh>
   <vertices><vertex x="0" y="0" z="0"/><vertex x="10" y="0" z="0"/><vertex x="0" y="10" z="0"/><vertex x="0" y="0" z="10"/></vertices>
   <triangles><triangle v1="0" v2="2" v3="1"/><triangle v1="0" v2="1" v3="3"/><triangle v1="1" v2="2" v3="3" p1="1"/><triangle v1="2" v2="0" v3="3"/></triangles>
  </mesh></object>
  <object id="3" name="Pair"><components><component objectid="2"/><component objectid="2" transform="1 0 0 0 1 0 0 0 1 20 0 0"/></components></object>
 </resources>
 <build><item objectid="3" transform="0 1 0 -1 0 0 0 0 1 0 0 5"/></build>
</model>`;
export const threeMf = (model: string) => zip({ '[Content_Types].xml': TYPES, '3D/3dmodel.model': model });

export const GBXML = `<?xml version="1.0" encoding="UTF-16"?>
<gbXML xmlns="http://www.gbxml.org/schema" version="6.01" lengthUnit="Feet" areaUnit="SquareFeet">
 <Campus id="c"><Building id="b" buildingType="Library">
  <BuildingStorey id="s2"><Name>Upper</Name><Level>10</Level></BuildingStorey>
  <BuildingStorey id="s1"><Name>Ground</Name><Level>0</Level></BuildingStorey>
  <Space id="sp1" buildingStoreyIdRef="s1" zoneIdRef="z"><Name>Reading</Name><Area>200</Area><Volume>2000</Volume><PeopleNumber unit="NumberOfPeople">12</PeopleNumber></Space>
 </Building>
 <Surface id="su1" surfaceType="ExteriorWall" constructionIdRef="k1"><Name>South</Name><AdjacentSpaceId spaceIdRef="sp1"/>
  <PlanarGeometry>${loop([
    [0, 0, 0],
    [20, 0, 0],
    [20, 0, 10],
    [0, 0, 10],
  ])}</PlanarGeometry>
  <Opening id="op1" openingType="FixedWindow"><Name>Window</Name><PlanarGeometry>${loop([
    [5, 0, 3],
    [10, 0, 3],
    [10, 0, 7],
    [5, 0, 7],
  ])}</PlanarGeometry></Opening>
 </Surface>
 <Surface id="su2" surfaceType="Roof"><PlanarGeometry>${loop([
   [0, 0, 10],
   [20, 0, 10],
   [20, 10, 10],
   [0, 10, 10],
 ])}</PlanarGeometry></Surface>
 <Surface id="su3" surfaceType="Shade"><PlanarGeometry>${loop([
   [0, 0, 0],
   [1, 0, 0],
 ])}</PlanarGeometry></Surface>
 </Campus>
 <DocumentHistory><ProgramInfo id="p"><ProductName>By hand</ProductName></ProgramInfo></DocumentHistory>
</gbXML>`;

function loop(points: number[][]): string {
  const at = points.map(
    (p) => `<CartesianPoint>${p.map((v) => `<Coordinate>${v}</Coordinate>`).join('')}</CartesianPoint>`,
  );
  return `<PolyLoop>${at.join('')}</PolyLoop>`;
}

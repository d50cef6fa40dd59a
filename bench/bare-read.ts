import { readFileSync } from 'node:fs';
import { IfcAPI } from 'web-ifc';

/** The reference of `publish`: the reader library opens an IFC file and tessellates all of it, in one thread. */
async function bareRead(path: string): Promise<number> {
  const api = new IfcAPI();
  await api.Init();
  const model = api.OpenModel(readFileSync(path), { COORDINATE_TO_ORIGIN: false, CIRCLE_SEGMENTS: 16 });
  let triangles = 0;
  api.StreamAllMeshes(model, (mesh) => {
    for (let i = 0; i < mesh.geometries.size(); i++) {
      const geometry = api.GetGeometry(model, mesh.geometries.get(i).geometryExpressID);
      api.GetVertexArray(geometry.GetVertexData(), geometry.GetVertexDataSize());
      triangles += api.GetIndexArray(geometry.GetIndexData(), geometry.GetIndexDataSize()).length / 3;
      geometry.delete();
    }
  });
  api.CloseModel(model);
  return triangles;
}

void bareRead(process.argv[2]!).then((triangles) => process.stdout.write(String(triangles)));

import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { BuildingModel } from '../building-model';
import { readModel } from '../read-model';
import { extrusion, ifcFile, proxy, rectangle } from './test-file';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'facts-'));
});
afterAll(() => rm(folder, { recursive: true }));

async function read(lines: string): Promise<BuildingModel> {
  const path = join(folder, 'facts.ifc');
  const box = proxy(100, 'Thing', '#110') + extrusion(110, rectangle(1, 1), 1);
  await writeFile(path, ifcFile(box + lines));
  return readModel(path, 'facts.ifc');
}

const factsOf = (model: BuildingModel, name = 'Thing') => model.properties[model.elements.name.indexOf(name)]!;
const guid = (id: number) => `'R${String(id).padStart(21, '0')}'`;
const defines = (id: number, what: number, whom = '#100') =>
  `#${id}=IFCRELDEFINESBYPROPERTIES(${guid(id)},#5,$,$,(${whom}),#${what});
`;

describe('facts', () => {
  it('keep their kind: texts, numbers, truth values, unknowns', async () => {
    const model = await read(
      `#200=IFCPROPERTYSET(${guid(200)},#5,'Pset_Test',$,(#201,#202,#203,#204,#205,#206));
#201=IFCPROPERTYSINGLEVALUE('Label',$,IFCLABEL('EI 60'),$);
#202=IFCPROPERTYSINGLEVALUE('Length',$,IFCLENGTHMEASURE(2.5),$);
#203=IFCPROPERTYSINGLEVALUE('Yes',$,IFCBOOLEAN(.T.),$);
#204=IFCPROPERTYSINGLEVALUE('No',$,IFCLOGICAL(.F.),$);
#205=IFCPROPERTYSINGLEVALUE('Count',$,IFCINTEGER(7),$);
#206=IFCPROPERTYSINGLEVALUE('Nothing',$,$,$);
` + defines(210, 200),
    );
    expect(factsOf(model).Pset_Test).toEqual({
      Label: 'EI 60',
      Length: 2.5,
      Yes: true,
      No: false,
      Count: 7,
      Nothing: null,
    });
  });

  it('of several values become one text, and nested ones carry the path of their names', async () => {
    const model = await read(
      `#200=IFCPROPERTYSET(${guid(200)},#5,'Pset_Many',$,(#201,#202,#203,#204));
#201=IFCPROPERTYENUMERATEDVALUE('Status',$,(IFCLABEL('NEW'),IFCLABEL('TEMPORARY')),$);
#202=IFCPROPERTYLISTVALUE('Widths',$,(IFCREAL(0.8),IFCREAL(0.9)),$);
#203=IFCPROPERTYBOUNDEDVALUE('Temperature',$,IFCREAL(26.),IFCREAL(19.),$,$);
#204=IFCCOMPLEXPROPERTY('Glazing',$,'Layers',(#205,#206));
#205=IFCPROPERTYSINGLEVALUE('Panes',$,IFCINTEGER(3),$);
#206=IFCCOMPLEXPROPERTY('Coating',$,'Coat',(#207));
#207=IFCPROPERTYSINGLEVALUE('Side',$,IFCLABEL('inner'),$);
` + defines(210, 200),
    );
    expect(factsOf(model).Pset_Many).toEqual({
      Status: 'NEW, TEMPORARY',
      Widths: '0.8, 0.9',
      Temperature: '19 – 26',
      'Glazing / Panes': 3,
      'Glazing / Coating / Side': 'inner',
    });
  });

  it('include quantities, and those of the type where the element has none of its own', async () => {
    const model = await read(
      `#200=IFCELEMENTQUANTITY(${guid(200)},#5,'Qto_Test',$,$,(#201,#202));
#201=IFCQUANTITYAREA('NetArea',$,$,12.5,$);
#202=IFCQUANTITYVOLUME('NetVolume',$,$,3.75,$);
` +
        defines(210, 200) +
        `#220=IFCBUILDINGELEMENTPROXYTYPE(${guid(220)},#5,'Bench type',$,$,(#221),$,$,$,.NOTDEFINED.);
#221=IFCPROPERTYSET(${guid(221)},#5,'Pset_Type',$,(#222,#223));
#222=IFCPROPERTYSINGLEVALUE('Maker',$,IFCLABEL('Moos'),$);
#223=IFCPROPERTYSINGLEVALUE('Colour',$,IFCLABEL('red'),$);
#224=IFCRELDEFINESBYTYPE(${guid(224)},#5,$,$,(#100),#220);
#230=IFCPROPERTYSET(${guid(230)},#5,'Pset_Type',$,(#231));
#231=IFCPROPERTYSINGLEVALUE('Colour',$,IFCLABEL('green'),$);
` +
        defines(232, 230),
    );
    const facts = factsOf(model);
    expect(facts.Qto_Test).toEqual({ NetArea: 12.5, NetVolume: 3.75 });
    expect(facts.Pset_Type).toEqual({ Maker: 'Moos', Colour: 'green' });
    expect(facts.Identity).toMatchObject({ Class: 'IfcBuildingElementProxy', Type: 'Bench type' });
  });
});

describe('places', () => {
  it('are found through wholes, rooms and storeys', async () => {
    const model = await read(
      `#200=IFCSPACE(${guid(200)},#5,'0.12',$,$,#12,$,'Reading hall',.ELEMENT.,.INTERNAL.,$);
#201=IFCRELAGGREGATES(${guid(201)},#5,$,$,#13,(#200));
#202=IFCFURNITURE(${guid(202)},#5,'Table',$,$,#12,$,$,$);
#203=IFCRELCONTAINEDINSPATIALSTRUCTURE(${guid(203)},#5,$,$,(#202),#200);
#204=IFCRELAGGREGATES(${guid(204)},#5,$,$,#202,(#100));
`,
    );
    const { name, storey, room, parent } = model.elements;
    expect(name).toEqual(expect.arrayContaining(['Thing', '0.12 Reading hall', 'Table']));
    const thing = name.indexOf('Thing');
    expect(model.storeys[storey[thing]!]!.name).toBe('Ground');
    expect(room[thing]).toBe('0.12 Reading hall');
    expect(name[parent[thing]!]).toBe('Table');
  });

  it('that go round in circles end', async () => {
    const model = await read(
      `#202=IFCFURNITURE(${guid(202)},#5,'Table',$,$,#12,$,$,$);
#204=IFCRELAGGREGATES(${guid(204)},#5,$,$,#202,(#100));
#205=IFCRELAGGREGATES(${guid(205)},#5,$,$,#100,(#202));
`,
    );
    expect(model.elements.storey).toEqual([-1, -1]);
  });

  it('know their systems', async () => {
    const model = await read(
      `#200=IFCDISTRIBUTIONSYSTEM(${guid(200)},#5,'Supply air',$,$,$,.VENTILATION.);
#201=IFCRELASSIGNSTOGROUP(${guid(201)},#5,$,$,(#100),$,#200);
#202=IFCZONE(${guid(202)},#5,'Public',$,$,$);
#203=IFCRELASSIGNSTOGROUP(${guid(203)},#5,$,$,(#100),$,#202);
`,
    );
    expect(model.elements.system[0]).toBe('Supply air, Public');
  });

  it('on earth come from the site, the map conversion and true north', async () => {
    const model = await read(
      `#200=IFCSITE(${guid(200)},#5,'Site',$,$,#12,$,$,.ELEMENT.,(60,10,15,0),(24,56,15,500000),12.,$,$);
#201=IFCPROJECTEDCRS('EPSG:3067',$,$,$,$,$,$);
#202=IFCMAPCONVERSION(#10,#201,385000.,6672000.,12.5,0.,1.,$);
`,
    );
    expect(model.georeference).toMatchObject({
      crs: 'EPSG:3067',
      eastings: 385000,
      northings: 6672000,
      orthogonalHeight: 12.5,
      mapTurn: Math.PI / 2,
    });
    expect(model.georeference!.latitude).toBeCloseTo(60 + 10 / 60 + 15 / 3600, 9);
    expect(model.georeference!.longitude).toBeCloseTo(24 + 56 / 60 + 15.5 / 3600, 9);
  });
});

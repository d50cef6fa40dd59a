import { expect, it } from 'vitest';
import { comesInParts, disciplineOf, isModelFile, isPartFile, modelNameOf, modelOfFile } from './incoming-file';

it('knows models, archives and parts by their endings, whatever the case', () => {
  expect(['House.IFC', 'a.b.glb', 'chair.obj.zip', 'energy.xml'].every(isModelFile)).toBe(true);
  expect(['notes.txt', 'ifc', 'plan.pdf', 'house.ifc.part', 'chair.mtl'].some(isModelFile)).toBe(false);
  expect(['chair.MTL', 'scene.bin', 'oak.JPEG'].every(isPartFile)).toBe(true);
  expect([comesInParts('chair.obj'), comesInParts('chair.glb')]).toEqual([true, false]);
});

it('finds the model of which a file is the next revision', () => {
  const models = [
    { id: 'a', revisions: [{ fileName: 'house-P01.ifc' }, { fileName: 'house-P02.ifc' }] },
    { id: 'b', revisions: [{ fileName: 'chairs.obj.zip' }] },
  ];
  const found = ['House-p03.IFC', 'house_v12.glb', 'house.ifc', 'chairs.obj.zip', 'chairs2.obj.zip', 'houses.ifc'].map(
    (name) => modelOfFile(models, name)?.id,
  );
  expect(found).toEqual(['a', 'a', 'a', 'b', 'b', undefined]);
  expect(modelNameOf('chairs.obj.zip')).toBe('chairs');
  expect(modelNameOf('east.wing.ifc')).toBe('east.wing');
});

it('guesses the discipline from the name', () => {
  expect(['library-Structure.ifc', 'HVAC level 2.ifc', 'landscape.glb', 'house.ifc'].map(disciplineOf)).toEqual([
    'Structure',
    'Building services',
    'Landscape',
    'Architecture',
  ]);
});

import { expect, test, type Page } from '@playwright/test';
import sharp from 'sharp';
import { extrusion, ifcFile, proxy, rectangle } from '../../src/formats/ifc/test-file';
import { expectNoViolations, modelArrived, newProject, signIn, stage } from './steps';

// What is counted is what a person would see.
test.use({ deviceScaleFactor: 1 });

/** A shelf of two boards and a lamp, drawn in millimetres with Y up: an OBJ says neither. */
const OBJ = `mtllib shelf.mtl
o Lower board
usemtl oak
${board(0, 0)}
o Upper board
usemtl oak
${board(400, 4)}
o Draft lamp
usemtl oak
${board(900, 8)}
`;
const MTL = 'newmtl oak\nKd 0.8 0.6 0.4\n';

function board(height: number, before: number): string {
  const corners = [
    [0, 0],
    [1200, 0],
    [1200, 300],
    [0, 300],
  ].map(([x, z]) => `v ${x} ${height} ${z}`);
  return [...corners, `f ${[1, 2, 3, 4].map((corner) => corner + before).join(' ')}`].join('\n');
}

test('a designer looks first: agrees with the size, withholds a part, publishes; the next file keeps to it', async ({
  page,
}) => {
  await signIn(page);
  const project = await newProject(page, 'Looking first');
  const files = [
    { name: 'shelf.obj', mimeType: 'text/plain', buffer: Buffer.from(OBJ) },
    { name: 'shelf.mtl', mimeType: 'text/plain', buffer: Buffer.from(MTL) },
  ];
  await page.getByLabel('Model files').setInputFiles(files);
  await page.getByRole('button', { name: 'Publish', exact: true }).click();
  // Nobody is shown a model whose size was only guessed.
  await page.getByRole('link', { name: 'Look and publish' }).click({ timeout: 40_000 });
  await expect(page.getByText(/span 1200; read as millimetres, the model is 1.2 m long/)).toBeVisible();
  await expect(page.getByRole('checkbox', { name: /Object 3/ })).toBeChecked();
  await expectNoViolations(page);

  // It was drawn in centimetres after all: it is read again, and shown at its new size.
  await page.getByLabel('The file counts in').selectOption('centimetres');
  await page.getByRole('button', { name: 'Show it like that' }).click();
  await expect(page.getByText('Read as you chose it.')).toBeVisible({ timeout: 40_000 });

  await page.getByLabel('Search the elements').fill('draft');
  await expect(page.getByText('1 found')).toBeVisible();
  await page.getByRole('button', { name: 'Withhold them' }).click();
  await page.getByRole('button', { name: 'Colours and materials' }).click();
  await page.getByLabel('Change', { exact: true }).selectOption('a material');
  await page.getByLabel('Which').selectOption('oak');
  await page.getByLabel('Material is called').fill('Oak, oiled');
  await page.getByRole('button', { name: 'Change it' }).click();
  await expect(page.getByRole('list', { name: 'Rules' })).toContainText('oak: colour #b8793c, called Oak, oiled');
  await expectNoViolations(page);
  await page.getByRole('button', { name: 'Publish 2 elements' }).click();
  await page.waitForURL('**/prepare', { timeout: 40_000 });
  const revisions = page.getByRole('list', { name: 'Revisions of shelf' });
  await expect(revisions.getByText('P01', { exact: true })).toBeVisible({ timeout: 40_000 });
  await expect(revisions.getByText('1 element withheld')).toBeVisible();
  await expect(revisions.getByText('Colours and materials changed by 1 rule')).toBeVisible();

  // The next file of the same model is read and revealed by the same decisions, without a question.
  await page.getByLabel('Model files').setInputFiles(files);
  await expect(page.getByLabel('Publish as')).toHaveValue(/[0-9a-f-]{36}/);
  await page.getByRole('button', { name: 'Publish', exact: true }).click();
  await expect(revisions.getByText('P02', { exact: true })).toBeVisible({ timeout: 40_000 });
  await page.goto(`/projects/${project}/review`);
  await modelArrived(page);
  await page.getByRole('button', { name: 'Contents' }).click();
  await page.getByLabel('Search the contents').fill('board');
  await expect(page.getByText('2 found')).toBeVisible();
  await page.getByLabel('Search the contents').fill('lamp');
  await expect(page.getByText(/found/)).toHaveCount(0);

  // On second thoughts the lamp may be seen and a board not: the file is kept, and what was decided is changed.
  await page.goto(`/projects/${project}/prepare`);
  await page.getByRole('button', { name: 'Acts on P02' }).click();
  await page.getByRole('menuitem', { name: 'Decide anew what it shows' }).click();
  const contents = page.getByRole('list', { name: 'Contents' });
  await expect(contents.getByRole('checkbox', { name: /Object 2 of 3/ })).toBeVisible({ timeout: 40_000 });
  await contents.getByRole('button', { name: 'What is in Object' }).click();
  await contents.getByRole('checkbox', { name: 'Draft lamp' }).press('Space');
  await expect(contents.getByRole('checkbox', { name: /Object 3/ })).toBeChecked();
  await contents.getByRole('checkbox', { name: 'Upper board' }).press('Space');
  // What is ticked may become a model of its own, and one goes on.
  await page.getByText('Publish what is ticked as a model of its own').click();
  const own = page.getByRole('textbox', { name: 'Name of the new model' });
  await own.fill('Lamp and board');
  await expectNoViolations(page);
  await own.press('Enter');
  await expect(page.getByText('“Lamp and board” is on its way.')).toBeVisible();
  await page.getByRole('button', { name: 'Publish 2 elements' }).click();
  await page.waitForURL('**/prepare', { timeout: 40_000 });
  const part = page.getByRole('list', { name: 'Revisions of Lamp and board' });
  await expect(part.getByText('P01', { exact: true })).toBeVisible({ timeout: 40_000 });
  await expect(revisions.getByText('P03', { exact: true })).toBeVisible({ timeout: 40_000 });
  await page.goto(`/projects/${project}/review`);
  await modelArrived(page);
  await page.getByRole('button', { name: 'Contents' }).click();
  await page.getByLabel('Search the contents').fill('board');
  await expect(page.getByText('1 found')).toHaveCount(2); // in either model
});

test('what mending will do shows before it is done; what was only looked at can be discarded', async ({ page }) => {
  await signIn(page);
  await newProject(page, 'Second thoughts');
  const room = [
    solid('Floor', 'grey', [0, 0, -0.3], [8, 6, 0.3], 0),
    solid('Carpet', 'red', [1, 1, -0.0207], [4, 3, 0.02], 1),
    solid('Chest', 'oak', [6, 4, 0], [1, 1, 1], 2, true),
  ];
  const mtl = 'newmtl grey\nKd 0.7 0.7 0.7\nnewmtl red\nKd 0.6 0.1 0.1\nnewmtl oak\nKd 0.7 0.6 0.5\n';
  await page.getByLabel('Model files').setInputFiles([
    { name: 'room.obj', mimeType: 'text/plain', buffer: Buffer.from(`mtllib room.mtl\n${room.join('\n')}\n`) },
    { name: 'room.mtl', mimeType: 'text/plain', buffer: Buffer.from(mtl) },
  ]);
  await page.getByRole('button', { name: 'Look at it first' }).click();
  await page.getByRole('link', { name: 'Look and publish' }).click({ timeout: 40_000 });
  const noticed = page.getByRole('region', { name: 'What was noticed' });
  // The carpet lies less than a millimetre under the floor's face, and shows once it is lifted.
  const isRed: Colour = (r, g, b) => r > 90 && g < 60 && b < 60;
  await expect.poll(() => pixels(page, (r) => r < 200)).toBeGreaterThan(1000);
  expect(await pixels(page, isRed)).toBeLessThan(100);
  await noticed.getByRole('checkbox', { name: /Lift by some millimetres/ }).press('Space');
  await expect.poll(() => pixels(page, isRed)).toBeGreaterThan(1000);
  // What was found is marked, and shows through what stands before it.
  await noticed.getByRole('checkbox', { name: /Lift by some millimetres/ }).press('Space');
  const isMarked: Colour = (r, g, b) => b > g + 20 && b > 60 && r < 120;
  const figure = await pixels(page, isMarked); // indigo as well
  await noticed.getByRole('button', { name: /^Show: . flickering/ }).click();
  await expect.poll(() => pixels(page, isMarked)).toBeGreaterThan(figure + 1000);
  // Faces that are seen from behind are ochre, until they are to be turned.
  const isOchre: Colour = (r, g, b) => r > 120 && b < 40 && g > 80;
  expect(await pixels(page, isOchre)).toBe(0);
  await noticed.getByRole('button', { name: 'Show: 1 turned inside out' }).click();
  await expect.poll(() => pixels(page, isOchre)).toBeGreaterThan(1000);
  await noticed.getByRole('checkbox', { name: /Turn round/ }).press('Space');
  await expect.poll(() => pixels(page, isOchre)).toBe(0);
  await expect(noticed.getByText('As it will be')).toBeVisible();
  await expectNoViolations(page);

  await page.getByRole('button', { name: 'Discard' }).click();
  await page.waitForURL('**/prepare');
  await expect(page.getByText('No model yet.')).toBeVisible();
});

type Colour = (r: number, g: number, b: number) => boolean;

/** How many pixels of the stage are of a colour. */
async function pixels(page: Page, isOf: Colour): Promise<number> {
  const { data, info } = await sharp(await stage(page).screenshot())
    .raw()
    .toBuffer({ resolveWithObject: true });
  let count = 0;
  for (let i = 0; i < data.length; i += info.channels) if (isOf(data[i]!, data[i + 1]!, data[i + 2]!)) count++;
  return count;
}

/** A box as OBJ. @param nth how many stand before it @param isTurned whether its faces look inwards */
function solid(name: string, material: string, at: number[], size: number[], nth: number, isTurned = false): string {
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((k) =>
    [k & 1, (k >> 1) & 1, k >> 2].map((on, i) => at[i]! + on * size[i]!),
  );
  const faces = ['1 3 4 2', '5 6 8 7', '1 2 6 5', '2 4 8 6', '4 3 7 8', '3 1 5 7'].map((face) => {
    const numbers = face.split(' ').map((corner) => Number(corner) + nth * 8);
    return `f ${(isTurned ? numbers.reverse() : numbers).join(' ')}`;
  });
  return [`o ${name}`, `usemtl ${material}`, ...corners.map((corner) => `v ${corner.join(' ')}`), ...faces].join('\n');
}

test('what was noticed in a file is shown in its place, and mended as agreed', async ({ page }) => {
  await signIn(page);
  await newProject(page, 'Flaws');
  const at = (id: number, x: number) => `#${id}=IFCLOCALPLACEMENT($,#${id + 1});
#${id + 1}=IFCAXIS2PLACEMENT3D(#${id + 2},$,$);
#${id + 2}=IFCCARTESIANPOINT((${x}.,0.,0.));
`;
  const posts = [0, 3, 6, 9, 12, 12, 5000].map((x, i) => {
    const id = 1000 + i * 20;
    return (
      proxy(id, `Post ${i + 1}`, `#${id + 5}`, 'SweptSolid', `#${id + 9}`) +
      extrusion(id + 5, rectangle(1, 1), 3) +
      at(id + 9, x)
    );
  });
  await page.getByLabel('Model files').setInputFiles({
    name: 'posts.ifc',
    mimeType: 'application/x-step',
    buffer: Buffer.from(ifcFile(posts.join('') + proxy(2000, 'Knob', '#2010', 'Tessellation') + ball(2010, 0.03, 60))),
  });
  await page.getByRole('button', { name: 'Look at it first' }).click();
  await page.getByRole('link', { name: 'Look and publish' }).click({ timeout: 40_000 });
  const noticed = page.getByRole('region', { name: 'What was noticed' });
  await expect(noticed.getByText('1 far from the building', { exact: true })).toBeVisible();
  const foretold = await noticed.getByText(/would look the same, off by 0\.\d mm at most/).innerText();
  const [, left] = /model’s triangles\. (\d\s\d{3} triangles instead of [67]\s\d{3}) would/.exec(foretold)!;
  await noticed.getByRole('button', { name: 'Show: 1 standing twice in one place' }).click();
  await noticed.getByRole('checkbox', { name: /Leave out *: 1 far/ }).press('Space');
  await noticed.getByRole('checkbox', { name: /Leave out *: 1 standing twice/ }).press('Space');
  await noticed.getByRole('checkbox', { name: /Make simpler/ }).press('Space');
  await expectNoViolations(page);
  await page.getByRole('button', { name: 'Publish', exact: true }).click();
  await page.waitForURL('**/prepare', { timeout: 40_000 });
  const revisions = page.getByRole('list', { name: 'Revisions of posts' });
  await expect(revisions.getByText('P01', { exact: true })).toBeVisible({ timeout: 40_000 });
  await expect(revisions.getByText(/6 elements/)).toBeVisible();
  await expect(
    revisions.getByText(
      `Mended: 1 far from the building, 1 standing twice in one place, 1 finer than one can see (${left})`,
    ),
  ).toBeVisible();
});

/** A ball of so many steps from pole to pole and around, as triangles; two lines from `id`. */
function ball(id: number, radius: number, steps: number): string {
  const points: string[] = [];
  const faces: string[] = [];
  const at = (ring: number, step: number) => ring * steps + (step % steps) + 1;
  for (let ring = 0; ring <= steps; ring++)
    for (let step = 0; step < steps; step++) {
      const [up, turn] = [(Math.PI * ring) / steps, (2 * Math.PI * step) / steps];
      const place = [Math.sin(up) * Math.cos(turn), Math.sin(up) * Math.sin(turn), Math.cos(up)];
      points.push(`(${place.map((part) => (part * radius).toFixed(6)).join()})`);
      if (ring === steps) continue;
      if (ring > 0) faces.push(`(${at(ring, step)},${at(ring + 1, step)},${at(ring, step + 1)})`);
      if (ring < steps - 1) faces.push(`(${at(ring, step + 1)},${at(ring + 1, step)},${at(ring + 1, step + 1)})`);
    }
  return `#${id}=IFCTRIANGULATEDFACESET(#${id + 1},$,.T.,(${faces.join()}),$);
#${id + 1}=IFCCARTESIANPOINTLIST3D((${points.join()}));
`;
}

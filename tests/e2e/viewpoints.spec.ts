import { expect, test } from '@playwright/test';
import sharp, { type Region } from 'sharp';
import { LEAD, modelArrived, openLibrary, signIn } from './steps';

test.use({ viewport: { width: 1280, height: 800 } });

test('viewpoints in groups, with questions, drafts and a link; and pictures that are kept', async ({
  page,
  browser,
}) => {
  test.setTimeout(240_000);
  await signIn(page);
  const project = await openLibrary(page);
  const order = page.getByRole('region', { name: 'Running order' });

  // A draft is seen by its author alone.
  await order.getByRole('button', { name: 'Save this view' }).click();
  await order.getByLabel('Name of the viewpoint').fill('Draft of mine');
  await order.getByText('Only for me').click();
  await order.getByRole('button', { name: 'Save', exact: true }).click();
  const draft = order.getByRole('button', { name: /Viewpoint \d+: Draft of mine/ });
  await expect(draft).toBeVisible();
  await expect(order.getByLabel('Only for you')).toBeVisible();

  // A question, a time and a group; all of it can be taken back.
  await order.getByRole('button', { name: 'Acts on Draft of mine' }).press('Enter');
  await page.getByRole('menuitem', { name: /question/ }).click();
  const details = page.getByRole('dialog');
  await details.getByLabel('Question to decide').fill('Wide enough?');
  await details.getByLabel('Minutes').fill('0');
  await expect(details.getByRole('button', { name: 'Save' })).toBeDisabled();
  await details.getByLabel('Minutes').fill('7');
  await details.getByLabel('Group').fill('Doors');
  await details.getByText('Where one looks from').click();
  await details.getByRole('button', { name: 'Save' }).click();
  await expect(order.getByText('Wide enough?')).toBeVisible();
  await expect(order.getByText(/7 min left/)).toBeVisible();
  await expect(order.getByRole('listitem', { name: 'Group Doors' })).toBeAttached();
  await order.getByRole('button', { name: 'Undo' }).click();
  await expect(order.getByText('Wide enough?')).toBeHidden();

  // Found by a word; played by itself.
  await order.getByRole('button', { name: 'Find a viewpoint' }).click();
  await order.getByLabel('Words in viewpoints').fill('vaulted');
  await expect(order.getByRole('button', { name: /^Viewpoint/ })).toHaveCount(1);
  await order.getByRole('button', { name: 'Find a viewpoint' }).click();
  await order.getByRole('button', { name: 'Play by itself' }).click();
  await page.getByLabel('How long each viewpoint shows').selectOption('5');
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(order.getByRole('button', { name: 'Viewpoint 2: From above' })).toHaveAttribute('aria-current', 'step', { timeout: 20_000 }); // prettier-ignore
  await order.getByRole('button', { name: 'Stop playing' }).click();
  await order.getByRole('button', { name: 'Delete Draft of mine' }).press('Enter');
  await expect(draft).toBeHidden();

  // A picture is taken, kept, chosen and saved; the pins of comments are in it unless they are not wanted.
  const shown = (await (await page.request.get(`/api/projects/${project}/viewpoints`)).json()) as {
    name: string;
    state: { camera: { target: number[] } };
  }[];
  const point = shown.find(({ name }) => name === 'From above')!.state.camera.target;
  const said = { text: 'Here?', anchor: { element: null, point } };
  expect((await page.request.post(`/api/projects/${project}/comments`, { data: said })).ok()).toBe(true);
  const pin = await page.getByRole('button', { name: /^Comment \d+ by Ines/ }).boundingBox();
  await page.getByRole('button', { name: 'Pictures' }).click();
  const library = page.getByRole('dialog', { name: 'Pictures' });
  await library.getByLabel('Name', { exact: true }).fill('From above, spring');
  await library.getByLabel('Size').selectOption('1');
  await library.getByRole('button', { name: 'Take a picture' }).click();
  await expect(library.getByRole('img', { name: 'From above, spring' })).toBeVisible({ timeout: 30_000 });
  await library.getByText('1280 × 800').waitFor();
  await library.getByRole('checkbox', { name: 'Choose From above, spring' }).check({ force: true });
  const [zip] = await Promise.all([
    page.waitForEvent('download'),
    library.getByRole('button', { name: 'Save as zip' }).click(),
  ]);
  expect(zip.suggestedFilename()).toBe('pictures.zip');
  await library.getByText('With measures and comments').click();
  await library.getByLabel('Name', { exact: true }).fill('Without pins');
  await library.getByRole('button', { name: 'Take a picture' }).click();
  await expect(library.getByRole('img', { name: 'Without pins' })).toBeVisible({ timeout: 30_000 });
  const around = { left: pin!.x, top: pin!.y, width: pin!.width, height: pin!.height };
  const [pinned, plain] = await Promise.all(
    ['From above, spring', 'Without pins'].map(async (name) => {
      const src = await library.getByRole('img', { name }).getAttribute('src');
      const picture = await (await page.request.get(src!)).body();
      const area = Object.entries(around).map(([side, value]) => [side, Math.round(value)] as const);
      return sharp(picture)
        .extract(Object.fromEntries(area) as unknown as Region)
        .raw()
        .toBuffer();
    }),
  );
  expect(pinned!.filter((value, i) => Math.abs(value - plain![i]!) > 8).length).toBeGreaterThan(pinned!.length / 3);
  await library.getByRole('button', { name: 'Delete Without pins' }).click();
  await library.getByRole('button', { name: 'Delete From above, spring' }).click();
  await expect(library.getByText('No picture has been kept yet.')).toBeVisible();
  await library.getByRole('button', { name: 'Close' }).click();

  // A link that opens at a viewpoint, by mail, with a passphrase; the same person again is not asked again.
  await page.goto(`/projects/${project}/prepare`);
  await page.getByLabel('Whom is it for?').fill('Board');
  await page.getByLabel('Send it to').fill(LEAD);
  await page.getByLabel('Passphrase').fill('grey heron');
  await page.getByLabel('Opens with').selectOption({ label: 'Reading hall' });
  await page.getByRole('button', { name: 'Make link' }).click();
  const link = (await page.getByTestId('fresh-link').textContent())!;
  const board = await (await browser.newContext({ viewport: { width: 390, height: 844 } })).newPage();
  await board.goto(link);
  await board.getByLabel('Your name').fill('Bo Lind');
  await board.getByLabel('Passphrase').fill('wrong');
  await board.getByRole('button', { name: 'Come in' }).click();
  await expect(board.getByText('That is not the passphrase of this link.')).toBeVisible();
  await board.getByLabel('Passphrase').fill('Grey Heron');
  await board.getByRole('button', { name: 'Come in' }).click();
  await board.waitForURL('**/review?viewpoint=**');
  await modelArrived(board);
  await expect(board.getByRole('button', { name: /Viewpoint \d+: Reading hall/ })).toHaveAttribute(
    'aria-current',
    'step',
  );
  await board.goto(link);
  await board.waitForURL('**/review?viewpoint=**');
  await page.reload();
  await expect(page.getByText('Last opened by Bo Lind').first()).toBeVisible();
  await page.goto('/outbox');
  await expect(page.getByText(/Ines Okafor invites you to look at Town library/).first()).toBeVisible();
  await board.context().close();
});

test('a finger opens a card wherever it taps it, and renames it by its menu', async ({ browser }) => {
  test.setTimeout(120_000);
  const context = await browser.newContext({ viewport: { width: 1024, height: 768 }, hasTouch: true });
  const page = await context.newPage();
  await signIn(page);
  await openLibrary(page);
  const card = page.getByRole('button', { name: 'Viewpoint 2: From above' });
  // Cards that may be arranged take the place of plain ones.
  await expect(page.getByRole('button', { name: 'Move From above' })).toBeAttached();
  // Where the acts of the card show once it is open.
  const { width } = (await card.boundingBox())!;
  await card.tap({ position: { x: width - 20, y: 20 } });
  await expect(card).toHaveAttribute('aria-current', 'step');
  await page.getByRole('button', { name: 'Acts on From above' }).tap();
  await page.getByRole('menuitem', { name: /^Name/ }).tap();
  await page.getByLabel('Name', { exact: true }).fill('From high above');
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).tap();
  await expect(page.getByRole('button', { name: 'Viewpoint 2: From high above' })).toBeVisible();
  await page.getByRole('region', { name: 'Running order' }).getByRole('button', { name: 'Undo' }).tap();
  await expect(card).toBeVisible();
  await context.close();
});

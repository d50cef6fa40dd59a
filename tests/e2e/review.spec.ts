import { expect, test } from '@playwright/test';
import { expectNoViolations, openLibrary, signIn, stage } from './steps';

test.beforeEach(async ({ page }) => {
  await signIn(page);
  await openLibrary(page);
});

test('picking shows facts, hiding can be undone', async ({ page }) => {
  await page.getByRole('button', { name: 'Facts' }).click();
  await page.getByRole('button', { name: /Viewpoint 2/ }).click();
  await page.waitForTimeout(2500);
  await stage(page).click({ position: { x: 420, y: 300 } });
  const facts = page.getByRole('region', { name: 'Facts' });
  await expect(facts.getByText('Category')).toBeVisible();
  const name = await facts.getByRole('heading', { level: 2 }).textContent();
  expect(name).toMatch(/roof|wall|fin|window/i);
  await facts.getByRole('button', { name: 'Hide' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
  await expectNoViolations(page);
});

test('contents: search finds elements, a branch hides and shows, a model switches off', async ({ page }) => {
  await page.getByRole('button', { name: 'Contents' }).click();
  const contents = page.getByRole('region', { name: 'Contents' });
  await contents.getByLabel('Search the contents').fill('heat pump');
  await expect(contents.getByRole('button', { name: '4 found', exact: true })).toBeVisible();
  await contents.getByRole('button', { name: 'Heat pump Unitary equipment' }).click();
  await page.getByRole('button', { name: 'Facts' }).click();
  await expect(page.getByRole('region', { name: 'Facts' }).getByText('Varme Nordlund')).toBeVisible();

  await page.getByRole('button', { name: 'Contents' }).click();
  const architecture = contents.getByRole('region', { name: 'Architecture' });
  await architecture.getByRole('button', { name: 'Parts of Roof', exact: true }).first().click();
  await expect(architecture.getByRole('button', { name: /^Covering 8/ })).toBeVisible();
  await architecture.getByRole('button', { name: 'Hide Roof', exact: true }).first().click();
  await architecture.getByRole('button', { name: 'Show Roof', exact: true }).first().click();
  const toggle = architecture.getByRole('checkbox', { name: 'Show Architecture' });
  await toggle.press('Space');
  await expect(toggle).not.toBeChecked();
  await expectNoViolations(page);
});

test('viewpoints: save, rename, reorder by keyboard, delete and bring back', async ({ page }) => {
  // Between them stand the names of their groups.
  const cards = page
    .getByRole('list', { name: 'Viewpoints' })
    .getByRole('listitem')
    .filter({ has: page.getByRole('button', { name: /^Viewpoint/ }) });
  await expect(cards).toHaveCount(9);
  await page.getByRole('button', { name: 'Save this view' }).click();
  await page.getByLabel('Name of the viewpoint').fill('Sill of the window seat');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(cards).toHaveCount(10);
  await page.getByRole('button', { name: /Rename Sill/ }).press('Enter');
  await page.getByLabel('New name').fill('Window seat');
  await page.getByLabel('New name').press('Enter');
  await expect(cards.nth(9)).toContainText('Window seat');

  await page.getByRole('button', { name: 'Move Window seat' }).focus();
  await page.keyboard.press('Space');
  // What is said to those who do not see tells when the next key is due: taken up over itself, then over its neighbour.
  const said = page.getByText(/^Draggable item/);
  await expect(said).toHaveText(/item (\S+) was moved over droppable area \1\./);
  // A key that comes before all places are measured goes nowhere; who holds the card presses it again.
  await expect(async () => {
    await page.keyboard.press('ArrowLeft');
    await expect(said).toHaveText(/item (\S+) was moved over droppable area (?!\1)/, { timeout: 5000 });
  }).toPass();
  await page.keyboard.press('Space');
  await expect(cards.nth(8)).toContainText('Window seat');

  await page.getByRole('button', { name: 'Delete Window seat' }).press('Enter');
  await expect(cards).toHaveCount(9);
  await page.getByRole('button', { name: 'Undo' }).last().click();
  await expect(cards).toHaveCount(10);
  await page.getByRole('button', { name: 'Delete Window seat' }).press('Enter');
  await expect(cards).toHaveCount(9);
});

test('nothing is drawn while nothing moves', async ({ page }) => {
  /** Counts the draw calls of a while, at whose beginning a key of the stage may be pressed. */
  const draws = (milliseconds: number, key?: string) =>
    page.evaluate(
      async ({ duration, pressed }) => {
        const proto = WebGL2RenderingContext.prototype;
        const original = proto.drawElements;
        let count = 0;
        proto.drawElements = function (...args) {
          count++;
          return original.apply(this, args);
        };
        if (pressed)
          document.querySelector('[role=application]')!.dispatchEvent(new KeyboardEvent('keydown', { key: pressed }));
        await new Promise((done) => setTimeout(done, duration));
        proto.drawElements = original;
        return count;
      },
      { duration: milliseconds, pressed: key },
    );
  // How long the first view and its shadows take depends on the machine, which may pause for seconds between two tiles.
  await page.waitForLoadState('networkidle');
  await expect.poll(() => draws(5000), { timeout: 60_000 }).toBe(0);
  expect(await draws(1500, 'ArrowLeft')).toBeGreaterThan(0);
});

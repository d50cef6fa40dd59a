import { join } from 'node:path';
import type { Browser, Page } from '@playwright/test';
import { AS_IN_FILE } from '@/core/placement/placement';
import type { PublishReport } from '@/core/project/publish-report';
import type { StageModelSource } from '@/core/project/models';
import { publishModel } from '@/publish/publish-model';

/** Publishes a file into a folder of this name, which the stage's page then finds under it. */
export async function publishFor(
  folder: string,
  path: string,
  name: string,
): Promise<{ source: StageModelSource; report: PublishReport }> {
  const { report } = await publishModel(path, { fileName: name, outFolder: join(folder, name) });
  const source: StageModelSource = {
    modelId: name,
    revisionId: name,
    code: 'P01',
    name,
    discipline: '',
    baseUrl: `/${name}/`,
    offset: report.offset,
    extent: report.extent!,
    placement: AS_IN_FILE,
    georeference: null,
    rounding: report.quantisationError,
    newerCode: null,
  };
  return { source, report };
}

/**
 * Opens the page of a stage server.
 *
 * @param script name of what the page's script puts into the window once it is there
 * @param prepare what is done with the page before it loads
 */
export async function openStagePage(
  browser: Browser,
  origin: string,
  viewport: { width: number; height: number },
  script: string,
  prepare?: (page: Page) => Promise<unknown>,
): Promise<Page> {
  const page = await browser.newPage({ viewport, reducedMotion: 'reduce' });
  page.setDefaultTimeout(600_000);
  page.on('pageerror', (error) => process.stderr.write(`${error.message}\n`));
  await prepare?.(page);
  await page.goto(origin);
  await page.addScriptTag({ url: '/page.js', type: 'module' });
  await page.waitForFunction((name) => name in window, script);
  return page;
}

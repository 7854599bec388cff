import type { Page } from '@playwright/test';
import { type Step, seen } from './shop';

/** Cells of a pasted block. */
const ROWS = 5_000;
/** Fields that are pasted: title, brand, category, tags, copy template and barcode stand first in the grid. */
const WIDTH = 6;
const LONG = 300_000;
const COUNTED = /[\d,]+ would change/;

/** Editing on the shop at full size: templates, checks, proposals, replacing, pasting, and files, over all listings. */
export async function measureEditing(page: Page, origin: string, step: Step): Promise<void> {
  page.setDefaultTimeout(LONG);
  const button = (name: RegExp) => page.getByRole('button', { name }).first();
  const docket = page.getByRole('complementary');
  const markAll = async () => {
    await page.goto(`${origin}/listings`);
    await page.locator('[data-table] [role=row]').nth(3).waitFor();
    await page.waitForTimeout(3_000);
    await button(/^Select all/).click();
  };

  await markAll();
  await button(/^Set up/).click();
  await page.getByRole('menuitem', { name: 'Copy templates' }).click();
  await button(/^New template/).click();
  const title = docket.getByLabel('Title', { exact: true });
  await title.fill('{{title}}, {{brand}');
  await step(page, 'template over all listings, from the last key to filled in and counted', async () => {
    await title.press('End');
    await page.keyboard.type('}');
    await seen(page, /Filled in for [\d,]{5,} listings/);
  });
  await docket.getByRole('button', { name: 'Close the docket' }).click();

  await button(/^Edit [\d,]+$/).click();
  const counted = docket.getByText(/^[\d,]+ would change$/);
  const way = (name: string) => docket.getByRole('tab', { name });
  for (const [name, say] of [
    ['Mend', 'checks of all listings, and what can be mended'],
    ['Propose texts', 'titles proposed for all listings'],
  ] as const)
    await step(page, say, async () => {
      await way(name).click();
      await docket.getByText('Weighing …').waitFor();
      await seen(page, COUNTED);
    });
  await way('Find and replace').click();
  await step(page, 'a word looked for in all titles', async () => {
    await docket.getByLabel('Find', { exact: true }).fill('torch');
    await docket.getByLabel('Replace with').fill('lamp');
    await seen(page, COUNTED);
  });
  await step(page, `${await counted.textContent()}: applied`, async () => {
    await docket.getByRole('button', { name: /^Apply/ }).click();
    await button(/^Undo/).waitFor();
  });
  await step(page, 'undone', async () => {
    await button(/^Undo/).click();
    await seen(page, /Undone/);
  });

  await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.goto(`${origin}/listings?grid=1`);
  const grid = page.getByRole('grid', { name: 'Listings as a grid' });
  await grid.getByRole('gridcell').first().waitFor();
  await page.waitForTimeout(3_000);
  await page.evaluate(
    ([rows, width]) => {
      const line = (r: number) =>
        [`Pasted title ${r}`, `Brand ${r % 40}`, ...Array(width! - 2).fill('')].join('\t');
      return navigator.clipboard.writeText(Array.from({ length: rows! }, (_, r) => line(r)).join('\r\n'));
    },
    [ROWS, WIDTH],
  );
  await grid.getByRole('gridcell').first().click();
  await step(page, `${ROWS.toLocaleString('en-GB')} x ${WIDTH} cells pasted into the grid`, async () => {
    await page.keyboard.press('Control+v');
    await seen(page, /cells changed/);
  });
  await step(page, 'undone', async () => {
    await button(/^Undo/).click();
    await seen(page, /Undone/);
  });

  await page.goto(`${origin}/listings`);
  await page.locator('[data-table] [role=row]').nth(3).waitFor();
  await page.waitForTimeout(3_000);
  const download = page.waitForEvent('download');
  await step(page, 'all listings exported as CSV', async () => {
    await button(/^File$/).click();
    await page.getByRole('menuitem', { name: /as CSV$/ }).click();
    await download;
  });
  const path = await (await download).path();
  await step(page, 'read back: nothing would change', async () => {
    await page.getByLabel('Edited listings').setInputFiles(path);
    await seen(page, COUNTED);
  });
}

import { readFileSync } from 'node:fs';
import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { DEMO, expect, go, rows, said, test } from './harbour';

const lacksNoAccess = async (page: Page) => {
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag22aa']).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
};

test('a template with a keyword sheet for many, one typo replaced in all, proposals taken and undone', async ({
  page,
}) => {
  await page.goto(`${DEMO}/bench`);
  await page.getByRole('button', { name: /^Select all/ }).click();
  await page.getByRole('button', { name: 'Set up' }).click();
  await page.getByRole('menuitem', { name: 'Copy templates' }).click();
  const docket = page.getByRole('complementary', { name: 'Copy templates' });
  const sku = (await rows(page, 'Bench').first().locator('.font-mono').innerText()).trim();
  const cell = (column: string, row: number) =>
    docket.getByLabel(`${column}, row ${row} of Keywords`, { exact: true });
  await cell('SKU', 1).fill(sku);
  await cell('Keyword', 1).fill('heavy tripod');
  await cell('SKU', 2).fill('NO-SUCH');
  await expect(docket.getByText('NO-SUCH: No product has this SKU or barcode.')).toBeVisible();
  await docket.getByRole('button', { name: 'Keep 1' }).click();
  await expect(said(page, /Keywords of 1 product are kept/)).toBeVisible();
  await docket.getByRole('button', { name: 'New template' }).click();
  await docket.getByLabel('Name', { exact: true }).fill('Everyday');
  await docket.getByLabel('Title', { exact: true }).fill('{{keyword}}, {{brand');
  await expect(docket.getByText(/never closed/)).toBeVisible();
  await docket.getByLabel('Title', { exact: true }).fill('{{keyword}}, {{brand}}');
  await docket.getByLabel('else').first().selectOption('title');
  await lacksNoAccess(page);
  await docket.getByRole('button', { name: 'Save template' }).click();
  await docket.getByRole('button', { name: /^Use for/ }).click();
  await expect(said(page, /“Everyday” is used for/)).toBeVisible();
  await expect(rows(page, 'Bench').first()).toContainText('heavy tripod, ');
  await docket.getByRole('button', { name: 'Close the docket' }).click();

  await page.getByRole('button', { name: /^Edit \d/ }).click();
  const edit = page.getByRole('complementary', { name: 'Edit many' });
  await edit.getByRole('tab', { name: 'Find and replace' }).click();
  await edit.getByLabel('Find', { exact: true }).fill('heavy');
  await edit.getByLabel('Replace with').fill('sturdy');
  await expect(edit.getByText(/^[1-9]\d* would change$/)).toBeVisible();
  await lacksNoAccess(page);
  await edit.getByRole('button', { name: /^Apply/ }).click();
  await expect(rows(page, 'Bench').first()).toContainText('sturdy tripod, ');
  await page.keyboard.press('Control+z');
  await expect(rows(page, 'Bench').first()).toContainText('heavy tripod, ');
});

test('the grid: typed, pasted as a block, filled down, refused cell by cell, undone step by step', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await page.goto(`${DEMO}/listings?grid=1&q=on:"Pennywharf UK"`);
  const grid = page.getByRole('grid', { name: 'Listings as a grid' });
  const cell = (row: number, column: number) =>
    grid
      .getByRole('row')
      .nth(row + 1)
      .getByRole('gridcell')
      .nth(column);
  await expect(cell(0, 0)).not.toBeEmpty();
  const before = await cell(0, 0).innerText();
  await grid.focus();
  await page.keyboard.press('Control+Home');
  await page.keyboard.type('Typed title');
  await page.keyboard.press('Enter');
  await expect(cell(0, 0)).toHaveText('Typed title');
  await page.keyboard.press('Control+z');
  await expect(cell(0, 0)).toHaveText(before);

  await page.evaluate(() =>
    navigator.clipboard.writeText('Pasted one\tHouse brand\r\n"Pasted ""two"""\tHouse brand\r\n'),
  );
  await cell(0, 0).click();
  await page.keyboard.press('Control+v');
  // The brand is one for all marketplaces: what is on sale elsewhere is asked about first.
  const everywhere = page.getByRole('button', { name: 'Change it everywhere' });
  await everywhere.click();
  await expect(cell(0, 0)).toHaveText('Pasted one');
  await expect(cell(0, 1)).toHaveText('House brand');
  // An address that is none is told and takes nothing else with it.
  await page.keyboard.press('End');
  await page.keyboard.type('dear');
  await expect(grid.getByText(/“dear” is no address/)).toBeVisible();
  await page.keyboard.press('Escape');
  await lacksNoAccess(page);
  await cell(0, 1).click();
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Control+d');
  await everywhere.click();
  await expect(cell(2, 1)).toHaveText('House brand');
  await page.keyboard.press('Control+c');
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe(
    'House brand\r\nHouse brand\r\nHouse brand',
  );
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(cell(0, 0)).toHaveText(before);
});

test('a file out and back: only what was edited there is shown, and taken after a look', async ({ page }) => {
  await page.goto(`${DEMO}/listings?q=on:"Pennywharf UK"`);
  await expect(rows(page, 'Listings').first()).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'File' }).click();
  await page.getByRole('menuitem', { name: /as CSV$/ }).click();
  const text = readFileSync((await (await download).path())!, 'utf8');
  const [header, first, ...others] = text.split('\r\n');
  expect(header).toContain('SKU,Marketplace,Title');
  const cells = first!.split(',');
  const edited = [cells[0], cells[1], '"Edited, elsewhere"'].join(',');
  await page.getByLabel('Edited listings').setInputFiles({
    name: 'back.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(`SKU,Marketplace,Title\r\n${edited}\r\nNO-SUCH,Pennywharf UK,x\r\n`),
  });
  const docket = page.getByRole('complementary', { name: 'Edited file' });
  await expect(docket.getByText('1 would change')).toBeVisible();
  await expect(docket.getByText(/It has no column “Sampan”/)).toBeVisible();
  await expect(docket.getByText(/There is no listing NO-SUCH/)).toBeVisible();
  await docket.getByRole('button', { name: 'Apply 1' }).click();
  await expect(
    page.getByRole('grid', { name: 'Listings' }).getByText('Edited, elsewhere').first(),
  ).toBeVisible();
  // The file as it was written asks for nothing but what changed here since, which stays.
  await page.getByLabel('Edited listings').setInputFiles({
    name: 'same.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from([header, first, ...others].join('\r\n')),
  });
  await expect(docket.getByText('0 would change')).toBeVisible();
  await docket.getByRole('button', { name: 'Close the docket' }).click();
  await go(page, 'Today');
});

test('a live listing is edited in its docket, says where each text comes from, and goes back', async ({
  page,
}) => {
  await page.goto(`${DEMO}/listings?q=is:live on:"Pennywharf UK"`);
  await rows(page, 'Listings').first().click();
  const docket = page.getByRole('complementary', { name: 'Listing' });
  const title = docket.getByLabel('Title', { exact: true });
  const before = await title.inputValue();
  await title.fill('Edited while on sale');
  await title.press('Enter');
  await expect(said(page, /is on the way to Pennywharf UK/)).toBeVisible();
  await expect(docket.getByText(/^Typed for this marketplace/)).toBeVisible();
  await lacksNoAccess(page);
  await docket.getByRole('button', { name: 'Go back' }).first().click();
  await expect(title).toHaveValue(before);
  const description = docket.getByRole('textbox', { name: 'Description' });
  await description.click();
  await page.keyboard.press('Control+End');
  await page.keyboard.type(' More to say.');
  await title.focus();
  await expect(docket.getByText(/^Typed for this marketplace/)).toBeVisible();
  await page.keyboard.press('Escape');
});

test('a preset is weighed while it is written, told to what is on sale as one change, and taken back', async ({
  page,
}) => {
  await page.goto(`${DEMO}/listings`);
  await page.getByRole('button', { name: 'Set up' }).click();
  await page.getByRole('menuitem', { name: 'Presets' }).click();
  const docket = page.getByRole('complementary', { name: 'Presets' });
  await docket.getByLabel('Marketplace').selectOption({ label: 'Pennywharf UK' });
  await docket.getByRole('button', { name: 'Usual', exact: true }).click();
  await expect(docket.getByText(/^Matches [1-9]\d* listings/)).toContainText('Nothing would change.');
  const days = docket.getByLabel('Value of Handling time, days');
  await days.fill('soon');
  await expect(docket.getByText('“soon” is no whole number of days.')).toBeVisible();
  await docket.getByRole('button', { name: 'Save preset' }).click();
  await expect(docket.getByText('“soon” is no whole number of days.').first()).toBeVisible();
  await days.fill('5 days');
  await expect(docket.getByText(/^Matches/)).toContainText(/[1-9]\d* of them told to Pennywharf UK/);
  await lacksNoAccess(page);
  await docket.getByRole('button', { name: 'Save preset' }).click();
  await expect(said(page, /Preset “Usual” for Pennywharf UK: \d+ listings on the way/)).toBeVisible();
  await docket.getByRole('button', { name: 'All presets' }).click();
  await expect(docket.getByText(/Handling time 5 days/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(docket.getByText(/Handling time 2 days/)).toBeVisible();
  // In order by keys: the first that has a value wins.
  await docket.getByRole('button', { name: 'Usual earlier' }).press('Enter');
  await expect(docket.getByRole('listitem').first()).toContainText('Usual');
  await page.keyboard.press('Control+z');
  await expect(docket.getByRole('listitem').first()).toContainText('Colour and size');
});

test('pictures: files that are none are told, one is added, cropped, described and put first by key', async ({
  page,
}) => {
  await page.goto(`${DEMO}/bench`);
  await rows(page, 'Bench').first().click();
  const docket = page.getByRole('complementary', { name: 'Product on the Bench' });
  const png = (width: number, height: number) =>
    page.evaluate(
      async ([w, h]) => {
        const canvas = new OffscreenCanvas(w!, h!);
        canvas.getContext('2d')!.fillRect(0, 0, w! / 2, h!);
        const blob = await canvas.convertToBlob();
        return [...new Uint8Array(await blob.arrayBuffer())];
      },
      [width, height],
    );
  await expect(docket.getByText('Add pictures')).toBeVisible();
  const before = await docket.getByRole('button', { name: /^Move / }).count();
  const good = Buffer.from(await png(900, 600));
  const huge = Buffer.from(good);
  huge.writeUInt32BE(20_000, 16);
  huge.writeUInt32BE(20_000, 20);
  const file = (name: string, buffer: Buffer) => ({ name, mimeType: 'image/png', buffer });
  await docket
    .locator('input[type=file]')
    .setInputFiles([
      file('good.png', good),
      file('huge.png', huge),
      file('cut.png', good.subarray(0, 60)),
      file('text.png', Buffer.from('no picture')),
    ]);
  const told = docket.getByRole('alert').filter({ hasText: 'huge.png' });
  await expect(told).toContainText('20000 × 20000 pixels');
  await expect(told).toContainText('cut.png: it is broken');
  await expect(told).toContainText('text.png: it is no picture');
  await expect(docket.getByRole('button', { name: /^Move / })).toHaveCount(before + 1);
  const added = docket.getByRole('button', { name: /^Move / }).last();
  await added.click();
  await expect(docket.getByText(/^Picture \d+, 900 × 600 pixels$/)).toBeVisible();
  await docket.getByLabel('Alt text').fill('Half black, half white');
  await docket.getByLabel('Alt text').blur();
  await docket.getByRole('button', { name: 'Crop' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Shape').selectOption('Square');
  await expect(dialog.getByText('600 × 600 pixels')).toBeVisible();
  await lacksNoAccess(page);
  await dialog.getByRole('button', { name: 'Crop', exact: true }).click();
  await expect(docket.getByText(/900 × 600 pixels$/)).toBeHidden();
  await added.click();
  await expect(docket.getByText(/^Picture \d+, 600 × 600 pixels$/)).toBeVisible();
  await expect(docket.getByLabel('Alt text')).toHaveValue('Half black, half white');
  await added.press('Home');
  await expect(docket.getByText(/^Picture 1, 600 × 600 pixels$/)).toBeVisible();
});

test('an edit on the site itself is seen, shown field by field, and put back', async ({ page }) => {
  await page.goto(`${DEMO}/connections`);
  const standIns = page.getByRole('article', { name: 'Stand-ins' });
  const site = page.getByRole('article', { name: 'Pennywharf UK' });
  // It is looked through once at first: an edit in the middle of that would be found six hours later.
  await expect(site.getByText(/edited there\.$/)).toBeVisible();
  await standIns.getByRole('button', { name: 'A listing is edited there' }).click();
  await expect(said(page, /another title there/)).toBeVisible();
  await site.getByRole('button', { name: 'Run now: Look for edits on the site' }).click();
  await expect(site.getByText(/listings? edited there\.$/)).toBeVisible();
  await page.goto(`${DEMO}/listings?q=is:edited`);
  await rows(page, 'Listings').first().click();
  const docket = page.getByRole('complementary', { name: 'Listing' });
  await expect(docket.getByText('It was edited on Pennywharf UK itself.')).toBeVisible();
  await expect(docket.getByRole('row').filter({ hasText: ', edited here' }).first()).toBeVisible();
  await lacksNoAccess(page);
  await docket.getByRole('button', { name: /Put ours back/ }).click();
  await expect(said(page, /is put back on Pennywharf UK/)).toBeVisible();
});

test('listings are ended together, one is brought back, and the rest with undo', async ({ page }) => {
  await page.goto(`${DEMO}/listings?q=is:live on:"Pennywharf UK"`);
  const row = rows(page, 'Listings');
  await row.nth(0).getByRole('checkbox').check();
  await row.nth(1).getByRole('checkbox').check();
  await page.getByRole('button', { name: 'On sale' }).click();
  await page.getByRole('menuitem', { name: 'End' }).click();
  await expect(said(page, /2 listings ended/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(said(page, /End 2 listings/)).toBeVisible();
  await row.nth(0).click();
  const docket = page.getByRole('complementary', { name: 'Listing' });
  await docket.getByRole('button', { name: 'End', exact: true }).click();
  await expect(said(page, /is ended on Pennywharf UK/)).toBeVisible();
  await docket.getByRole('button', { name: 'Bring back' }).click();
  await expect(said(page, /is put on sale again/)).toBeVisible();
  await expect(docket.getByRole('button', { name: 'End', exact: true })).toBeVisible();
});

test('publishing at a time waits until then, and is called back', async ({ page }) => {
  await page.goto(`${DEMO}/bench?q=is:ready`);
  const row = rows(page, 'Bench').first();
  await row.getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Approve 1' }).click();
  await expect(said(page, /1 product approved/i)).toBeVisible();
  await page.goto(`${DEMO}/bench?q=is:approved`);
  await rows(page, 'Bench').first().getByRole('checkbox').check();
  await page.getByRole('button', { name: 'Publish at a time or as drafts' }).click();
  const when = page.getByLabel(/^Not before/);
  await when.fill('2020-01-01T10:00');
  await expect(page.getByText('This time is past.')).toBeVisible();
  await when.fill('2031-03-04T10:00');
  await page.getByRole('button', { name: /^Publish .*2031/ }).click();
  await expect(said(page, /1 listing/)).toBeVisible();
  await page.goto(`${DEMO}/bench`);
  await expect(page.getByText(/To be published .*2031/).first()).toBeVisible();
  await page.getByRole('button', { name: 'Stop publishing' }).click();
  await expect(page.getByText(/To be published .*2031/)).toBeHidden();
});

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
  await page.getByRole('button', { name: /^Mark all/ }).click();
  await page.getByRole('button', { name: 'Copy templates' }).click();
  const docket = page.getByRole('complementary', { name: 'Copy templates' });
  const sku = (await rows(page, 'Bench').first().locator('.font-mono').innerText()).trim();
  await docket.getByLabel(/^Paste a table/).fill(`SKU\tKeyword\n${sku}\theavy tripod\nNO-SUCH\tx\n`);
  await expect(docket.getByText('Line 3, NO-SUCH: No product has this SKU or barcode.')).toBeVisible();
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
  await expect(cell(0, 0)).toHaveText('Pasted one');
  await expect(cell(0, 1)).toHaveText('House brand');
  // A price that is none is told and takes nothing else with it.
  await page.keyboard.press('End');
  await page.keyboard.type('dear');
  await expect(grid.getByText('“dear” is not an amount')).toBeVisible();
  await page.keyboard.press('Escape');
  await lacksNoAccess(page);
  await cell(0, 1).click();
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Control+d');
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
  const title = docket.getByLabel(/^Title, /);
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

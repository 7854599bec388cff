import { readFileSync } from 'node:fs';
import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { confirmTake, EMPTY, expect, go, rows, said, test } from './harbour';

const csv = (name: string, lines: readonly string[]) => ({
  name,
  mimeType: 'text/csv',
  buffer: Buffer.from(lines.join('\n')),
});
const GOODS = ['Linen towel', 'Wool blanket', 'Tin lantern', 'Oak stool'];

/** What a button hands out as a file. */
async function written(page: Page, button: RegExp): Promise<string> {
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: button }).click();
  return readFileSync((await (await download).path())!, 'utf8');
}

test('a shop begins with a price list and files alone: listed, sold, ordered, told, and nothing of it twice', async ({
  page,
}) => {
  await page.goto(`${EMPTY}/today`);
  await page.getByRole('link', { name: 'add a file-based shop' }).click();
  await page.getByRole('button', { name: 'Add a file-based shop' }).click();
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag22aa']).analyze();
  expect(violations.map((v) => v.id)).toEqual([]);
  await page.getByLabel('Name').fill('Dipper’s stall');
  await page.getByLabel(/^Fee per order/).fill('a little');
  await page.getByRole('button', { name: 'Add the shop' }).click();
  await expect(page.getByText(/“a little” is not a percentage/)).toBeVisible();
  await page.getByLabel(/^Fee per order/).fill('2,9');
  await page.getByLabel('Fixed fee per order').fill('0.25');
  await page.getByRole('button', { name: 'Add the shop' }).click();
  const stall = page.getByRole('article', { name: 'Dipper’s stall' });
  await expect(stall).toBeVisible();

  await page.goto(`${EMPTY}/source/lists`);
  await page.getByRole('button', { name: 'Add a supplier' }).first().click();
  await page.getByLabel('Name', { exact: true }).fill('Tarn Weavers');
  await page.getByRole('button', { name: 'Add the supplier' }).click();
  const list = GOODS.map((title, k) => `TW-${100 + k};${title};${4 + k}.00;20;120;Tarnlight`);
  await page
    .getByRole('article', { name: 'Tarn Weavers' })
    .locator('input[type=file]')
    .setInputFiles(csv('list.csv', ['Item;Title;Cost;Stock;Weight (g);Brand', ...list]));
  await page.getByRole('button', { name: 'Read the list' }).click();
  await go(page, 'Source');
  await expect(rows(page, 'Catalogue')).toHaveCount(4);
  await page.getByRole('button', { name: 'Select all 4' }).click();
  // One is left out of all.
  await rows(page, 'Catalogue').nth(3).getByRole('checkbox').uncheck();
  await page.getByRole('button', { name: 'Take 3 to the Bench' }).click();
  await confirmTake(page);
  await go(page, 'Bench');
  await page.getByRole('button', { name: 'Approve 3' }).click();
  await page.getByRole('button', { name: 'Publish 3' }).click();

  await page.getByRole('link', { name: 'Connections' }).click();
  const first = await written(page, /^Export listings \(3 new\)/);
  expect(first).toContain('TW-100,,Linen towel,,Tarnlight,,,,12.99,GBP,5');
  await expect(stall.getByRole('button', { name: 'Export listings', exact: true })).toBeVisible();
  expect(await written(page, /^Export listings$/)).toBe(first);

  // The same as the shop wants it: its own columns, by an example of its file.
  await stall.getByRole('button', { name: 'Columns' }).click();
  await page
    .getByLabel('Example of Dipper’s stall')
    .setInputFiles(
      csv('example.csv', ['Artikelnummer;Titel;Preis;Menge;Zustand', 'A-1;Beispiel;9,99;1;neu']),
    );
  await expect(page.getByLabel('What Artikelnummer holds')).toHaveValue('sku');
  await expect(page.getByLabel('What Preis holds')).toHaveValue('price');
  await page.getByLabel('Text of Zustand').fill('neu');
  await page.getByRole('button', { name: 'Keep 5 columns' }).click();
  await expect(said(page, /5 columns kept for Dipper’s stall/)).toBeVisible();
  const own = await written(page, /^Export listings$/);
  expect(own).toMatch(/^\uFEFF?Artikelnummer,Titel,Preis,Menge,Zustand\r?\n/);
  expect(own).toContain('TW-100,Linen towel,12.99,5,neu');

  const sales = csv('sales.csv', [
    'order,paid at,sku,quantity,unit price,name,address line 1,town,postcode,country',
    `S-1,${new Date().toISOString()},TW-100,2,12.99,Ida Roe,4 Tarn Rise,Leeds,LS8 4QX,GB`,
    'S-2,today,TW-101,1,13.99,Bo Lind,5 Tarn Rise,Leeds,LS8 4QX,GB',
  ]);
  await page.getByLabel('Sales of Dipper’s stall').setInputFiles(sales);
  await expect(
    said(page, /1 new order in sales.csv, 0 known; 1 row not imported, the first on line 3/),
  ).toBeVisible();
  await page.getByLabel('Sales of Dipper’s stall').setInputFiles(sales);
  await expect(said(page, /0 new orders in sales.csv, 1 known/)).toBeVisible();

  await go(page, 'Orders');
  await expect(rows(page, 'Orders')).toHaveCount(1);
  const order = await written(page, /^Order file for Tarn Weavers \(1\)/);
  const reference = order.split('\r\n')[1]!.split(',')[0]!;
  await page
    .getByLabel('Tracking file of Tarn Weavers')
    .setInputFiles(
      csv('tracking.csv', [
        'reference,number,status,carrier,tracking,shipped at,goods,shipping',
        `${reference},TWO-1,shipped,Northpost,NP1234567890,${new Date().toISOString()},8.00,3.50`,
      ]),
    );
  await expect(page.getByText('1 order moved on by tracking.csv.').first()).toBeVisible();
  await go(page, 'Today');
  await expect(page.getByText('Dipper’s stall has changes to hand over')).toBeVisible();
  await page.getByRole('button', { name: 'Export the files' }).click();
  const dispatch = await written(page, /^Export dispatches \(1 new\)/);
  expect(dispatch).toMatch(/S-1,shipped,Northpost,NP1234567890,/);
  await go(page, 'Orders');
  await expect(rows(page, 'Orders').first()).toContainText(/told|told of/i);
});

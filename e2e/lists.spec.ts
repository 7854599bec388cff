import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { connectBoth, DEMO, EMPTY, expect, rows, said, startAnew, test } from './harbour';

const csv = (text: string, name = 'hollin list.csv') => ({
  name,
  mimeType: 'text/csv',
  buffer: Buffer.from(text),
});
const HEAD = 'Artikel-Nr.;Bezeichnung;EK-Preis netto;Lagerbestand;Farbe\n';

async function addSupplier(page: Page): Promise<void> {
  await page.goto(`${EMPTY}/source/lists`);
  await page.getByRole('button', { name: 'Add a supplier' }).first().click();
  await page.getByLabel('Name', { exact: true }).fill('Hollin');
  await page.getByLabel('Shipping per parcel by weight').fill('2 kg: 3,50, 30 kg: 9.90');
  await page.getByRole('button', { name: 'Add the supplier' }).click();
  await expect(page.getByRole('article', { name: 'Hollin' })).toBeVisible();
}
const drop = (page: Page, file: { name: string; mimeType: string; buffer: Buffer }) =>
  page.getByRole('article', { name: 'Hollin' }).locator('input[type=file]').setInputFiles(file);

test('a price list: matched on its first rows, corrected, remembered; bad rows saved, mended and dropped again', async ({
  page,
  request,
}) => {
  await startAnew(request);
  await addSupplier(page);
  await drop(page, csv('%PDF-1.7', 'list.pdf.csv'));
  await expect(
    page.getByRole('alert').getByText(/This is a PDF.*The catalogue stays as it is/),
  ).toBeVisible();
  await drop(
    page,
    csv(
      `${HEAD}H-1;Fernrohr;1.299,00;auf Lager;Schwarz\nH-2;Sucher;12,5;3;Rot\nH-3;Klappstuhl;call;1;Blau\n`,
    ),
  );
  await expect(page.getByText('= 1299.00 GBP')).toBeVisible();
  await expect(page.getByText(/✕ “call” is not an amount/)).toBeVisible();
  await page.getByLabel('Lagerbestand').selectOption('');
  await expect(page.getByText('= 10', { exact: true })).toBeHidden();
  await page.getByLabel('Lagerbestand').selectOption('stock');
  await page.getByRole('button', { name: 'Read the list' }).click();
  await expect(page.getByText('2 new')).toBeVisible();

  await page.getByText(/1 remark: 1 row not taken/).click();
  await expect(page.getByRole('cell', { name: 'call', exact: true })).toBeVisible();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save 1 row to mend' }).click(),
  ]);
  const saved = readFileSync((await download.path())!, 'utf8');
  expect(saved).toContain('H-3;Klappstuhl;call;1;Blau;');
  await drop(page, csv(saved.replace('call', '45,90'), 'mended.csv'));
  const article = page.getByRole('article', { name: 'Hollin' });
  await expect(article.getByText('1 new')).toBeVisible();

  await page.goto(`${EMPTY}/source`);
  await expect(page.getByText('3 items of Hollin', { exact: false })).toBeVisible();
  await rows(page, 'Catalogue').filter({ hasText: 'Fernrohr' }).click();
  await expect(page.getByRole('complementary', { name: 'Item' }).getByText('1,299.00').first()).toBeVisible();

  await page.goto(`${EMPTY}/source/lists`);
  await drop(
    page,
    csv(
      `${HEAD}H-1;Fernrohr;1.350,00;4;Schwarz\nH-2;Sucher;12,5;3;Rot\nH-3;Klappstuhl;45,90;1;Blau\n`,
      'next.csv',
    ),
  );
  await expect(page.getByText('cost up 1, stock of 1')).toBeVisible();
  await drop(page, csv('Code;Name;Netto\nH-1;Fernrohr;1,00\n', 'other.csv'));
  await expect(page.getByText('Its columns are not those of the last list', { exact: false })).toBeVisible();
  await page.getByRole('button', { name: 'Cancel' }).click();
});

test('a remembered match is shown again where the seller wants, corrected, and holds for the lists after', async ({
  page,
  request,
}) => {
  await startAnew(request);
  await addSupplier(page);
  const article = page.getByRole('article', { name: 'Hollin' });
  const first = article.getByRole('checkbox', { name: 'Preview first' });
  await expect(first).toBeHidden();
  await drop(page, csv(`${HEAD}H-1;Fernrohr;10,00;3;Schwarz\n`));
  await page.getByRole('button', { name: 'Read the list' }).click();
  await expect(article.getByText('1 new')).toBeVisible();
  await first.check();
  await drop(page, csv(`${HEAD}H-1;Fernrohr;12,00;3;Schwarz\n`, 'next.csv'));
  await page.getByLabel(/^Costs/).selectOption('with');
  await expect(page.getByText('= 10.00 GBP')).toBeVisible();
  await page.getByRole('button', { name: 'Read the list' }).click();
  await expect(article.getByText('nothing changed')).toBeVisible();
  await page.reload();
  await expect(first).not.toBeChecked();
  await drop(page, csv(`${HEAD}H-1;Fernrohr;24,00;3;Schwarz\n`, 'third.csv'));
  await expect(article.getByText('cost up 1')).toBeVisible();
  await page.goto(`${EMPTY}/source`);
  await expect(
    rows(page, 'Catalogue').filter({ hasText: 'Fernrohr' }).getByText('20.00').first(),
  ).toBeVisible();
});

test('a long list is stopped, outlives a reload, goes on and ends whole; the old catalogue serves meanwhile', async ({
  page,
  request,
}) => {
  await startAnew(request);
  await addSupplier(page);
  await drop(
    page,
    csv(
      `SKU,Title,Cost,Stock,Text\n${Array.from({ length: 10 }, (_, k) => `H-${k},Old ${k},1.00,5,`).join('\n')}\n`,
    ),
  );
  await page.getByRole('button', { name: 'Read the list' }).click();
  await expect(page.getByText('10 new')).toBeVisible();
  const filler = 'for long nights outside '.repeat(30);
  const n = 60_000;
  const big = `SKU,Title,Cost,Stock,Text\n${Array.from({ length: n }, (_, k) => `H-${k},New ${k},2.00,7,${filler}`).join('\n')}\n`;
  await drop(page, csv(big, 'big.csv'));
  await page
    .getByRole('article', { name: 'Hollin' })
    .getByRole('button', { name: 'Stop', exact: true })
    .click({ timeout: 60_000 });
  await expect(page.getByText(/Stopped after [\d,]+; goes on from there/)).toBeVisible({ timeout: 30_000 });
  await page.goto(`${EMPTY}/source`);
  await expect(page.getByText('10 items of Hollin', { exact: false })).toBeVisible();
  await page.goto(`${EMPTY}/source/lists`);
  await page.getByRole('button', { name: 'Resume' }).click();
  // What was asked for is stored before the page goes.
  await expect(page.getByRole('button', { name: 'Resume' })).toBeHidden();
  await page.reload();
  await expect(page.getByText(/59,990 new/)).toBeVisible({ timeout: 90_000 });
  await page.goto(`${EMPTY}/source?q=cost:2`);
  await expect(page.getByText('60,000 items of Hollin', { exact: false })).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText('60,000 matches')).toBeVisible();
});

test('search narrows by choices with counts, keeps and watches, takes by pasted lines', async ({
  page,
  request,
}) => {
  await startAnew(request);
  await connectBoth(page);
  await page.goto(`${EMPTY}/source`);
  await expect(page.getByText(/2,400 items of Brackwater/)).toBeVisible({ timeout: 60_000 });
  const choices = page.getByRole('navigation', { name: 'Narrow the search' });
  await choices.getByRole('button', { name: /^Lighting/ }).click();
  await choices.getByRole('button', { name: /^Torches/ }).click();
  await choices.getByRole('button', { name: /^Fellmoor/ }).click();
  await expect(page.getByRole('button', { name: 'Remove brand:Fellmoor' })).toBeVisible();
  const count = await choices.getByRole('button', { name: /^Fellmoor/ }).innerText();
  await expect(page.getByText(`${count.replace(/\D/g, '')} matches`)).toBeVisible();
  await page.getByRole('button', { name: /^Saved/ }).click();
  await page.getByLabel('Save this search as').fill('Fellmoor torches');
  await page.getByRole('button', { name: 'Save the search' }).click();
  await expect(said(page, /“Fellmoor torches” is saved/)).toBeVisible();
  await page.keyboard.press('Escape');
  await page.reload();
  await expect(page.getByRole('button', { name: 'Saved 2' })).toBeVisible();

  await page.getByRole('button', { name: 'Paste lines' }).click();
  await page
    .getByLabel(/Links, SKUs or barcodes/)
    .fill('BW-010001\nhttps://brackwater.example/items/BW-010002\n4006381333932\nnonsense');
  await page.getByRole('button', { name: 'Look up' }).click();
  await expect(page.getByText('4 lines: 2 found, 0 to choose, 0 taken already, 2 not found')).toBeVisible();
  await page.getByRole('complementary').getByRole('button', { name: 'Take 2 to the Bench' }).click();
  await expect(page.getByText('4 lines: 0 found, 0 to choose, 2 taken already, 2 not found')).toBeVisible();
});

test('a shop that trades is brought in and linked: the sure at one stroke, a doubtful one by keyboard, all of it undone', async ({
  page,
}) => {
  await page.goto(`${DEMO}/listings/bring-in`);
  await page.getByLabel('State').selectOption('all');
  await page.getByRole('button', { name: 'Import them' }).click();
  await expect(said(page, /listings looked up in/)).toBeVisible({ timeout: 60_000 });
  const all = page.getByRole('button', { name: /^Link all \d+ sure ones/ });
  await expect(all).toBeVisible();
  await page.getByRole('button', { name: /^Doubtful/ }).click();
  const grid = page.getByRole('grid', { name: 'Listings brought in' });
  await grid.focus();
  await page.keyboard.press('Enter');
  const docket = page.getByRole('complementary', { name: 'Link a listing' });
  await expect(docket.getByText('1 to', { exact: false })).toBeVisible();
  const first = await docket.getByRole('heading', { level: 2 }).innerText();
  await page.keyboard.press('s');
  await expect(docket.getByRole('heading', { level: 2 })).not.toHaveText(first);
  await page.keyboard.press('1');
  await expect(said(page, /is linked to (BW|QM)-/)).toBeVisible();
  await page.getByRole('button', { name: /^Sure/ }).click();
  await all.click();
  await expect(said(page, /listings linked\. Prices stay/)).toBeVisible({ timeout: 30_000 });
  await page.goto(`${DEMO}/listings?q=is:unlinked`);
  await rows(page, 'Listings').first().click();
  await expect(page.getByText('No supplier item is linked.')).toBeVisible();
});

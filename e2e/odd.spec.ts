import type { Page } from '@playwright/test';
import { chance } from '../stand-ins/random';
import { DEMO, EMPTY, expect, go, rows, startAnew, test } from './harbour';

const search = (page: Page) => page.getByRole('combobox', { name: 'Search' });
const chips = (page: Page) => page.getByRole('button', { name: /^Remove / });
const line = async (page: Page) => [
  ...(await chips(page).evaluateAll((all) => all.map((b) => b.getAttribute('aria-label')))),
  await search(page).inputValue(),
];

test('a search line is the same typed by key, pasted, and out of the address', async ({ page }) => {
  await page.goto(`${DEMO}/source`);
  await expect(rows(page, 'Catalogue').first()).toBeVisible();
  const matches = page.getByRole('status').filter({ hasText: /match/ });
  await search(page).focus();
  await page.keyboard.type('category:"Optics > Filters"');
  await expect(matches).toHaveText(/^\d+ matches$/);
  expect(await line(page)).toEqual(['category:"Optics > Filters"']);
  await search(page).press('Escape');

  const luck = chance(41);
  for (let run = 0; run < 16; run++) {
    const text = Array.from({ length: luck.whole(1, 14) }, () =>
      luck.pick(['"', ' ', ' ', 'torch', 'a', '-', ':', 'is:', 'stock:>3', '&', '<', 'é', 'brand:"', '  ']),
    ).join('');
    await page.keyboard.type(text, { delay: luck.pick([0, 0, 5]) });
    const typed = await line(page);
    await search(page).press('Escape');
    await page.keyboard.insertText(text);
    expect(await line(page)).toEqual(typed);
    await expect.poll(() => new URL(page.url()).searchParams.get('q') ?? '').toBe(await queryOf(page));
    const query = await queryOf(page);
    await search(page).press('Escape');
    if (run % 8 === 0) {
      await page.goto(`${DEMO}/source?q=${encodeURIComponent(query)}`);
      await expect(
        rows(page, 'Catalogue')
          .first()
          .or(page.getByText(/Nothing|No item/).first()),
      ).toBeVisible();
      expect(
        (await line(page))
          .map((part) => part?.replace(/^Remove /, ''))
          .join(' ')
          .trim(),
      ).toBe(query);
      await search(page).focus();
      await search(page).press('Escape');
    }
  }
  await page.keyboard.type('Oxbow & Reed ');
  await expect(matches).toHaveText(/^\d+ matches$/);
  await page.goto(`${DEMO}/listings?q=${encodeURIComponent('Oxbow & Reed')}`);
  await expect(matches).toHaveText(/^\d+ match/);
});

/** The query as chips and field show it. */
const queryOf = async (page: Page) =>
  (await line(page))
    .map((part) => part?.replace(/^Remove /, '') ?? '')
    .join(' ')
    .trim();

test('names out of the address are looked up as our own; any range of Money adds up', async ({ page }) => {
  for (const name of ['__proto__', '-constructor']) {
    for (const path of [
      'listings?sort=',
      'source?sort=',
      'orders?sort=',
      'bench?row=',
      'listings?row=',
      'listings/bring-in?show=',
      'money?part=-',
      'money?by=',
    ]) {
      await page.goto(`${DEMO}/${path}${name}`);
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
      await expect(page.getByText('This view could not be drawn')).toBeHidden();
    }
  }
  const sums = async (range: string) => {
    await page.goto(`${DEMO}/money?${range}`);
    const state = await page.getByText(/\d+ orders?, revenue/).innerText();
    const days = await page.getByRole('table', { name: 'Totals by month' }).getByRole('row').count();
    return { state, days };
  };
  const year = new Date().getUTCFullYear();
  const near = await sums(`from=${year - 1}-12-20&to=${year}-12-31`);
  const far = await sums(`from=0001-01-01&to=${year}-12-31`);
  expect(far.state).toBe(near.state);
  expect(far.state).not.toContain('revenue 0.00');
  expect(far.days).toBeLessThan(20);
});

test('what is typed stays when another tab changes the same title; no price is nothing or less', async ({
  page,
  context,
}) => {
  await page.goto(`${DEMO}/bench`);
  await rows(page, 'Bench').first().click();
  const docket = page.getByRole('complementary');
  await expect(docket.getByLabel('Title', { exact: true })).toBeVisible();
  const other = await context.newPage();
  await other.goto(page.url());
  await docket.getByLabel('Title', { exact: true }).fill('Typed here and not saved yet');
  await other.getByLabel('Title', { exact: true }).fill('Saved in the other tab');
  await other.getByLabel('Title', { exact: true }).press('Enter');
  await expect(
    docket.getByText('It was changed elsewhere while you typed: “Saved in the other tab”.'),
  ).toBeVisible();
  await expect(docket.getByLabel('Title', { exact: true })).toHaveValue('Typed here and not saved yet');
  await docket.getByRole('button', { name: 'Keep what I typed' }).click();
  await expect(other.getByLabel('Title', { exact: true })).toHaveValue('Typed here and not saved yet');
  await other.close();
  for (const price of ['-5.00', '0']) {
    await docket.getByLabel('Own price').fill(price);
    await docket.getByLabel('Own price').press('Enter');
    await expect(docket.getByText(/is not a price: it must be above zero/)).toBeVisible();
  }
  await docket.getByLabel('Own price').press('Escape');
});

test.describe(() => {
  test.use({ storageGoes: true });
  test('storage that is cleared under an open tab is said, and a reload begins anew', async ({
    page,
    context,
  }) => {
    await page.goto(`${EMPTY}/today`);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    await expect(page.locator('main [aria-busy]')).toHaveCount(0);
    const devtools = await context.newCDPSession(page);
    await devtools.send('Storage.clearDataForOrigin', { origin: EMPTY, storageTypes: 'indexeddb' });
    await expect(page.getByRole('alert').getByText(/storage of this browser was cleared/)).toBeVisible();
    await page.getByRole('button', { name: 'Reload' }).click();
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  });
});

const HEAD = 'SKU,Title,Cost,Stock\n';
const items = (n: number, stock = 3) =>
  Array.from({ length: n }, (_, i) => `H-${i},Lens ${i},${i + 4}.50,${stock}`).join('\n');
const csv = (name: string, text: string | Buffer) => ({
  name,
  mimeType: 'text/csv',
  buffer: Buffer.from(text),
});

test('lists: an empty folder says so, two files are read in turn, a look is stopped, what is missing and what leaps is asked', async ({
  page,
  request,
}) => {
  await startAnew(request);
  await page.goto(`${EMPTY}/source/lists`);
  await page.getByRole('button', { name: 'Add a supplier' }).first().click();
  await page.getByLabel('Name', { exact: true }).fill('Hollin');
  await page.getByRole('button', { name: 'Add the supplier' }).click();
  const article = page.getByRole('article', { name: 'Hollin' });
  const input = article.locator('input[type=file]');

  await input.setInputFiles([csv('items.csv', HEAD + items(12)), csv('stock.csv', 'SKU,Stock\nH-0,77\n')]);
  await page.getByRole('button', { name: 'Read the list' }).click();
  await expect(page.getByRole('heading', { name: 'stock.csv' })).toBeVisible();
  await page.getByRole('button', { name: 'Read the list' }).click();
  await expect(article.getByText('12 new')).toBeVisible();
  await expect(article.getByText('stock of 1')).toBeVisible();

  await article.evaluate((box) => {
    const data = new DataTransfer();
    data.items.add(new File(['x'], 'x.csv'));
    const item = data.items[0]!;
    const event = new DragEvent('drop', { bubbles: true, cancelable: true, dataTransfer: data });
    const reader = { readEntries: (tell: (entries: []) => void) => tell([]) };
    const folder = { isDirectory: true, name: 'x.csv', createReader: () => reader };
    Object.defineProperty(item, 'webkitGetAsEntry', { value: () => folder });
    Object.defineProperty(event, 'dataTransfer', {
      value: { items: [item], files: data.files, types: ['Files'] },
    });
    box.querySelector('input[type=file]')!.closest('div')!.dispatchEvent(event);
  });
  await expect(article.getByText('What was dropped is no file.')).toBeVisible();

  // A workbook of many megabytes takes its time: the look is stopped at once.
  const slow = `[${Array.from({ length: 400_000 }, (_, i) => `{"sku":"J-${i}","title":"Lens ${i}","cost":"4.50","a":[1,2,3]}`).join()}]`;
  await input.setInputFiles(csv('slow.json', slow));
  await article.getByRole('button', { name: 'Stop looking' }).click();
  await expect(article.getByText('slow.json: Stopped. The catalogue stays as it is.')).toBeVisible();

  await input.setInputFiles(csv('short.csv', HEAD + items(4)));
  await expect(article.getByText(/8 of 12 items did not come/).first()).toBeVisible();
  await expect(article.getByText('H-4, H-5')).toBeVisible();
  await go(page, 'Today');
  await expect(page.getByText('Are 8 items of Hollin gone?')).toBeVisible();
  await page.getByRole('button', { name: 'Look at the list' }).click();
  await page.getByRole('button', { name: '8 items are gone' }).click();
  await expect(article.getByText('8 gone')).toBeVisible();

  await input.setInputFiles(
    csv(
      'leap.csv',
      `${HEAD}${items(3)}\nH-3,Lens, 5,750.00,\n`.replace('H-2,Lens 2,6.50', 'H-2,Lens 2,650.00'),
    ),
  );
  await article.getByText(/2 remarks: 2 rows not taken/).click();
  await expect(article.getByText(/the cost was 6.50: 10 times as much/)).toBeVisible();
  await article.getByRole('button', { name: 'Take 1 cost as it is' }).click();
  await expect(article.getByText('cost up 1').first()).toBeVisible();
});

import AxeBuilder from '@axe-core/playwright';
import { DEMO, expect, look, said, test } from './harbour';

/** Pennywharf UK. */
const SHOP = 'http://127.0.0.1:4922';

test('a group, a feed of it, its address, and an order by its mark that is counted', async ({
  page,
  request,
}) => {
  // Marketplaces remember orders from one run to the next.
  const mark = `night-${Date.now()}`;
  await page.goto(`${DEMO}/listings/groups?group=new`);
  await page.getByLabel('Name', { exact: true }).fill('For the list');
  await page.getByLabel('As a search line').fill('on:"Pennywharf UK" is:live');
  // What stands in boxes is the same as what stands in the line.
  await page.getByRole('button', { name: 'Add a condition' }).click();
  await page.getByLabel('What condition 3 asks for').selectOption({ label: 'Stock' });
  await page.getByLabel('Value of condition 3').fill('>0');
  await expect(page.getByLabel('As a search line')).toHaveValue('on:"Pennywharf UK" is:live stock:>0');
  // A handle moves it by keys.
  await page.getByRole('button', { name: 'Move condition 3', exact: true }).focus();
  await page.keyboard.press('ArrowUp');
  await expect(page.getByLabel('As a search line')).toHaveValue('on:"Pennywharf UK" stock:>0 is:live');
  await expect(page.getByRole('button', { name: 'Move condition 2', exact: true })).toBeFocused();
  await expect(page.getByText(/^\d+ products? in \d+ listings?\.$/)).toBeVisible();
  const axe = () => new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag22aa']).analyze();
  expect((await axe()).violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
  await page.getByRole('button', { name: 'Save group' }).click();
  await expect(said(page, /Group “For the list” saved/)).toBeVisible();

  await page.goto(`${DEMO}/listings/feeds?feed=new`);
  await page.getByLabel('Name', { exact: true }).fill('Night list');
  await page.getByRole('combobox', { name: 'Marketplace' }).selectOption({ label: 'Pennywharf UK' });
  await page.getByRole('combobox', { name: 'Products' }).selectOption({ label: 'For the list' });
  await page.getByRole('combobox', { name: 'Format' }).selectOption({ label: 'JSON Lines' });
  await page.getByLabel(/^Pages: a pattern/).fill('https://pennywharf.example/goods/{{sku}}');
  await page.getByLabel('Mark in the addresses of pages').fill(mark);
  await expect(page.getByRole('region', { name: 'The beginning of the file' })).toContainText(`via=${mark}`);
  expect((await axe()).violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
  await page.getByRole('button', { name: 'Save feed' }).click();
  await page.getByRole('button', { name: 'Make live' }).click();
  await expect(said(page, /^Live: \d+ products/)).toBeVisible();
  const address = (await page.getByText(/^http.*night-list\.jsonl$/).textContent())!;

  // Another reader: what it finds is what the marketplace shows.
  const answer = await request.get(address, { headers: { 'user-agent': 'Night Reader 1' } });
  expect(answer.status()).toBe(200);
  const rows = (await answer.text())
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line));
  const shown = (await look(request, SHOP, 'listings')) as {
    sku: string;
    price: string;
    state: string;
    quantity: number;
  }[];
  expect(rows.length).toBeGreaterThan(5);
  for (const row of rows.slice(0, 20)) {
    const there = shown.find((l) => l.sku === row.id)!;
    expect(row.price).toBe(there.price);
    expect(row.availability).toBe(there.state === 'live' && there.quantity ? 'in stock' : 'out of stock');
  }
  expect(
    (await request.get(address, { headers: { 'if-none-match': answer.headers().etag! } })).status(),
  ).toBe(304);
  expect((await request.get(address.replace(/.{6}\/night/, 'AAAAAA/night'))).status()).toBe(404);

  // Somebody buys what the feed told of.
  const { sku } = rows.find((row) => row.availability === 'in stock');
  const bought = await request.post(`${SHOP}/control/orders`, {
    data: { sku: sku ?? rows[0].id, via: mark },
  });
  expect(bought.status()).toBe(200);
  const [number] = (await bought.json()).numbers as string[];
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox').last().fill('Read orders Pennywharf UK');
  await page.keyboard.press('Enter');
  await page.goto(`${DEMO}/orders?q=${encodeURIComponent(`mark:${mark}`)}`);
  await expect(page.getByText(number!).first()).toBeVisible({ timeout: 90_000 });
  await page.goto(`${DEMO}/listings/feeds`);
  const row = page.getByRole('row', { name: /Night list/ });
  await expect(row.getByRole('link', { name: '1', exact: true })).toBeVisible();
  await row.getByRole('button', { name: 'Night list' }).click();
  await expect(page.getByText(/Fetched last .* by (Night Reader 1|.*)/)).toBeVisible();

  // Its group is in use; the feed goes, then the group does.
  await page.goto(`${DEMO}/listings/groups`);
  await page.getByRole('button', { name: 'For the list' }).click();
  await page.getByRole('button', { name: 'Remove', exact: true }).click();
  await expect(page.getByText(/is used by feed “Night list”/)).toBeVisible();
});

test('a template of one’s own: completed while it is typed, wrong at line and column, filled in on real products', async ({
  page,
}) => {
  await page.goto(`${DEMO}/listings/feeds?feed=new`);
  await page.getByLabel('Name', { exact: true }).fill('Own form');
  await page.getByRole('combobox', { name: 'Format' }).selectOption({ label: 'Own template' });
  const row = page.getByLabel('For each product');
  await row.fill('');
  await row.pressSequentially('{{sk');
  await page.keyboard.press('Tab');
  await expect(row).toHaveValue('{{sku}}');
  await row.fill('{{sku}};{{#brand}}{{brand}};{{price}}\n');
  await expect(
    page.getByText(/The row, line \d, column \d+: “{{#brand}}” has no “{{\/brand}}” behind it/).first(),
  ).toBeVisible();
  await row.fill('{{sku}};{{#brand}}{{brand}}{{/brand}};{{price}}\n');
  await expect(page.getByRole('region', { name: 'The beginning of the file' })).toContainText(
    /DD-\d+;[^;]*;\d+\.\d\d/,
  );
  // What is typed outlives a reload.
  await page.reload();
  await expect(page.getByLabel('For each product')).toHaveValue(
    '{{sku}};{{#brand}}{{brand}}{{/brand}};{{price}}\n',
  );
});

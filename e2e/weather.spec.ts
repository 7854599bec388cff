import {
  BRACKWATER,
  confirmTake,
  connectBoth,
  control,
  DEMO,
  expect,
  go,
  look,
  PENNYWHARF,
  rows,
  runNow,
  startAnew,
  take,
  test,
} from './harbour';

/** What the stand-ins' panel and single views do, seen from the seat of the seller. */
const panel = (page: import('@playwright/test').Page, words: string) =>
  page.getByRole('article', { name: 'Stand-ins' }).getByRole('button', { name: words }).click();

test('an outage is said where one looks, work waits, and it heals by itself', async ({ page, request }) => {
  await startAnew(request);
  await connectBoth(page);
  await take(page, 'compass is:stocked has:barcode stock:>10', 2);
  await page.getByRole('link', { name: 'Connections' }).click();
  await panel(page, 'Outage');
  await go(page, 'Bench');
  await page.getByRole('button', { name: 'Approve 2' }).click();
  await page.getByRole('button', { name: 'Publish 2' }).click();
  await expect(
    page.getByRole('contentinfo').getByText(/Pennywharf UK: We are mending something/),
  ).toBeVisible();
  await go(page, 'Today');
  await expect(page.getByText('Pennywharf UK does not work')).toBeVisible();
  await expect(page.getByText(/Nothing is lost; work waits/).first()).toBeVisible();
  await control(request, PENNYWHARF, 'faults', { outage: false });
  await control(request, BRACKWATER, 'faults', { outage: false });
  await go(page, 'Listings');
  await expect(page.getByText(/2 live, 0 paused/)).toBeVisible({ timeout: 60_000 });
});

test('withdrawn consent is asked for again on the marketplace’s page, and reading goes on', async ({
  page,
  request,
}) => {
  await startAnew(request);
  await connectBoth(page);
  await panel(page, 'Withdraw consent');
  await page.getByRole('button', { name: 'Run now: Read orders' }).click();
  const card = page.getByRole('article', { name: 'Pennywharf UK' });
  await expect(card.getByText('Consent is needed again')).toBeVisible();
  await card.getByRole('button', { name: 'Give consent again' }).click();
  await page.getByRole('button', { name: 'Allow' }).click();
  await expect(page.getByRole('article', { name: 'Pennywharf UK' }).getByText('Works')).toBeVisible();
});

test('a spoiled item is listed with why, the catalogue stays whole', async ({ page, request }) => {
  await startAnew(request);
  await connectBoth(page);
  await go(page, 'Source');
  await expect(page.getByText(/2,400 items of Brackwater/)).toBeVisible({ timeout: 60_000 });
  await page.getByRole('link', { name: 'Connections' }).click();
  await panel(page, 'Spoil a page');
  await runNow(page, 'Read the catalogue');
  await page.getByText('5 items not imported, with the reason').click();
  await expect(
    page.getByText(/cost: cost must be an amount such as "12.50", not "-3.20"/).first(),
  ).toBeVisible();
  await go(page, 'Source');
  await expect(page.getByText(/2,400 items of Brackwater/)).toBeVisible();
  await page.getByRole('link', { name: 'Connections' }).click();
  await panel(page, 'All well');
  await runNow(page, 'Read the catalogue');
  await expect(page.getByText(/^2,400 items: /)).toBeVisible();
});

test('many at once: all matches to the Bench, and publishing can be stopped', async ({ page, request }) => {
  await startAnew(request);
  await connectBoth(page);
  await go(page, 'Source');
  await expect(page.getByText(/2,400 items of Brackwater/)).toBeVisible({ timeout: 60_000 });
  await page.getByRole('combobox', { name: 'Search' }).fill('is:stocked has:barcode has:picture ');
  await page.getByRole('button', { name: /^Select all [\d,]+/ }).click();
  await expect(page.getByText(/^all [\d,]+ matches selected/)).toBeVisible();
  await page.getByRole('button', { name: /^Take [\d,]+ to the Bench/ }).click();
  await confirmTake(page);
  await control(request, PENNYWHARF, 'faults', { slowMs: 700 });
  await go(page, 'Bench');
  await page.getByRole('button', { name: /^Approve [1-9]/ }).click();
  await page.getByRole('button', { name: /^Publish [1-9]/ }).click();
  await page.getByRole('button', { name: 'Stop publishing' }).click();
  await expect(page.getByText(/Publishing, /)).toBeHidden({ timeout: 20_000 });
  // What was on its way is answered within a second and live, what waited behind it is approved and goes nowhere.
  await page.waitForTimeout(2_000);
  const live = ((await look(request, PENNYWHARF, 'listings')) as unknown[]).length;
  const left = Number(
    (await page.getByText(/[1-9][\d,]* approved/).innerText())
      .match(/([\d,]+) approved/)![1]!
      .replace(',', ''),
  );
  expect(left).toBeGreaterThan(100);
  // Three requests are on their way at a time, with 50 listings each.
  expect(live).toBeLessThanOrEqual(150);
  await page.waitForTimeout(2_000);
  expect(((await look(request, PENNYWHARF, 'listings')) as unknown[]).length).toBe(live);
});

test('each table filters by its own words, sorts by its heads, and keeps both in the address', async ({
  page,
}) => {
  await page.goto(`${DEMO}/listings?q=on:"Pennywharf UK"`);
  await expect(rows(page, 'Listings').first()).toBeVisible();
  await page.getByRole('button', { name: 'Profit', exact: true }).click();
  await expect(page).toHaveURL(/sort=-profit/);
  const profits = async () =>
    (
      await rows(page, 'Listings')
        .locator('[role=gridcell]:nth-child(6) > span > span:first-child')
        .allInnerTexts()
    ).map((t) => Number(t.replace('−', '-').replace(/[^\d.-]/g, '')));
  const falling = await profits();
  expect(falling.length).toBeGreaterThan(5);
  expect(falling).toEqual([...falling].sort((a, b) => b - a));
  await page.getByRole('button', { name: 'Fields to search by' }).click();
  await page.getByRole('button', { name: /is:paused/ }).click();
  await expect(page).toHaveURL(/is%3Apaused/);
  await page.reload();
  await expect(page.getByRole('button', { name: 'Remove is:paused' })).toBeVisible();
  await page.getByRole('combobox', { name: 'Search' }).fill('nothing-like-this');
  await page.getByRole('button', { name: 'Clear the search' }).click();
  await expect(page).not.toHaveURL(/q=/);
});

test('Money opens the orders behind a day and saves what it shows', async ({ page }) => {
  await page.goto(`${DEMO}/money`);
  await page.getByRole('button', { name: '7 days' }).click();
  await expect(page).toHaveURL(/from=/);
  const table = page.getByRole('table', { name: 'Totals by day' });
  const day = table
    .getByRole('row')
    .filter({ has: page.locator('th[scope=row] button:enabled') })
    .first();
  const [orders, revenue] = [
    Number(await day.getByRole('cell').nth(0).innerText()),
    await day.getByRole('cell').nth(2).innerText(),
  ];
  await day.getByRole('button').click();
  await expect(page.getByRole('heading', { level: 2, name: new RegExp(`: ${orders} order`) })).toBeVisible();
  const links = page.getByRole('link', { name: /^(PW|PU|LH)-/ });
  expect(await links.count()).toBe(orders);
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Save as CSV' }).click();
  const stream = await (await download).createReadStream();
  let text = '';
  for await (const piece of stream) text += piece;
  expect(text).toContain(`,GBP,${revenue.replace(',', '')},`);
  await links.first().click();
  await expect(page.getByRole('complementary', { name: 'Order' })).toBeVisible();
});

test('themes follow the choice and stay; the palette finds goods and orders', async ({ page }) => {
  await page.goto(`${DEMO}/today`);
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();
  const command = page.getByRole('combobox', { name: 'Command' });
  await page.keyboard.press('Control+k');
  await expect(command).toBeFocused();
  await page.keyboard.type('dark');
  await page.keyboard.press('Enter');
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
  await page.reload();
  await expect(page.locator('html')).toHaveAttribute('data-theme', 'dark');
  await page.getByRole('button', { name: 'Ctrl K, commands' }).click();
  await expect(command).toBeFocused();
  await page.keyboard.type('torch');
  await page.getByRole('option', { name: 'Search listings for “torch”' }).click();
  await expect(page).toHaveURL(/listings\?q=torch/);
});

test('the page cannot be framed, evaluate text or load from elsewhere', async ({ page, request }) => {
  const policy = (await request.get(`${DEMO}/today`)).headers()['content-security-policy']!;
  expect(policy).not.toContain('unsafe-eval');
  expect(policy).toMatch(/script-src 'self' 'nonce-[^']+' 'strict-dynamic'/);
  expect(policy).toContain("frame-ancestors 'none'");
  await page.goto(`${DEMO}/today`);
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();
  expect(await request.get(`${DEMO}/api/outside/elsewhere/v1/items`).then((r) => r.status())).toBe(404);
  expect(await request.get(`${DEMO}/api/health`).then((r) => r.json())).toMatchObject({ status: 'ok' });
});

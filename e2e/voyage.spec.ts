import {
  BRACKWATER,
  connectBoth,
  control,
  EMPTY,
  expect,
  go,
  look,
  PENNYWHARF,
  rows,
  runNow,
  said,
  startAnew,
  take,
  test,
} from './harbour';

test.beforeEach(({ request }) => startAnew(request));

test('wrong keys, a refused consent and a service that does not answer each say so', async ({
  page,
  request,
}) => {
  await page.goto(EMPTY);
  await expect(page.getByRole('heading', { name: 'Two ways to begin' })).toBeVisible();
  await page.getByRole('link', { name: 'Go to Connections' }).click();
  await page.getByRole('button', { name: 'Connect Brackwater Trade' }).click();
  await expect(page.getByText('Both are needed')).toBeVisible();
  const form = page.getByRole('form', { name: 'Connect Brackwater Trade' });
  await form.getByLabel('Account number').fill('DD-4471');
  await form.getByLabel('Key', { exact: true }).fill('wrong');
  await page.getByRole('button', { name: 'Connect Brackwater Trade' }).click();
  await expect(
    page.getByRole('alert').filter({ hasText: 'does not know this account or key' }),
  ).toBeVisible();
  await control(request, BRACKWATER, 'faults', { outage: true });
  await form.getByLabel('Key', { exact: true }).fill('lantern-moss-42');
  await page.getByRole('button', { name: 'Connect Brackwater Trade' }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'out of service' })).toBeVisible();
  await control(request, BRACKWATER, 'faults', { outage: false });
  await page.getByRole('button', { name: 'Connect Pennywharf UK' }).click();
  await page.getByRole('button', { name: 'Refuse' }).click();
  await expect(page.getByText('You refused consent on Pennywharf UK')).toBeVisible();
  await page.goto(`${EMPTY}/connections/return?code=stolen&state=guessed`);
  await expect(page.getByText('does not belong to a consent that was started here')).toBeVisible();
  expect(new URL(page.url()).search).toBe('');
});

test('one product’s whole voyage, from an empty start to tracking returned', async ({ page, request }) => {
  await connectBoth(page);
  await take(page, 'torch is:stocked has:barcode stock:>20 cost:5..12', 3);

  // The Bench: text, own price, approval with undo, a refusal that is mended.
  await go(page, 'Bench');
  await expect(rows(page, 'Bench')).toHaveCount(3);
  const first = rows(page, 'Bench').first();
  const bought = (await first.locator('.font-mono').innerText()).trim();
  await first.click();
  const docket = page.getByRole('complementary', { name: 'Product on the Bench' });
  await expect(docket.getByText('Profit per sale')).toBeVisible();
  await docket.getByLabel('Title', { exact: true }).fill('Red torch, a fine replica');
  await docket.getByLabel('Title', { exact: true }).press('Enter');
  await docket.getByLabel('Own price').fill('24,9x');
  await docket.getByLabel('Own price').press('Enter');
  await expect(docket.getByText('“24,9x” is not an amount')).toBeVisible();
  await docket.getByLabel('Own price').fill('29,50');
  await docket.getByLabel('Own price').press('Enter');
  await expect(first.getByText('29.50', { exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Approve 3', exact: true }).click();
  await expect(page.getByText('0 ready, 3 approved')).toBeVisible();
  await page.getByRole('button', { name: 'Undo', exact: true }).last().click();
  await expect(page.getByText('3 ready, 0 approved')).toBeVisible();
  await page.getByRole('button', { name: 'Approve 3', exact: true }).click();
  await page.getByRole('button', { name: 'Publish 3', exact: true }).click();
  await expect(page.getByText(/Pennywharf UK refused it.*Copies of branded goods/).first()).toBeVisible();
  await expect(rows(page, 'Bench')).toHaveCount(1);
  await docket.getByLabel('Title', { exact: true }).fill('Red torch for the field');
  await docket.getByLabel('Title', { exact: true }).press('Enter');
  await docket.getByRole('button', { name: 'Approve and publish' }).click();
  await expect(page.getByRole('heading', { name: 'The Bench is clear' })).toBeVisible();

  // A plan change is shown first, saved, and taken back.
  await go(page, 'Pricing');
  await expect(page.getByText(/3 stay, 0 rise/)).toBeVisible();
  await page.getByRole('button', { name: 'Margin: 20 %' }).click();
  await page.getByLabel('Margin', { exact: true }).fill('30');
  await page.getByLabel('Margin', { exact: true }).press('Enter');
  await expect(page.locator('b', { hasText: 'What would happen' })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Save and change 2 prices' }).click();
  const priceOf = async (sku: string) =>
    ((await look(request, PENNYWHARF, 'listings')) as { sku: string; price: string }[]).find(
      (l) => l.sku === sku,
    )!.price;
  const skus = ((await look(request, PENNYWHARF, 'listings')) as { sku: string }[]).map((l) => l.sku);
  const other = skus.find((s) => s !== bought)!;
  const dear = await expect
    .poll(() => priceOf(other))
    .not.toBe('')
    .then(() => priceOf(other));
  await page.getByRole('heading', { name: 'Pricing' }).click();
  await page.keyboard.press('Control+z');
  await expect(said(page, /^Undone: Plan “Everything” changed/)).toBeVisible();
  await expect.poll(async () => Number(await priceOf(other))).toBeLessThan(Number(dear) + 0.001);

  // The supplier moves: dearer, out of stock, back.
  const item = other.replace('DD-', 'BW-');
  const before = Number(await priceOf(other));
  await control(request, BRACKWATER, 'cost', { skus: [item], percent: 40 });
  await runNow(page, 'Read the catalogue');
  await expect.poll(async () => Number(await priceOf(other))).toBeGreaterThan(before);
  await control(request, BRACKWATER, 'stock', { skus: [item], stock: 0 });
  await runNow(page, 'Read the catalogue');
  await go(page, 'Listings');
  await expect(page.getByText('Paused, out of stock')).toBeVisible();
  await control(request, BRACKWATER, 'stock', { skus: [item], stock: 4 });
  await runNow(page, 'Read the catalogue');
  await go(page, 'Listings');
  await expect(page.getByText('2 of 4')).toBeVisible();
  await rows(page, 'Listings').filter({ hasText: other }).click();
  const history = page.getByRole('complementary', { name: 'Listing' });
  await expect(history.getByText(/Cost \d+\.\d\d → \d+\.\d\d\..*/).first()).toBeVisible();
  await expect(history.getByText(/Price .* by plan “Everything”/).first()).toBeVisible();
  await expect(history.getByText(/Pennywharf UK shows .*, 2 in stock/).first()).toBeVisible();

  // Orders: the answer to the purchase is lost, a bad address is mended by hand.
  await control(request, BRACKWATER, 'faults', { loseAnswers: 1 });
  await control(request, PENNYWHARF, 'orders', { sku: bought, n: 1 });
  await control(request, PENNYWHARF, 'orders', { sku: other, n: 1, badAddress: true });
  await runNow(page, 'Read orders');
  await go(page, 'Orders');
  await expect(page.getByText(/Accepted, BT-/)).toBeVisible({ timeout: 30_000 });
  await rows(page, 'Orders').filter({ hasText: 'postcode is not one' }).click();
  const order = page.getByRole('complementary', { name: 'Order' });
  await order.getByRole('button', { name: 'Edit the address' }).click();
  await order.getByLabel('Postcode').fill('ls8 4qx');
  await order.getByRole('button', { name: 'Save and check again' }).click();
  await order.getByRole('button', { name: 'Forward to Brackwater Trade' }).click();
  await expect(page.getByText(/Accepted, BT-/)).toHaveCount(2);
  const purchases = (await look(request, BRACKWATER, 'purchases')) as {
    reference: string;
    shipTo: { postcode: string };
  }[];
  expect(new Set(purchases.map((p) => p.reference)).size).toBe(2);
  expect(purchases).toHaveLength(2);
  expect(purchases.some((p) => p.shipTo.postcode === 'LS8 4QX')).toBe(true);

  // Parcels leave, the marketplace is told.
  await control(request, BRACKWATER, 'advance', { status: 'accepted' });
  await runNow(page, 'Read shipments');
  await expect
    .poll(async () =>
      ((await look(request, PENNYWHARF, 'orders')) as { status: string }[]).map((o) => o.status),
    )
    .toEqual(['shipped', 'shipped']);
  await runNow(page, 'Read orders');
  await go(page, 'Orders');
  await expect(page.getByText(/Marketplace told/)).toHaveCount(2);
  await expect(page.getByText('0 open')).toBeVisible();

  await go(page, 'Money');
  await expect(page.getByText(/^2 orders, revenue/)).toBeVisible();
  await expect(page.getByText(/^2 orders that supplier and marketplace have settled/)).toBeVisible();
  await go(page, 'Today');
  await expect(page.getByText('Nothing needs you.')).toBeVisible();
  await page.reload();
  await expect(page.getByText('Nothing needs you.')).toBeVisible();
});

test('a reload in the middle of reading, publishing and forwarding loses nothing and does nothing twice', async ({
  page,
  request,
}) => {
  await control(request, BRACKWATER, 'faults', { slowMs: 900 });
  await connectBoth(page);
  await expect(page.getByText(/[1-9],?\d* of 2,400 read/)).toBeVisible();
  await page.reload();
  await expect(page.getByText(/[1-9],?\d* of 2,400 read/)).toBeVisible();
  await page.getByRole('button', { name: 'Stop Brackwater Trade catalogue' }).click();
  await expect(page.getByText(/Stopped after/)).toBeVisible();
  await page.getByRole('button', { name: 'Run now: Read the catalogue' }).click();
  await control(request, BRACKWATER, 'faults', { slowMs: 0 });
  await take(page, 'compass is:stocked has:barcode stock:>10', 8);

  await control(request, PENNYWHARF, 'faults', { slowMs: 500 });
  await go(page, 'Bench');
  await page.getByRole('button', { name: /^Approve \d+/ }).click();
  await page.getByRole('button', { name: /^Publish [1-9]/ }).click();
  await expect(page.getByText(/Publishing, \d+ listings? to go/)).toBeVisible();
  await page.reload();
  await control(request, PENNYWHARF, 'faults', { slowMs: 0 });
  await go(page, 'Listings');
  await expect(page.getByText(/^\d+ on Pennywharf UK: [1-9]\d* live, 0 paused/)).toBeVisible();
  await expect
    .poll(async () => ((await look(request, PENNYWHARF, 'listings')) as { revision: number }[]).length)
    .toBeGreaterThanOrEqual(7);

  await control(request, BRACKWATER, 'faults', { slowMs: 1500 });
  await control(request, PENNYWHARF, 'orders', { n: 3 });
  await runNow(page, 'Read orders');
  await go(page, 'Orders');
  await expect(page.getByText('On its way to the supplier').first()).toBeVisible();
  await page.reload();
  await expect(page.getByText(/Accepted, BT-/)).toHaveCount(3, { timeout: 40_000 });
  const purchases = (await look(request, BRACKWATER, 'purchases')) as { reference: string }[];
  expect(purchases.map((p) => p.reference).sort()).toEqual(
    [...new Set(purchases.map((p) => p.reference))].sort(),
  );
  expect(purchases).toHaveLength(3);
});

test('two tabs see the same shop, one of them works, and closing it hands over', async ({
  page,
  context,
  request,
}) => {
  await connectBoth(page);
  await take(page, 'compass is:stocked has:barcode stock:>10', 2);
  const second = await context.newPage();
  await second.goto(`${EMPTY}/bench`);
  await expect(rows(second, 'Bench')).toHaveCount(2);
  await second.getByRole('button', { name: 'Approve 2' }).click();
  await go(page, 'Bench');
  await expect(page.getByText('0 ready, 2 approved')).toBeVisible();
  await page.close();
  await second.getByRole('button', { name: 'Publish 2' }).click();
  await expect(second.getByRole('heading', { name: 'The Bench is clear' })).toBeVisible();
  await control(request, PENNYWHARF, 'orders', { n: 2 });
  await runNow(second, 'Read orders');
  await go(second, 'Orders');
  await expect(second.getByText(/Accepted, BT-/)).toHaveCount(2);
  expect(await look(request, BRACKWATER, 'purchases')).toHaveLength(2);
});

test('from the catalogue to a live listing by keyboard alone', async ({ page, request }) => {
  await connectBoth(page);
  /** Tab until something with this name has the focus; what cannot be reached fails the test. */
  const tabTo = async (name: RegExp, back = false) => {
    for (let i = 0; i < 60; i++) {
      const focused = await page.evaluate(() => {
        const e = document.activeElement;
        return e?.getAttribute('aria-label') ?? e?.textContent ?? '';
      });
      if (name.test(focused)) return;
      await page.keyboard.press(back ? 'Shift+Tab' : 'Tab');
    }
    throw new Error(`${name} cannot be reached by Tab`);
  };
  await page.keyboard.press('g');
  await page.keyboard.press('s');
  await expect(page.getByText(/2,400 items of Brackwater/)).toBeVisible({ timeout: 60_000 });
  await page.keyboard.press('/');
  await page.keyboard.type('compass has:barcode stock:>20 ');
  await expect(rows(page, 'Catalogue').first()).toBeVisible();
  await page.waitForTimeout(400);
  await tabTo(/^Catalogue$/);
  await page.keyboard.press('Space');
  await page.keyboard.press('Shift+ArrowDown');
  await expect(page.getByText('2 selected')).toBeVisible();
  await tabTo(/^Take 2 to the Bench$/, true);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('complementary', { name: 'Take to the Bench' })).toBeVisible();
  // What it would bring is told, and its button has the focus.
  await expect(
    page.getByRole('complementary').getByRole('button', { name: /^Take \d+ to the Bench$/ }),
  ).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(said(page, /2 items went to the Bench/)).toBeVisible();
  await page.keyboard.press('g');
  await page.keyboard.press('b');
  await expect(rows(page, 'Bench')).toHaveCount(2);
  await tabTo(/^Approve 2$/);
  await page.keyboard.press('Enter');
  await expect(page.getByText('0 ready, 2 approved')).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(page.getByText('2 ready, 0 approved')).toBeVisible();
  await tabTo(/^Approve 2$/);
  await page.keyboard.press('Enter');
  await tabTo(/^Publish 2$/);
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'The Bench is clear' })).toBeVisible();
  expect(await look(request, PENNYWHARF, 'listings')).toHaveLength(2);
});

import {
  confirmTake,
  connectBoth,
  EMPTY,
  expect,
  go,
  look,
  PENNYWHARF,
  rows,
  runNow,
  said,
  startAnew,
  test,
} from './harbour';

test.beforeEach(({ request }) => startAnew(request));

test('two thousand listings: published with a stop and a go, searched from two tabs meanwhile, repriced while one types', async ({
  page,
  context,
  request,
}) => {
  test.setTimeout(300_000);
  const onSite = async () =>
    (await look(request, PENNYWHARF, 'listings')) as { sku: string; price: string; revision: number }[];
  await connectBoth(page);
  await runNow(page, 'Read the catalogue');
  await go(page, 'Source');
  await expect(page.getByText(/2,400 items of Brackwater/)).toBeVisible({ timeout: 60_000 });
  await page.getByRole('combobox', { name: 'Search' }).fill('has:picture has:barcode is:stocked');
  await page.getByRole('button', { name: /^Select all/ }).click();
  await page.getByRole('button', { name: /^Take [\d,]+ to the Bench$/ }).click();
  await confirmTake(page);

  await go(page, 'Bench');
  await page.getByRole('button', { name: /^Approve [\d,]+$/ }).click();
  await expect(said(page, /products? approved/)).toBeVisible({ timeout: 60_000 });
  await page.getByRole('button', { name: /^Publish [\d,]+$/ }).click();
  await expect(said(page, /listings? on the way/)).toBeVisible({ timeout: 60_000 });

  // Some are there when it is stopped; after that no more come.
  await expect.poll(async () => (await onSite()).length, { timeout: 60_000 }).toBeGreaterThan(50);
  await page.getByRole('button', { name: 'Stop publishing' }).click();
  await expect(page.getByRole('button', { name: 'Stop publishing' })).toBeHidden({ timeout: 60_000 });
  const stopped = (await onSite()).length;
  await page.waitForTimeout(3_000);
  expect((await onSite()).length).toBe(stopped);

  const other = await context.newPage();
  await other.goto(`${EMPTY}/listings`);
  await expect(rows(other, 'Listings').first()).toBeVisible();
  await page.getByRole('button', { name: /^Publish [\d,]+$/ }).click();
  await other.getByRole('combobox', { name: 'Search' }).fill('torch');
  await expect(rows(other, 'Listings').first()).toContainText(/torch/i);
  await expect.poll(async () => (await onSite()).length, { timeout: 120_000 }).toBeGreaterThan(1_000);
  await expect(page.getByRole('button', { name: 'Stop publishing' })).toBeHidden({ timeout: 120_000 });
  const all = await onSite();
  expect(new Set(all.map((l) => l.sku)).size).toBe(all.length);
  await go(page, 'Listings');
  await expect(
    page.getByText(new RegExp(`${all.length.toLocaleString('en-GB')} on Pennywharf`)),
  ).toBeVisible();

  // Every price moves while the other tab goes on searching; nothing typed is lost.
  await go(page, 'Pricing');
  await page.getByRole('button', { name: /^Margin:/ }).click();
  await page.getByLabel('Margin', { exact: true }).fill('31');
  await page.getByLabel('Margin', { exact: true }).press('Enter');
  await page.getByRole('button', { name: /^Save and change/ }).click();
  const line = other.getByRole('combobox', { name: 'Search' });
  await line.fill('');
  await line.pressSequentially('lantern is:live', { delay: 60 });
  await expect(other).toHaveURL(/q=lantern/);
  const before = new Map(all.map((l) => [l.sku, l.price]));
  await expect
    .poll(async () => (await onSite()).filter((l) => l.price !== before.get(l.sku)).length, {
      timeout: 120_000,
    })
    .toBeGreaterThan(all.length * 0.8);
  await expect(rows(other, 'Listings').first()).toContainText(/lantern/i);
  await expect(page.getByText(/A job failed/)).toBeHidden();
  await other.close();
});

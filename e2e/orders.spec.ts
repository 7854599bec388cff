import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { control, DEMO, expect, rows, said, test } from './harbour';

const SHOP = 'http://127.0.0.1:4922';

const lacksNoAccess = async (page: Page) => {
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag22aa']).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
};

const order = (page: Page) => page.getByRole('complementary', { name: 'Order' });

async function open(page: Page, says: string): Promise<void> {
  // Without those that wait for their proofs: what is looked for is among the rows that are drawn.
  await page.goto(`${DEMO}/orders?q=is:held -is:personalised`);
  await rows(page, 'Orders').filter({ hasText: says }).first().click();
  await expect(order(page).getByText('Held.', { exact: true })).toBeVisible();
}

test('a note is read, a label is given and found, and several held orders are released after a look at what that buys', async ({
  page,
}) => {
  await open(page, 'The buyer left a note');
  await expect(order(page).getByText('Please leave it with the neighbour at 12.')).toBeVisible();
  await order(page).getByLabel('Your note').fill('Told the carrier');
  await order(page).getByLabel('New label').fill('neighbour');
  await order(page).getByRole('button', { name: 'Add label' }).click();
  await expect(said(page, /Labels changed/)).toBeVisible();
  await lacksNoAccess(page);
  await page.goto(`${DEMO}/orders?q=label:neighbour`);
  await expect(rows(page, 'Orders')).toHaveCount(1);
  await page.goto(`${DEMO}/orders?q=carrier`);
  await expect(rows(page, 'Orders').first()).toBeVisible();

  await page.goto(`${DEMO}/orders?q=is:held -is:personalised`);
  for (const says of ['The buyer left a note', 'The same buyer ordered'])
    await rows(page, 'Orders').filter({ hasText: says }).first().getByRole('checkbox').check();
  await page.getByRole('button', { name: 'More for these' }).click();
  await page.getByRole('menuitem', { name: 'Release what is held…' }).click();
  const ahead = page.getByRole('group', { name: 'Release held orders' });
  await expect(ahead.getByText(/Releasing buys for 2 held orders: £[\d.]+ to suppliers/)).toBeVisible();
  await lacksNoAccess(page);
  await ahead.getByRole('button', { name: 'Release 2 orders and buy' }).click();
  await expect(said(page, /2 orders released/)).toBeVisible();
});

test('an address is proposed and never mended by itself; another source is chosen with its cost told', async ({
  page,
}) => {
  await open(page, 'The postcode is missing');
  await expect(order(page).getByText(/^Perhaps/)).toBeVisible();
  await expect(
    order(page)
      .getByText(/with £[\d.]+ shipping, \d days from GB, earns/)
      .first(),
  ).toBeVisible();
  await lacksNoAccess(page);
  await order(page).getByRole('button', { name: 'Use this' }).click();
  await expect(order(page).getByRole('button', { name: /^Forward to/ })).toBeVisible();
});

test('a rule says what it would do to what waits; in its wait an order is kept back, and let go', async ({
  page,
  request,
}) => {
  // Goods that pass every check: what a buyer picks by chance may be held.
  await page.goto(`${DEMO}/listings?q=is:live margin:>20 stock:>9 supplier:Brackwater on:"Pennywharf UK"`);
  const sku = (await rows(page, 'Listings').first().textContent())!.match(/DD-[\w-]+/)![0];
  await page.goto(`${DEMO}/orders/rules`);
  await expect(page.getByText(/^Of \d+ waiting orders/)).toBeVisible();
  await page.getByRole('button', { name: 'New forwarding rule' }).click();
  await page.getByLabel('Name of the rule').fill('A night to think');
  const when = page.getByLabel('Orders that it is for');
  await when.fill('colour:red');
  await expect(page.getByRole('button', { name: 'Save rules' })).toBeDisabled();
  await when.fill('country:GB');
  await lacksNoAccess(page);
  await page.getByRole('button', { name: 'Save rules' }).click();
  await expect(said(page, /Rules saved/)).toBeVisible();
  await control(request, SHOP, 'orders', { n: 2, sku, quantity: 1, country: 'GB' });
  await page.goto(`${DEMO}/connections`);
  await page
    .getByRole('article', { name: 'Pennywharf UK' })
    .getByRole('button', { name: 'Run now: Read orders' })
    .click();
  await page.goto(`${DEMO}/orders/coming`);
  const row = page.getByRole('row').filter({ hasText: 'A night to think' }).first();
  await expect(row).toBeVisible({ timeout: 120_000 });
  await lacksNoAccess(page);
  await row.getByRole('button', { name: /^Keep back/ }).click();
  const kept = page.getByRole('row').filter({ hasText: 'Kept back' });
  await expect(kept).toHaveCount(1);
  await kept.getByRole('button', { name: /^Send .* now/ }).click();
  await expect(said(page, /is on its way/)).toBeVisible();
});

test('what a mail says of an order is shown where it stands, taken once, and the marketplace is told', async ({
  page,
}) => {
  await page.goto(`${DEMO}/orders?q=is:place`);
  const number = (await rows(page, 'Orders').first().locator('.font-mono').first().textContent())!.trim();
  await page.goto(`${DEMO}/orders/mails`);
  await page
    .getByLabel('or paste the text of one')
    .fill(`Your order ${number}. Our reference: HO-55812.\nFen Post, tracking number: FP 2231 8890 12`);
  await page.getByRole('button', { name: 'Look through it' }).click();
  await expect(page.locator('mark', { hasText: 'HO-55812' })).toBeVisible();
  await lacksNoAccess(page);
  await page.getByRole('button', { name: /^Take it/ }).click();
  await expect(said(page, /1 purchase moved on/)).toBeVisible();
  await page.getByRole('button', { name: 'Look through it' }).click();
  await expect(page.getByText(/on record|names no purchase/)).toBeVisible();
  await page.goto(`${DEMO}/orders?q=${number}`);
  await rows(page, 'Orders').first().click();
  await expect(order(page).getByText('FP2231889012').first()).toBeVisible();
  await expect(
    order(page)
      .getByText(/was notified of the parcel/)
      .first(),
  ).toBeVisible({ timeout: 30_000 });
});

test('messages are seen on a real order before they are switched on; an order is typed; slips come as one file', async ({
  page,
}) => {
  await page.goto(`${DEMO}/orders/messages`);
  await page.getByRole('checkbox', { name: 'When an order comes in' }).check();
  await expect(page.getByText(/^Hello \w+,/)).toBeVisible();
  await page.getByLabel('Template').fill('Hello {{colour}}');
  await expect(page.getByText('There is no field “colour”.')).toBeVisible();
  await lacksNoAccess(page);

  await page.goto(`${DEMO}/orders/new`);
  await page.getByLabel(/One line each/).fill('NONE-1 2 9.99');
  await page.getByLabel('Name').fill('Ida Roe');
  await page.getByLabel('Street').fill('4 Tarn Rise');
  await page.getByLabel('Town').fill('Leeds');
  await page.getByLabel('Postcode').fill('LS8 4QX');
  await page.getByRole('button', { name: 'Enter the order' }).click();
  await expect(page.getByText(/NONE-1 is not one of your listings/)).toBeVisible();
  await lacksNoAccess(page);

  await page.goto(`${DEMO}/orders?q=is:held`);
  await rows(page, 'Orders').first().getByRole('checkbox').check();
  await rows(page, 'Orders').nth(1).getByRole('checkbox').check();
  const file = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Packing slips' }).click();
  expect((await file).suggestedFilename()).toBe('packing-slips.pdf');
  await expect(said(page, /2 packing slips/)).toBeVisible();
});
test('a search is kept as a view with its count; a buyer’s request to cancel is declined with a reason', async ({
  page,
  request,
}) => {
  await page.goto(`${DEMO}/orders?q=is:held country:GB`);
  const views = page.getByRole('navigation', { name: 'Views of orders' });
  await expect(rows(page, 'Orders').first()).toBeVisible();
  await views.getByRole('button', { name: 'Views' }).click();
  await page.getByLabel('Keep this search and its order as').fill('Held at home');
  await page.getByRole('button', { name: 'Keep the view' }).click();
  await expect(views.getByRole('button', { name: /^Held at home [1-9]/ })).toHaveAttribute(
    'aria-current',
    'true',
  );
  await views.getByRole('button', { name: /^All/ }).click();
  await expect(views.getByRole('button', { name: /^All/ })).toHaveAttribute('aria-current', 'true');
  await lacksNoAccess(page);

  const number = await rows(page, 'Orders')
    .filter({ hasText: 'The postcode is missing' })
    .first()
    .locator('.font-mono')
    .first()
    .textContent();
  await control(request, SHOP, 'ask-to-cancel', { number });
  await page.goto(`${DEMO}/connections`);
  await page
    .getByRole('article', { name: 'Pennywharf UK' })
    .getByRole('button', { name: 'Run now: Read orders' })
    .click();
  await page.goto(`${DEMO}/orders?q=is:asked ${number}`);
  await rows(page, 'Orders').first().click();
  const asks = order(page).getByText(/^The buyer asks to cancel it: /);
  await expect(asks.first()).toBeVisible();
  await lacksNoAccess(page);
  await order(page).getByRole('button', { name: 'Decline…' }).click();
  await expect(order(page).getByRole('button', { name: 'Decline the request' })).toBeDisabled();
  await order(page).getByLabel('Why not, as the buyer reads it').fill('It is packed for you.');
  await order(page).getByRole('button', { name: 'Decline the request' }).click();
  await expect(asks).toHaveCount(0);
  await expect(order(page).getByText('Held.', { exact: true })).toBeVisible();
  await expect(
    order(page)
      .getByText(/was told that the request is declined/)
      .first(),
  ).toBeVisible();
});

test('a line is split over two sources by hand, and shipped by a faster service, each with its cost', async ({
  page,
}) => {
  await page.goto(`${DEMO}/orders/new`);
  await page.goto(`${DEMO}/orders?q=is:held units:2`);
  await rows(page, 'Orders').first().click();
  const split = order(page).getByRole('button', { name: 'Split by hand…' });
  await expect(split.first()).toBeVisible();
  await split.first().click();
  const fields = order(page).locator('form').filter({ hasText: 'Split like this' }).getByRole('textbox');
  await fields.nth(0).fill('2');
  await fields.nth(1).fill('1');
  await expect(order(page).getByRole('button', { name: 'Split like this' })).toBeDisabled();
  await fields.nth(0).fill('1');
  await order(page).getByRole('button', { name: 'Split like this' }).click();
  await expect(order(page).getByText('Split by you.')).toBeVisible();
  await order(page).getByLabel('Shipping').first().selectOption({ label: 'Next day, 1 day, +£4.60' });
  await expect(order(page).getByText(/1 day by “Next day”/)).toBeVisible();
  await lacksNoAccess(page);
  await page.getByRole('heading', { name: 'Orders' }).click();
  await page.keyboard.press('Control+z');
  await expect(order(page).getByText(/1 day by “Next day”/)).toBeHidden();
});

test('orders of a file are entered, good ones beside bad ones, and nothing of it twice', async ({ page }) => {
  await page.goto(`${DEMO}/listings?q=is:live stock:>5 on:"Pennywharf UK"`);
  const sku = (await rows(page, 'Listings').first().textContent())!.match(/DD-[\w-]+/)![0];
  await page.goto(`${DEMO}/orders/new`);
  await page.getByLabel('It is').selectOption('till');
  const head = 'order,paid at,sku,quantity,unit price,name,address line 1,town,postcode,country';
  const row = (order: string, what: string) =>
    `${order},2026-11-30T10:00:00Z,${what},1,24.99,Ida Roe,4 Tarn Rise,Leeds,LS8 4QX,GB`;
  const file = {
    name: 'till.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from([head, row('T-1', sku), row('T-2', 'NONE-1')].join('\n')),
  };
  await page.getByLabel('File of orders').setInputFiles(file);
  await expect(said(page, /1 order entered from till.csv/)).toBeVisible();
  await expect(page.getByText(/NONE-1 is not one of your listings/)).toBeVisible();
  await lacksNoAccess(page);
  await page.getByLabel('File of orders').setInputFiles(file);
  await expect(said(page, /0 orders entered from till.csv; 1 order of it entered before/)).toBeVisible();
  await page.goto(`${DEMO}/orders?q=OWN-T-1`);
  await expect(rows(page, 'Orders')).toHaveCount(1);
});

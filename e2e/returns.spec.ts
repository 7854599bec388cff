import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { control, DEMO, expect, look, said, test } from './harbour';

const SHOP = 'http://127.0.0.1:4922';
const SUPPLIER = 'http://127.0.0.1:4921';

const lacksNoAccess = async (page: Page) => {
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag22aa']).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
};

/** Does a job of a connection now: nothing waits for its minute. */
async function runNow(page: Page, connection: string, job: string): Promise<void> {
  await page.goto(`${DEMO}/connections`);
  await page
    .getByRole('article', { name: connection })
    .getByRole('button', { name: `Run now: ${job}` })
    .click();
}

const docket = (page: Page) => page.getByRole('complementary', { name: 'Return' });

async function openReturn(page: Page, number: string, what: RegExp, show = ''): Promise<void> {
  await page.goto(`${DEMO}/orders/returns${show}`);
  await page
    .getByRole('row', { name: what })
    .getByRole('button', { name: `Open the return of ${number}` })
    .click();
  await expect(docket(page)).toBeVisible();
}

interface Sold {
  readonly number: string;
  readonly refunded?: string;
  readonly returns?: readonly { readonly id: string; readonly state: string; readonly refunded?: string }[];
}

const PHOTO = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);

test('a return from the request to the settled loss: answered, claimed with a photograph, closed, and found among the reasons', async ({
  page,
  request,
}) => {
  const { number, id } = await control(request, SHOP, 'return', { kind: 'refund', reason: 'faulty' });
  await runNow(page, 'Pennywharf UK', 'Read orders');
  await openReturn(page, number, /Faulty/);
  await expect(docket(page).getByText(/^Proposed: refund the buyer, and ask the supplier/)).toBeVisible();
  await lacksNoAccess(page);
  // More than was paid cannot be typed.
  const amount = docket(page).getByLabel('Refund, GBP');
  const whole = await amount.inputValue();
  await amount.fill('9999');
  await amount.press('Tab');
  await expect(docket(page).getByText(/^At most £/)).toBeVisible();
  await amount.fill(whole);
  await amount.press('Tab');
  await docket(page)
    .getByRole('button', { name: `Refund £${whole}` })
    .click();
  await expect(said(page, /is refunded/)).toBeVisible();
  await expect
    .poll(async () => {
      const orders = (await look(request, SHOP, 'orders')) as Sold[];
      return orders.findLast((o) => o.number === number)?.returns?.find((r) => r.id === id)?.state;
    })
    .toBe('closed');
  await docket(page)
    .getByRole('button', { name: /^Ask .* about it$/ })
    .click();
  await docket(page).getByLabel('What is wrong').fill('It flickers.');
  await docket(page)
    .getByLabel(/^Photographs/)
    .setInputFiles({ name: 'a.png', mimeType: 'image/png', buffer: PHOTO });
  await docket(page).getByRole('button', { name: /^Ask / }).click();
  await runNow(page, 'Pennywharf UK', 'Read orders');
  await openReturn(page, number, /Faulty/);
  await expect(docket(page).getByText('Refund to the buyer')).toBeVisible();
  await expect(docket(page).getByRole('rowheader', { name: /^(Lost|Left over)$/ })).toBeVisible();
  await docket(page)
    .getByRole('button', { name: /^Close it/ })
    .click();
  await expect(said(page, /The return is closed/)).toBeVisible();
  await openReturn(page, number, /Faulty/, '?show=closed');
  await page.getByRole('tab', { name: 'Rates and reasons' }).click();
  await expect(
    page.getByRole('table', { name: 'Rates of return by reason' }).getByRole('row', { name: /Faulty/ }),
  ).toBeVisible();
  await lacksNoAccess(page);
  await page.getByRole('button', { name: 'Rules' }).click();
  await lacksNoAccess(page);
});

test('an undeliverable parcel is sent again to a mended address', async ({ page, request }) => {
  // A parcel leaves, and comes back.
  await control(request, SUPPLIER, 'advance', { status: 'accepted' });
  const { tracking } = await control(request, SUPPLIER, 'undeliverable');
  await runNow(page, 'Brackwater Trade', 'Read shipments');
  await page.goto(`${DEMO}/orders/returns`);
  const row = page.getByRole('row', { name: /Undeliverable/ });
  await expect(row.first()).toBeVisible();
  for (let k = 0; k < (await row.count()); k++) {
    await row.nth(k).getByRole('button').click();
    await expect(docket(page)).toBeVisible();
    if (await docket(page).getByText(tracking).isVisible()) break;
  }
  await expect(docket(page).getByText(tracking)).toBeVisible();
  await docket(page).getByRole('button', { name: 'Mend the address first' }).click();
  await docket(page).getByLabel('Street').fill('7 Mended Row');
  await lacksNoAccess(page);
  await docket(page).getByRole('button', { name: 'Send it there' }).click();
  await expect(said(page, /It is sent again/)).toBeVisible();
  await expect
    .poll(async () => {
      const purchases = (await look(request, SUPPLIER, 'purchases')) as {
        readonly shipTo: { readonly line1: string };
        readonly back?: readonly { readonly tracking: string; readonly again?: object }[];
      }[];
      const p = purchases.find((one) => one.back?.some((b) => b.tracking === tracking));
      return p?.back?.[0]?.again ? p.shipTo.line1 : '';
    })
    .toBe('7 Mended Row');
});

test('money is broken down and adds up; a row opens the orders behind it, and one of them its docket', async ({
  page,
}) => {
  await page.goto(`${DEMO}/money?by=marketplace`);
  const profits = async () =>
    (
      await page
        .getByRole('table', { name: /^Totals by/ })
        .locator('tbody tr td:nth-child(8)')
        .allInnerTexts()
    )
      .map((text) => Math.round(Number(text.replace('−', '-').replace(/[+,]/g, '')) * 100))
      .reduce((a, b) => a + b, 0);
  await expect(page.getByRole('table', { name: 'Totals by marketplace' })).toBeVisible();
  const whole = await profits();
  const state = await page.getByText(/\d+ orders?, revenue/).innerText();
  const told = Number(/profit [+]?(−?[\d,.]+),/.exec(state)![1]!.replace('−', '-').replaceAll(',', ''));
  expect(whole).toBe(Math.round(told * 100));
  await page.getByRole('combobox', { name: 'By', exact: true }).selectOption('supplier');
  await expect(page.getByRole('table', { name: 'Totals by supplier' })).toBeVisible();
  expect(await profits()).toBe(whole);
  await page.getByRole('combobox', { name: 'Beside', exact: true }).selectOption('before');
  await expect(page.getByText(/against the days before/).first()).toBeVisible();
  await lacksNoAccess(page);
  await page
    .getByRole('table', { name: 'Totals by supplier' })
    .getByRole('button', { name: 'Brackwater Trade' })
    .click();
  const behind = page.getByRole('table', { name: 'Orders of Brackwater Trade' });
  await behind.getByRole('link').first().click();
  await expect(page.getByRole('complementary', { name: 'Order' })).toBeVisible();
});

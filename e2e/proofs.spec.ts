import AxeBuilder from '@axe-core/playwright';
import type { APIRequestContext, Page } from '@playwright/test';
import { control, DEMO, expect, look, rows, said, test } from './harbour';

const SHOP = 'http://127.0.0.1:4922';
const MAKER = 'http://127.0.0.1:4926';

const lacksNoAccess = async (page: Page) => {
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag22aa']).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
};

const waiting = (page: Page) => page.getByRole('list', { name: 'Proofs that wait' }).getByRole('button');
const order = (page: Page) => page.getByRole('complementary', { name: 'Order' });
const drawn = (page: Page) => page.getByRole('img', { name: /as it is made$/ });

/** Does a job of a connection now: nothing waits for its minute. */
async function runNow(page: Page, connection: string, job: string): Promise<void> {
  await page.goto(`${DEMO}/connections`);
  await page
    .getByRole('article', { name: connection })
    .getByRole('button', { name: `Run now: ${job}` })
    .click();
}

/** Opens the proof of a mug that a buyer wrote something for. @returns the order's number */
async function openMug(page: Page, wrote: string): Promise<string> {
  await page.goto(`${DEMO}/orders/proofs`);
  const mugs = waiting(page).filter({ hasText: 'Mug with a name' });
  await expect(mugs.first()).toBeVisible();
  for (let k = 0; k < (await mugs.count()); k++) {
    await mugs.nth(k).click();
    const number = (await mugs.nth(k).textContent())!.match(/PW-\d+/)![0];
    await expect(page.getByRole('link', { name: number })).toBeVisible();
    if (await page.getByText(wrote).first().isVisible()) return number;
  }
  throw new Error(`Nobody wrote ${wrote}.`);
}

/** Approves the open proof by its key, and buys the order at once. */
async function approveAndBuy(page: Page, number: string): Promise<void> {
  await expect(drawn(page)).toBeVisible();
  await page.keyboard.press('a');
  await expect(said(page, new RegExp(`The proof of ${number} is approved`))).toBeVisible();
  await page.goto(`${DEMO}/orders?q=${number}`);
  await rows(page, 'Orders').first().click();
  // By its rule it goes at once, or waits for a word.
  const forward = order(page).getByRole('button', { name: /^Forward to Tinloft/ });
  await expect(forward.or(order(page).getByText('Made as approved.'))).toBeVisible();
  if (await forward.isVisible()) await forward.click();
  await expect(order(page).getByText(/Tinloft Print Works: accepted as/)).toBeVisible();
}

const purchases = async (request: APIRequestContext) =>
  (await look(request, MAKER, 'purchases')) as unknown[];

test('from the sale to its parcel: a word is corrected, the buyer asked, the proof approved, printed nearby, and printed again', async ({
  page,
  request,
}) => {
  const rocket = await openMug(page, '🚀');
  const words = page.getByRole('complementary', { name: 'Words and fields' });
  await expect(words.getByText(/The font Caveat has no/)).toBeVisible();
  await expect(words.getByRole('button', { name: 'Approve' })).toBeDisabled();
  await lacksNoAccess(page);
  await page.keyboard.press('e');
  await page.keyboard.press('Control+a');
  await page.keyboard.type('Bo');
  await page.keyboard.press('Enter');
  await expect(said(page, /The words were changed/)).toBeVisible();
  await expect(words.getByText('As you set it')).toBeVisible();
  await expect(words.getByText(/Name: Bo ./)).toBeVisible();
  await expect(words.getByRole('button', { name: 'Approve' })).toBeEnabled();

  const joe = await openMug(page, 'Grandpa Joe');
  expect(joe).not.toBe(rocket);
  await page.keyboard.press('q');
  await expect(page.getByLabel(/^Question to the buyer/)).toHaveValue(new RegExp(joe));
  await lacksNoAccess(page);
  await page.getByRole('button', { name: 'Send the question' }).click();
  await expect(said(page, /is asked/)).toBeVisible();
  await expect(waiting(page).filter({ hasText: joe })).toContainText('asked');
  await control(request, SHOP, 'answer', { number: joe, text: 'Grandpa Joe' });
  await runNow(page, 'Pennywharf UK', 'Read orders');
  await openMug(page, 'Grandpa Joe');
  await expect(words.getByLabel('Name')).toHaveValue('Grandpa Joe');
  await expect(words.getByRole('button', { name: 'Approve' })).toBeEnabled();

  const before = (await purchases(request)).length;
  await approveAndBuy(page, joe);
  expect((await purchases(request)).length).toBe(before + 1);
  await expect(order(page).getByText(/Printed in Leeds: received/)).toBeVisible();
  await control(request, MAKER, 'advance', { status: 'accepted' });
  await runNow(page, 'Tinloft Print Works', 'Read shipments');
  await page.goto(`${DEMO}/orders?q=${joe}`);
  await rows(page, 'Orders').first().click();
  await expect(order(page).getByText(/marketplace notified/)).toBeVisible({ timeout: 90_000 });

  await order(page).getByRole('button', { name: 'Something came out wrong…' }).click();
  await order(page).getByLabel('What is wrong with it').fill('The name is smeared.');
  await order(page)
    .getByLabel('Photograph')
    .setInputFiles({ name: 'mug.jpg', mimeType: 'image/jpeg', buffer: Buffer.alloc(400, 9) });
  await lacksNoAccess(page);
  await order(page).getByRole('button', { name: 'Ask for a reprint' }).click();
  await expect(said(page, /is asked to print it again/)).toBeVisible();
  await expect
    .poll(async () => (await control(request, MAKER, 'reprints')).sent, { timeout: 60_000 })
    .toBeGreaterThan(0);
  await runNow(page, 'Tinloft Print Works', 'Read shipments');
  await page.goto(`${DEMO}/orders?q=${joe}`);
  await rows(page, 'Orders').first().click();
  await expect(
    order(page)
      .getByText(/sent it again by/)
      .first(),
  ).toBeVisible({ timeout: 120_000 });
});

test('where the nearest site is out of the blank its backup prints; a place that is there twice is asked about', async ({
  page,
  request,
}) => {
  await page.goto(`${DEMO}/orders/proofs`);
  const words = page.getByRole('complementary', { name: 'Words and fields' });
  const posters = waiting(page).filter({ hasText: 'Poster of your night sky' });
  await expect(posters.first()).toBeVisible();
  await posters.nth(1).click();
  await expect(words.getByText('There are several. Which one is meant?')).toBeVisible();
  await words.getByRole('button', { name: 'Newcastle upon Tyne, Tyne and Wear, GB' }).click();
  await expect(words.getByRole('button', { name: 'Approve' })).toBeEnabled();
  await posters.nth(2).click();
  await expect(words.getByText('The calendar has no “31 February 2020”.')).toBeVisible();
  await lacksNoAccess(page);

  await control(request, MAKER, 'site-out', { site: 'leeds', skus: ['TL-MU-WH'] });
  const matilda = await openMug(page, 'Matilda');
  await approveAndBuy(page, matilda);
  await expect(order(page).getByText(/Printed in Wrocław/)).toBeVisible();
  await control(request, MAKER, 'site-out', { site: 'leeds', skus: [] });
});

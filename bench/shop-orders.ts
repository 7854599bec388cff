import type { Page } from '@playwright/test';
import { formatCount } from '../src/core/units';
import { type Step, seen } from './shop';

/** Orders that were placed while nobody looked: as many as the full shop has in two days. */
const ORDERS = 1_000;
const MARKET = 'pennywharf';

/** Orders that come in by many pages: read, checked, stored, with the quantities that they change. */
export async function measureOrders(
  page: Page,
  origin: string,
  step: Step,
  say: (what: string, says: string) => void,
): Promise<void> {
  await page.goto(`${origin}/connections`);
  await page.getByRole('button', { name: 'Run now: Read orders' }).first().waitFor();
  // What the last step left is told first, and the catalogue read that a new browser begins with; and the browser tidies
  // what it stored.
  await page.waitForTimeout(60_000);
  await page.evaluate(untilIdle);
  // What comes in waits for a person, so that there is something to decide anew.
  await page.goto(`${origin}/orders/rules`);
  await page.getByLabel('All others are forwarded').selectOption('by hand');
  await page.getByRole('button', { name: 'Save rules' }).click();
  await seen(page, /Rules saved/);
  await page.goto(`${origin}/connections`);
  await page.getByRole('button', { name: 'Run now: Read orders' }).first().waitFor();
  const control = new URL(origin);
  control.port = String(Number(control.port) + 2);
  control.pathname = '/control/orders';
  const placed = await page.request.post(control.href, { data: { n: ORDERS } });
  const { length } = ((await placed.json()) as { numbers: string[] }).numbers;
  if (length !== ORDERS) throw new Error(`Only ${length} orders were placed.`);
  let read = { orders: 0, seconds: 1 };
  await step(page, `${ORDERS.toLocaleString('en-GB')} orders in`, async () => {
    const card = page.getByRole('article', { name: 'Pennywharf UK' });
    await card.getByRole('button', { name: 'Run now: Read orders' }).click();
    read = await page.evaluate(untilRead, MARKET);
  });
  await measureRules(page, origin, step);
  await measurePapers(page, origin, step);
  await measureMoney(page, origin, step);
  await measureStatement(page, origin, step);
  say('orders in, from the first page on', `${Math.round((ORDERS - read.orders) / read.seconds)} a second`);
}

/** Every order that waits is decided twice, by the rules as they are and as they would be. */
async function measureRules(page: Page, origin: string, step: Step): Promise<void> {
  await page.goto(`${origin}/orders/rules`);
  await seen(page, /Of [\d,]+ waiting orders/);
  const says = await page.getByRole('status').filter({ hasText: 'waiting orders' }).textContent();
  await step(
    page,
    `${says?.match(/Of [\d,]+/)?.[0].slice(3)} waiting orders decided twice, for a draft`,
    async () => {
      await page.getByLabel('All others are forwarded').selectOption('at once');
      await seen(page, /Saving spends/);
    },
  );
  await page.getByRole('button', { name: 'Discard' }).click();
  await page.goto(`${origin}/orders/coming`);
  await step(page, 'to Coming purchases', () => seen(page, /when you say so/));
}

/** A year of orders broken down, one row opened, and its ledger written. */
async function measureMoney(page: Page, origin: string, step: Step): Promise<void> {
  const to = new Date().toISOString().slice(0, 10);
  const from = new Date(Date.now() - 364 * 86_400_000).toISOString().slice(0, 10);
  const totals = (by: string) => page.getByRole('table', { name: `Totals by ${by}`, exact: true });
  await page.goto(`${origin}/money?by=month&from=${from}&to=${to}`);
  await totals('month').waitFor({ timeout: 120_000 });
  for (const by of ['product', 'supplier', 'day', 'product'])
    await step(page, `Money of a year by ${by}`, async () => {
      await page.getByRole('combobox', { name: 'By', exact: true }).selectOption(by);
      await totals(by).waitFor();
    });
  await step(page, 'the orders behind a product', async () => {
    await totals('product').locator('tbody button').first().click();
    await page.getByRole('table', { name: /^Orders of / }).waitFor();
  });
  await page.getByRole('button', { name: 'Ledger', exact: true }).click();
  await step(page, 'the ledger of a year as a file', async () => {
    const file = page.waitForEvent('download', { timeout: 300_000 });
    await page.getByRole('button', { name: 'Save the ledger as CSV' }).click();
    await file;
  });
  await page.goto(`${origin}/orders/returns?show=reasons`);
  await step(page, 'rates of return by product', async () => {
    await page.getByRole('button', { name: 'Product', exact: true }).click();
    await page.getByRole('table', { name: 'Rates of return by product' }).waitFor();
  });
}

const STATED = 50_000;

/** A statement of 50,000 lines read and compared, and what is told of it. */
async function measureStatement(page: Page, origin: string, step: Step): Promise<void> {
  await page.goto(`${origin}/money/statements`);
  const names = await page.evaluate(
    () =>
      new Promise<string[]>((done, fail) => {
        const opened = indexedDB.open('sampan-shop');
        opened.onerror = () => fail(opened.error);
        opened.onsuccess = () => {
          const keys = opened.result.transaction('orders').objectStore('orders').getAllKeys();
          keys.onerror = () => fail(keys.error);
          keys.onsuccess = () => done(keys.result as string[]);
        };
      }),
  );
  const own = names.flatMap((n) => (n.startsWith('pennywharf:') ? [n.slice(11)] : []));
  const kinds = ['Sale', 'Sale fee', 'Payment fee', 'Refund'];
  const rows = Array.from({ length: STATED }, (_, k) => {
    const kind = kinds[Math.floor(k / own.length) % kinds.length]!;
    return `2026-11-30,${own[k % own.length]},${kind},${kind === 'Sale' ? '' : '-'}${(k % 90) + 1}.25,L${k}`;
  });
  await page.getByRole('button', { name: 'Read a statement file' }).click();
  await page.getByRole('combobox', { name: 'Of' }).selectOption({ label: 'Pennywharf UK' });
  await step(page, `a statement file of ${formatCount(STATED)} lines looked at`, async () => {
    await page.locator('input[type=file]').setInputFiles({
      name: 'November.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from(['Date,Order,Type,Amount,Reference', ...rows].join('\n')),
    });
    await seen(page, /What it comes to: 50,000 lines/);
  });
  await step(
    page,
    `its lines compared with ${formatCount(Math.min(own.length, STATED))} orders`,
    async () => {
      await page.getByRole('button', { name: 'Take it in' }).click();
      await page.getByRole('complementary', { name: /^Statement November/ }).waitFor({ timeout: 120_000 });
    },
  );
  await step(page, 'Cash', async () => {
    await page.getByRole('tab', { name: 'Cash' }).click();
    await page.getByRole('table', { name: 'What is with marketplaces' }).waitFor();
  });
  await page.goto(`${origin}/money`);
  await page.getByRole('link', { name: 'Estimates' }).waitFor({ timeout: 60_000 });
  await step(page, 'estimates beside what came of them', async () => {
    await page.getByRole('link', { name: 'Estimates' }).click();
    await page.getByRole('table', { name: 'Estimates beside what came of them' }).waitFor();
  });
}

const MAILS = 200;

/** Packing slips of what waits as one file, and mails that are looked through. */
async function measurePapers(page: Page, origin: string, step: Step): Promise<void> {
  await page.goto(`${origin}/orders?q=is:ready`);
  await seen(page, /[\d,]+ matches/);
  await page.getByRole('grid', { name: 'Orders' }).focus();
  await page.keyboard.press('Control+a');
  const matches = await page.getByText(/[\d,]+ matches/).textContent();
  await step(page, `${matches?.match(/[\d,]+/)?.[0]} packing slips as one file`, async () => {
    const file = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Packing slips' }).click();
    await file;
  });
  await page.goto(`${origin}/orders/mails`);
  const mail = (k: number) =>
    `From: desk@hollin.example\r\nSubject: Order ${k}\r\nDate: Mon, 02 Nov 2026 10:00:00 +0000\r\n\r\nYour order PW-${20_001 + k}. Our reference: HO-${k}\nTracking number: FP22318${10_000 + k}`;
  await page.getByText('Choose mails').waitFor();
  await step(page, `${MAILS} mails looked through`, async () => {
    await page.locator('input[type=file]').setInputFiles(
      Array.from({ length: MAILS }, (_, k) => ({
        name: `${k}.eml`,
        mimeType: 'message/rfc822',
        buffer: Buffer.from(mail(k)),
      })),
    );
    await seen(page, /199\.eml/);
  });
}

/** Runs in the page: until no job was running for some seconds. */
async function untilIdle(): Promise<void> {
  const shop = await new Promise<IDBDatabase>((done) => {
    const opening = indexedDB.open('sampan-shop');
    opening.onsuccess = () => done(opening.result);
  });
  const busy = () =>
    new Promise<boolean>((done) => {
      const asked = shop.transaction('jobs').objectStore('jobs').getAll();
      asked.onsuccess = () => done((asked.result as { running: unknown }[]).some((job) => job.running));
    });
  for (let idle = 0; idle < 5; idle = (await busy()) ? 0 : idle + 1)
    await new Promise((looked) => setTimeout(looked, 1_000));
  shop.close();
}

/** Runs in the page: how many orders the first page had, and seconds from then to the last. */
async function untilRead(market: string): Promise<{ orders: number; seconds: number }> {
  const shop = await new Promise<IDBDatabase>((done) => {
    const opening = indexedDB.open('sampan-shop');
    opening.onsuccess = () => done(opening.result);
  });
  const running = () =>
    new Promise<{ done: number } | null>((done) => {
      const asked = shop.transaction('jobs').objectStore('jobs').get(`${market}:orders`);
      asked.onsuccess = () => done(asked.result.running);
    });
  let begun = 0;
  let orders = 0;
  for (;;) {
    const now = await running();
    if (!begun && now?.done) {
      begun = performance.now();
      orders = now.done;
    }
    if (begun && !now) break;
    await new Promise((looked) => setTimeout(looked, 20));
  }
  shop.close();
  return { orders, seconds: (performance.now() - begun) / 1000 };
}

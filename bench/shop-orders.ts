import type { Page } from '@playwright/test';
import type { Step } from './shop';

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
  say('orders in, from the first page on', `${Math.round((ORDERS - read.orders) / read.seconds)} a second`);
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

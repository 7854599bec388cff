import { type APIRequestContext, test as base, expect, type Page } from '@playwright/test';

export const EMPTY = 'http://127.0.0.1:4910';
export const DEMO = 'http://127.0.0.1:4920';
export const BRACKWATER = 'http://127.0.0.1:4911';
export const PENNYWHARF = 'http://127.0.0.1:4912';

export { expect };

/** By how many times pages are slowed, to see that no test depends on who is first; 1 for not at all. */
const SLOWED = Number(process.env.SLOWED ?? 1);

/** Every test fails on an error in the console or on the page, the content security policy's among them. */
export const test = base.extend<{ quiet: undefined; slowed: undefined; storageGoes: boolean }>({
  /** The test takes storage away under a page: what was under way then may fail in the console, too. */
  storageGoes: [false, { option: true }],
  slowed: [
    async ({ context }, use, info) => {
      if (SLOWED > 1) {
        info.setTimeout(info.timeout * SLOWED);
        const slow = async (page: Page) =>
          (await context.newCDPSession(page)).send('Emulation.setCPUThrottlingRate', { rate: SLOWED });
        context.on('page', (page) => void slow(page));
        await Promise.all(context.pages().map(slow));
      }
      await use(undefined);
    },
    { auto: true },
  ],
  quiet: [
    async ({ page, storageGoes }, use) => {
      const errors: string[] = [];
      page.on('pageerror', (e) => errors.push(e.message));
      page.on('console', (m) => {
        // A provoked answer of 4xx or 5xx is reported by the browser itself; what Sampan makes of it is
        // checked by the test.
        if (m.type() === 'error' && !/Failed to load resource/.test(m.text())) errors.push(m.text());
      });
      await use(undefined);
      if (!storageGoes) expect(errors).toEqual([]);
    },
    { auto: true },
  ],
});

export const control = async (
  request: APIRequestContext,
  origin: string,
  what: string,
  body: object = {},
) => {
  const answer = await request.post(`${origin}/control/${what}`, { data: body });
  expect(answer.ok()).toBe(true);
  return answer.json();
};

export const look = async (request: APIRequestContext, origin: string, what: string) =>
  (await request.get(`${origin}/control/${what}`)).json();

export const WELL = {
  outage: false,
  slowMs: 0,
  tooMany: 0,
  loseAnswers: 0,
  stray: 0,
  duplicate: false,
  late: 0,
  spoil: null,
};

/** Both services as they were when they were founded. */
export async function startAnew(request: APIRequestContext): Promise<void> {
  for (const origin of [BRACKWATER, PENNYWHARF]) {
    await control(request, origin, 'faults', WELL);
    await control(request, origin, 'reset');
  }
}

export const go = (page: Page, stop: string) =>
  page
    .getByRole('navigation', { name: 'The course' })
    .getByRole('link', { name: new RegExp(`^${stop}`) })
    .click();

export async function connectBoth(page: Page): Promise<void> {
  await page.goto(`${EMPTY}/connections`);
  const form = page.getByRole('form', { name: 'Connect Brackwater Trade' });
  await form.getByLabel('Account number').fill('DD-4471');
  await form.getByLabel('Key', { exact: true }).fill('lantern-moss-42');
  await page.getByRole('button', { name: 'Connect Brackwater Trade' }).click();
  await expect(page.getByRole('article', { name: 'Brackwater Trade' })).toBeVisible();
  await page.getByRole('button', { name: 'Connect Pennywharf UK' }).click();
  await page.getByRole('button', { name: 'Allow' }).click();
  await expect(page.getByRole('article', { name: 'Pennywharf UK' })).toBeVisible();
}

export async function runNow(
  page: Page,
  task: 'Read the catalogue' | 'Read orders' | 'Read shipments',
): Promise<void> {
  await page.getByRole('link', { name: 'Connections' }).click();
  await page.getByRole('button', { name: `Run now: ${task}` }).click();
}

/** A message in the corner; screen readers hear the same from another place. */
export const said = (page: Page, words: RegExp) =>
  page.getByRole('region', { name: /^Messages/ }).getByText(words);

export const rows = (page: Page, table: string) =>
  page.getByRole('grid', { name: table }).locator('[role=rowgroup] [role=row]');

/** Says yes to what taking would bring, as it is told in the docket. */
export async function confirmTake(page: Page): Promise<void> {
  await page
    .getByRole('complementary', { name: 'Take to the Bench' })
    .getByRole('button', { name: /^Take [\d,]+ to the Bench$/ })
    .click();
  await expect(said(page, /went to the Bench/)).toBeVisible();
}

/** Takes the first n matches of a query from Source to the Bench with the keyboard. */
export async function take(page: Page, query: string, n: number): Promise<void> {
  await go(page, 'Source');
  await expect(page.getByText(/2,400 items of Brackwater/)).toBeVisible({ timeout: 60_000 });
  await page.getByRole('combobox', { name: 'Search' }).fill(query);
  await expect(rows(page, 'Catalogue').first()).toBeVisible();
  await page.waitForTimeout(300);
  await page.getByRole('grid', { name: 'Catalogue' }).focus();
  await page.keyboard.press('Home');
  for (let i = 0; i < n; i++) {
    await page.keyboard.press('Space');
    await page.keyboard.press('ArrowDown');
  }
  await page.getByRole('button', { name: new RegExp(`^Take ${n} `) }).click();
  await confirmTake(page);
}

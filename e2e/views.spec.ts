import AxeBuilder from '@axe-core/playwright';
import { DEMO, expect, rows, test } from './harbour';

const VIEWS = [
  '/today',
  '/source',
  '/bench',
  '/pricing',
  '/listings',
  '/orders',
  '/money',
  '/today/digest',
  '/connections',
  '/source/lists',
  '/listings/bring-in',
  '/listings/groups',
  '/listings/groups?group=new',
  '/listings/feeds',
  '/listings/feeds?feed=new',
  '/orders/proofs',
  '/orders/returns',
  '/money/statements',
  '/money/statements?show=cash',
  '/money/statements?show=costs',
  '/money/estimates',
] as const;
const TABLES: Record<string, string> = {
  '/source': 'Catalogue',
  '/bench': 'Bench',
  '/listings': 'Listings',
  '/orders': 'Orders',
};

for (const theme of ['light', 'dark'] as const) {
  test(`no view has an accessibility fault that a machine can find (${theme})`, async ({ page }) => {
    await page.emulateMedia({ colorScheme: theme });
    const faults: string[] = [];
    for (const path of VIEWS) {
      await page.goto(DEMO + path);
      await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
      const table = TABLES[path];
      if (table) {
        await rows(page, table).first().click();
        await expect(page.getByRole('complementary')).toBeVisible();
      }
      await page.waitForTimeout(300);
      const axe = new AxeBuilder({ page });
      // The dark theme differs in its colours alone.
      const { violations } = await (theme === 'dark'
        ? axe.withRules(['color-contrast'])
        : axe.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
      ).analyze();
      faults.push(...violations.map((v) => `${path} ${v.id}: ${v.nodes[0]?.html.slice(0, 200)}`));
    }
    expect(faults).toEqual([]);
  });
}

test('the whole of it by keyboard: stops, search, rows, docket, commands, help', async ({ page }) => {
  await page.goto(`${DEMO}/today`);
  // What is told of the shop comes from its worker: from then on the page hears keys.
  await expect(page.getByText(/\d things? needs? you/).first()).toBeVisible();
  await page.keyboard.press('g');
  await page.keyboard.press('l');
  await expect(page.getByRole('heading', { name: 'Listings', level: 1 })).toBeVisible();
  await expect(page.getByRole('combobox', { name: 'Search' })).toBeVisible();
  await page.keyboard.press('/');
  await page.keyboard.type('-is:pa');
  await expect(page.getByRole('option', { name: /^-is:paused/ })).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await page.getByRole('button', { name: 'Remove -is:paused' }).click();
  await page.keyboard.press('/');
  await page.keyboard.type('is:live margin:>10 ');
  await expect(page.getByRole('button', { name: 'Remove is:live' })).toBeVisible();
  await expect(page).toHaveURL(/q=is%3Alive\+margin/);
  await page.keyboard.press('Tab');
  await page.getByRole('grid', { name: 'Listings' }).focus();
  await page.keyboard.press('j');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  const docket = page.getByRole('complementary', { name: 'Listing' });
  await expect(docket).toBeVisible();
  const title = await docket.getByRole('heading', { level: 2 }).innerText();
  const address = page.url();
  await page.keyboard.press('ArrowDown');
  await expect(docket.getByRole('heading', { level: 2 })).not.toHaveText(title);
  await page.goto(address);
  await expect(docket.getByRole('heading', { level: 2 })).toHaveText(title);
  await page.getByRole('grid', { name: 'Listings' }).focus();
  await page.keyboard.press('Escape');
  await expect(docket).toBeHidden();
  await page.keyboard.press('Control+k');
  await expect(page.getByRole('combobox', { name: 'Command' })).toBeFocused();
  await page.keyboard.type('go to ord');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Orders', level: 1 })).toBeVisible();
  await page.keyboard.press('?');
  await expect(page.getByRole('heading', { name: 'Keys' })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('heading', { name: 'Keys' })).toBeHidden();
});

test('held orders stand first, each with a reason and a way out; a loss is released only by hand', async ({
  page,
}) => {
  await page.goto(`${DEMO}/orders?q=is:held`);
  await expect(rows(page, 'Orders').first()).toBeVisible();
  await rows(page, 'Orders').filter({ hasText: 'Profit at today' }).first().click();
  const docket = page.getByRole('complementary', { name: 'Order' });
  await expect(docket.getByText('Held.', { exact: true })).toBeVisible();
  await expect(docket.getByText(/Profit at today’s cost is −/).first()).toBeVisible();
  await docket.getByRole('button', { name: 'Cancel…' }).click();
  await docket.getByRole('button', { name: 'Keep it' }).click();
  await docket.getByRole('button', { name: 'Forward anyway' }).click();
  await expect(docket.getByText(/accepted as/)).toBeVisible();
  await expect(docket.getByText('Released by you: profit.', { exact: false }).first()).toBeVisible();
});

test('the buyer of an order that is over is erased after a question, for good', async ({ page }) => {
  await page.goto(`${DEMO}/orders?q=is:delivered`);
  await rows(page, 'Orders').first().click();
  const docket = page.getByRole('complementary', { name: 'Order' });
  await docket.getByRole('button', { name: 'Erase the buyer’s data…' }).click();
  await expect(docket.getByText(/This cannot be undone/)).toBeVisible();
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  await docket.getByRole('button', { name: 'Keep' }).click();
  await docket.getByRole('button', { name: 'Erase the buyer’s data…' }).click();
  await docket.getByRole('button', { name: 'Erase', exact: true }).click();
  await expect(docket.getByText(/^Name, address and words were erased/)).toBeVisible();
  await page.reload();
  await expect(docket.getByRole('heading', { level: 2 })).toContainText('Erased');
  await expect(docket.getByText('Profit', { exact: true })).toBeVisible();
});

test('addresses from outside and search lines nobody meant are answered calmly', async ({ page }) => {
  await page.goto(
    `${DEMO}/orders?q=${encodeURIComponent('__proto__:x cost:cheap "unclosed <script>alert(1)</script>')}&row=${encodeURIComponent('"><img src=x>')}`,
  );
  await expect(page.getByText(/was left out: There is no field/)).toBeVisible();
  await page.goto(`${DEMO}/money?from=2026-99-99&to=yesterday&day=%00`);
  await expect(page.getByRole('heading', { name: 'Money' })).toBeVisible();
  await page.goto(`${DEMO}/nowhere`);
  await expect(page.getByText('There is no such place on the course')).toBeVisible();
});

test('a search out of the address shows what to expect of each item on the marketplace', async ({ page }) => {
  await page.goto(`${DEMO}/today`);
  await expect(page.getByText('What changed last')).toBeVisible({ timeout: 60_000 });
  await page.goto(`${DEMO}/source?q=is:new&sort=-margin`);
  const first = page.getByRole('grid', { name: 'Catalogue' }).locator('[role=rowgroup] [role=row]').first();
  await expect(first).toContainText(/\d\.\d\d.*%/);
});

test('the frame holds at 390 wide: Today and Orders can be used', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 780 });
  for (const path of ['/today', '/orders'] as const) {
    await page.goto(DEMO + path);
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
    const wide = await page.evaluate(() => document.documentElement.scrollWidth);
    expect(wide).toBeLessThanOrEqual(390);
  }
  await rows(page, 'Orders').first().click();
  await expect(page.getByRole('complementary', { name: 'Order' })).toBeVisible();
});

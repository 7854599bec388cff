import { mkdirSync } from 'node:fs';
import { chromium } from '@playwright/test';
import { CHROMIUM } from './chromium';

/**
 * `npm run screenshots -- http://127.0.0.1:4800`: one picture of each main view, 1280 x 800, from a running
 * demo, into docs/screenshots.
 */
const origin = process.argv[2] ?? 'http://127.0.0.1:4800';
const folder = 'docs/screenshots';

interface Shot {
  readonly name: string;
  readonly path: string;
  /** Opens the docket of the first row. */
  readonly open?: boolean;
  readonly width?: number;
  /** Adds a supplier and shows how its list is matched. */
  readonly list?: boolean;
  /** Brings in the listings of before, and opens a doubtful one. */
  readonly bringIn?: boolean;
  /** Types another margin into the plan. */
  readonly margin?: string;
  /** Rehearses the plans on recorded days. */
  readonly rehearse?: boolean;
  /** Opens a sheet, and a design on it in a scene. */
  readonly sheet?: boolean;
}

const SHOTS: readonly Shot[] = [
  { name: 'today', path: '/today' },
  { name: 'digest', path: '/today/digest' },
  { name: 'source', path: '/source?q=is:stocked+is:new+cost:5..20&sort=-margin' },
  { name: 'price-list', path: '/source/lists', list: true },
  { name: 'bring-in', path: '/listings/bring-in', bringIn: true },
  { name: 'bench', path: '/bench', open: true },
  { name: 'grid', path: '/listings?grid=1' },
  { name: 'print-room', path: '/print-room', sheet: true },
  { name: 'rehearsal', path: '/pricing', margin: '26', rehearse: true },
  { name: 'pricing', path: '/pricing', margin: '24' },
  { name: 'listings', path: '/listings?q=-is:unlinked', open: true },
  { name: 'orders', path: '/orders', open: true },
  { name: 'money', path: '/money' },
  { name: 'connections', path: '/connections' },
  { name: 'settings', path: '/settings' },
  { name: 'feeds', path: '/listings/feeds', open: true },
  { name: 'proofs', path: '/orders/proofs' },
  { name: 'returns', path: '/orders/returns', open: true },
  { name: 'statements', path: '/money/statements', open: true },
];

async function main() {
  mkdirSync(folder, { recursive: true });
  const browser = await chromium.launch(CHROMIUM);
  const context = await browser.newContext({
    viewport: { width: 1280, height: 800 },
    locale: 'en-GB',
    timezoneId: 'Europe/London',
  });
  const page = await context.newPage();
  for (const shot of SHOTS) {
    await page.setViewportSize({ width: shot.width ?? 1280, height: 800 });
    await page.emulateMedia({ colorScheme: 'light' });
    await page.goto(origin + shot.path);
    await page.getByRole('heading', { level: 1 }).waitFor();
    await page.waitForFunction(() => !document.querySelector('main [aria-busy]'));
    await page.waitForTimeout(1500);
    if (shot.open) await page.locator('[role=rowgroup] [role=row], tbody tr button').first().click();
    if (shot.margin) {
      await page.getByRole('button', { name: /^Margin:/ }).click();
      await page.getByLabel('Margin', { exact: true }).fill(shot.margin);
      await page.getByLabel('Margin', { exact: true }).press('Enter');
      await page.keyboard.press('Escape');
    }
    if (shot.rehearse) {
      await page.getByRole('tab', { name: 'Rehearse on the past' }).click();
      await page.getByRole('button', { name: 'Rehearse', exact: true }).click();
      await page.getByRole('row', { name: /^Plans as changed/ }).waitFor();
    }
    if (shot.list) {
      await page.getByRole('button', { name: 'Add a supplier' }).first().click();
      await page.getByLabel('Name', { exact: true }).fill('Brackwater by file');
      await page.getByLabel('Currency').fill('GBP');
      await page
        .getByLabel('URL of its price list')
        .fill(
          `${new URL(origin).protocol}//127.0.0.1:${Number(new URL(origin).port) + 5}/brackwater/catalogue.csv`,
        );
      await page.getByRole('button', { name: 'Add the supplier' }).click();
      await page.getByRole('button', { name: 'Fetch and match' }).click();
      await page.getByRole('button', { name: 'Read the list' }).waitFor();
    }
    if (shot.sheet) {
      await page
        .getByRole('navigation', { name: 'Sheets' })
        .getByRole('link', { name: /^Tea towel/ })
        .click();
      await page.getByRole('button', { name: /^Ridge at night night/ }).click();
      await page.getByRole('button', { name: 'Hung over an oven rail' }).click();
      await page.waitForTimeout(4_000);
    }
    if (shot.bringIn) {
      await page.getByLabel('State').selectOption('all');
      await page.getByRole('button', { name: 'Import them' }).click();
      await page
        .getByText(/looked up in/)
        .first()
        .waitFor({ timeout: 60_000 });
      await page.getByRole('button', { name: /^Doubtful/ }).click();
      await page.locator('[role=rowgroup] [role=row]').first().click();
      await page.waitForTimeout(9_000);
    }
    await page.waitForTimeout(1200);
    await page.screenshot({ path: `${folder}/${shot.name}.png` });
    console.log(`${folder}/${shot.name}.png`);
  }
  await browser.close();
}

main();

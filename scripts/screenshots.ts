import { mkdirSync } from 'node:fs';
import { chromium } from '@playwright/test';
import { CHROMIUM } from './chromium';

/** `npm run screenshots -- http://127.0.0.1:4800`: one picture of each main view, 1280 x 800, from a running demo, into docs/screenshots. */
const origin = process.argv[2] ?? 'http://127.0.0.1:4800';
const folder = 'docs/screenshots';

interface Shot {
  readonly name: string;
  readonly path: string;
  /** Opens the docket of the first row. */
  readonly open?: boolean;
  readonly dark?: boolean;
  readonly width?: number;
  /** Types another margin into the plan. */
  readonly margin?: string;
}

const SHOTS: readonly Shot[] = [
  { name: 'today', path: '/today' },
  { name: 'source', path: '/source?q=torch+is:stocked+is:new&sort=-margin', open: true },
  { name: 'bench', path: '/bench', open: true },
  { name: 'pricing', path: '/pricing', margin: '24' },
  { name: 'listings', path: '/listings', open: true },
  { name: 'orders', path: '/orders', open: true },
  { name: 'money', path: '/money' },
  { name: 'connections', path: '/connections' },
  { name: 'listings-dark', path: '/listings?sort=-profit', open: true, dark: true },
  { name: 'orders-narrow', path: '/orders', width: 390 },
];

async function main() {
  mkdirSync(folder, { recursive: true });
  const browser = await chromium.launch(CHROMIUM);
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, locale: 'en-GB', timezoneId: 'Europe/London' });
  const page = await context.newPage();
  for (const shot of SHOTS) {
    await page.setViewportSize({ width: shot.width ?? 1280, height: 800 });
    await page.emulateMedia({ colorScheme: shot.dark ? 'dark' : 'light' });
    await page.goto(origin + shot.path);
    await page.getByRole('heading', { level: 1 }).waitFor();
    await page.waitForTimeout(1500);
    if (shot.open) await page.locator('[role=rowgroup] [role=row]').first().click();
    if (shot.margin) {
      await page.getByRole('button', { name: /^Margin:/ }).click();
      await page.getByLabel('Margin', { exact: true }).fill(shot.margin);
      await page.getByLabel('Margin', { exact: true }).press('Enter');
      await page.keyboard.press('Escape');
    }
    await page.waitForTimeout(1200);
    await page.screenshot({ path: `${folder}/${shot.name}.png` });
    console.log(`${folder}/${shot.name}.png`);
  }
  await browser.close();
}

main();

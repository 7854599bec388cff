import { existsSync, rmSync } from 'node:fs';
import { chromium, type Page } from '@playwright/test';
import { CHROMIUM } from '../scripts/chromium';
import { spawnScript } from '../scripts/spawn';
import { measureEditing } from './shop-editing';
import { measureOrders } from './shop-orders';
import { measurePricing } from './shop-pricing';
import { measureWork } from './shop-work';
import { ready, watchKeys } from './typing';

const PORT = 4880;
const DATA = '.sampan/full';
/** The first opening loads the whole past. */
const FIRST = 600_000;
/** What a view does after it stands: counts, looks ahead. */
const CALM = 4_000;

/** A stop of the course, and what stands there once it can be worked in. */
const STOPS = [
  ['Source', '[role=rowgroup] [role=row]'],
  ['Bench', '[role=rowgroup] [role=row]'],
  ['Pricing', '[role=rowgroup] [role=row]'],
  ['Listings', '[role=rowgroup] [role=row]'],
  ['Orders', '[role=rowgroup] [role=row]'],
  ['Money', 'table tbody tr'],
  ['Today', 'main li'],
] as const;

declare global {
  interface Window {
    longest: number[];
  }
}

/** Runs in the page: notes every task over 50 ms. */
function watchTasks(): void {
  window.longest = [];
  new PerformanceObserver((list) =>
    window.longest.push(...list.getEntries().map((e) => Math.round(e.duration))),
  ).observe({ entryTypes: ['longtask'] });
}

const takeTasks = (page: Page) => page.evaluate(() => window.longest.splice(0));

/** Carries out a step and notes how long it took, with the tasks of the page meanwhile. */
export type Step = (page: Page, what: string, act: () => Promise<unknown>) => Promise<void>;

/** Waits for words on the page, to within a frame or two: the driver's own waiting looks twice a second only. */
export const seen = (page: Page, words: RegExp) =>
  page.waitForFunction(
    ([source, flags]) => new RegExp(source!, flags).test(document.body.textContent ?? ''),
    [words.source, words.flags],
    { polling: 20 },
  );

/** Goes to a stop of the course, until what it shows stands there. */
const visit = (page: Page, stop: string, there: string) =>
  page.evaluate(
    ([name, selector]) =>
      new Promise<void>((done) => {
        const links = document.querySelectorAll<HTMLElement>('nav[aria-label="The course"] a');
        [...links].find((a) => a.textContent?.startsWith(name!))!.click();
        const look = () => {
          const title = document.querySelector('h1')?.textContent;
          if (title?.startsWith(name!) && document.querySelector(selector!)) done();
          else requestAnimationFrame(look);
        };
        look();
      }),
    [stop, there],
  );

export interface ShopFigure {
  readonly what: string;
  readonly ms: number;
  /** Tasks over 50 ms on the page meanwhile, and the longest of them. */
  readonly tasks: number;
  readonly longest: number;
  /** Where it is no time: what was measured, in words. */
  readonly says?: string;
}

export const SHOP_PARTS = ['editing', 'pricing', 'orders'] as const;
export type ShopPart = 'all' | (typeof SHOP_PARTS)[number];

/**
 * The built application on the shop at full size (`npm run build` first; the shop is made where it is missing): how long
 * it takes to load, to open again, to come to each view and to do the work of a day, and what that costs the page.
 */
export async function measureShop(tell: (figure: ShopFigure) => void, part: ShopPart = 'all'): Promise<void> {
  if (!existsSync('.next/BUILD_ID'))
    throw new Error('The shop is measured in the built application: npm run build first.');
  const profile = `${DATA}-profile`;
  rmSync(profile, { recursive: true, force: true });
  const begun = performance.now();
  await new Promise((done) => spawnScript('demo/make.ts', [DATA, '--size', 'full']).once('exit', done));
  tell({ what: 'made, unless it was', ms: performance.now() - begun, tasks: 0, longest: 0 });
  const app = spawnScript('scripts/start.ts', ['--pace', 'still', '--size', 'full', '--port', String(PORT)]);
  const open = async () => {
    const context = await chromium.launchPersistentContext(profile, {
      ...CHROMIUM,
      headless: true,
      viewport: { width: 1280, height: 800 },
    });
    const page = context.pages()[0]!;
    page.setDefaultTimeout(FIRST);
    await page.addInitScript(watchTasks);
    await page.addInitScript({ content: `globalThis.__name = (f) => f; (${watchKeys})();` });
    return { context, page };
  };
  const step: Step = async (page, what, act) => {
    const from = performance.now();
    await act();
    const ms = performance.now() - from;
    await page.waitForTimeout(CALM);
    const tasks = await takeTasks(page);
    tell({ what, ms, tasks: tasks.length, longest: Math.max(0, ...tasks) });
  };
  const needs = (page: Page) => page.locator('main li').first().waitFor();
  try {
    await ready(app);
    const first = await open();
    await step(first.page, 'loaded into an empty browser', async () => {
      await first.page.goto(`http://127.0.0.1:${PORT}/today`);
      await needs(first.page);
    });
    await first.context.close();
    const { context, page } = await open();
    await step(page, 'opened again, to Today', async () => {
      await page.goto(`http://127.0.0.1:${PORT}/today`);
      await needs(page);
    });
    const origin = `http://127.0.0.1:${PORT}`;
    if (part === 'all')
      for (const [stop, there] of STOPS) await step(page, `to ${stop}`, () => visit(page, stop, there));
    const say = (what: string, says: string) => tell({ what, says, ms: 0, tasks: 0, longest: 0 });
    const wanted = (one: ShopPart) => part === 'all' || part === one;
    if (part === 'all') await measureWork(page, origin, step, say);
    if (wanted('orders')) await measureOrders(page, origin, step, say);
    if (wanted('pricing')) await measurePricing(page, origin, step);
    // Behind the others: what it edits is sent to the sites, which keeps the processor busy for minutes.
    if (wanted('editing')) await measureEditing(page, origin, step);
    await context.close();
  } finally {
    const ended = new Promise((done) => app.once('exit', done));
    app.kill('SIGTERM');
    await ended;
    rmSync(profile, { recursive: true, force: true });
  }
}

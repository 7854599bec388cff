import type { ChildProcess } from 'node:child_process';
import { existsSync, rmSync } from 'node:fs';
import { chromium, type Page } from '@playwright/test';
import { CHROMIUM } from '../scripts/chromium';
import { spawnScript } from '../scripts/spawn';

/** What the page notes of each key. */
interface Key {
  readonly at: number;
  painted?: number;
}
declare global {
  interface Window {
    keys: Key[];
    tasks: number[];
  }
}

const PORT = 4870;
const FILTERS = 'cost:2..40 margin:>10 is:stocked';
const TYPED: readonly (readonly [category: string, words: readonly string[]])[] = [
  ['Lighting', ['torch', 'lantern', 'red']],
  ['Optics', ['strap', 'filter']],
  ['Kitchen', ['mug', 'flask']],
  ['Clothing', ['glove', 'wool']],
];
/** Between two keys, in milliseconds: someone who types quickly. */
const GAP = 150;

/**
 * Runs in the page: from the time of a key's event to the task after the frame in which the rows it changed
 * were drawn.
 */
export function watchKeys(): void {
  window.keys = [];
  window.tasks = [];
  new PerformanceObserver((list) => window.tasks.push(...list.getEntries().map((e) => e.duration))).observe({
    entryTypes: ['longtask'],
  });
  let last: (Key & { seen?: true }) | null = null;
  window.addEventListener(
    'keydown',
    (e) => {
      last = { at: e.timeStamp };
      window.keys.push(last);
    },
    true,
  );
  const changed = new MutationObserver(() => {
    const key = last;
    if (!key || key.seen) return;
    key.seen = true;
    requestAnimationFrame(() => {
      const after = new MessageChannel();
      after.port1.onmessage = () => {
        key.painted = performance.now();
      };
      after.port2.postMessage(0);
    });
  });
  setInterval(() => {
    const rows = document.querySelector<HTMLElement>('[data-table] [role=rowgroup]');
    if (!rows || rows.dataset.watched) return;
    rows.dataset.watched = 'yes';
    changed.observe(rows, { childList: true, subtree: true, characterData: true });
  }, 50);
}

export async function ready(child: ChildProcess): Promise<void> {
  await new Promise<void>((done, fail) => {
    child.stdout!.on('data', (text) => String(text).includes('Sampan is at') && done());
    child.once('exit', (code) => fail(new Error(`the application ended with ${code}`)));
  });
}

/**
 * Opens Source in the built application with `n` items and types; milliseconds from key to rows painted, and
 * tasks of over 50 ms on the page meanwhile.
 */
async function type(page: Page, n: number): Promise<{ painted: number[]; tasks: number[] }> {
  const origin = `http://127.0.0.1:${PORT}`;
  await page.goto(`${origin}/connections`);
  await page.getByRole('button', { name: 'Run now' }).first().click();
  await page.goto(`${origin}/source`);
  await page.getByText(`${n.toLocaleString('en-GB')} items of`).waitFor({ timeout: 300_000 });
  // The loader names functions by a helper that the page does not have.
  await page.addInitScript({ content: `globalThis.__name = (f) => f; (${watchKeys})();` });
  await page.goto(`${origin}/source?sort=-margin`);
  await page.locator('[data-table] [role=row]').nth(3).waitFor();
  await page.locator('[data-search]').click();
  await page.waitForTimeout(3000);
  await page.evaluate(() => {
    window.tasks = [];
  });
  const press = async (keys: Iterable<string>) => {
    for (const key of keys) {
      await page.keyboard.press(key === ' ' ? 'Space' : key);
      await page.waitForTimeout(GAP);
    }
  };
  for (const [category, words] of TYPED) {
    await press(`${FILTERS} category:${category} `);
    for (const word of words) await press([...word, ...Array.from(word, () => 'Backspace')]);
    await press(['Escape']);
  }
  return page.evaluate(() => ({
    painted: window.keys.flatMap((k) => (k.painted ? [k.painted - k.at] : [])),
    tasks: window.tasks,
  }));
}

/**
 * Keys in the built application (`npm run build` first), with the demo's world of `n` items read from its
 * service.
 */
export async function measureTyping(n: number): Promise<{ painted: number[]; tasks: number[] }> {
  if (!existsSync('.next/BUILD_ID'))
    throw new Error('The keys are measured in the built application: npm run build first.');
  const data = `.sampan/bench-${n}`;
  const profile = `${data}-profile`;
  for (const folder of [data, profile]) rmSync(folder, { recursive: true, force: true });
  await new Promise((done) => spawnScript('demo/make.ts', [data, '--items', String(n)]).once('exit', done));
  const app = spawnScript('scripts/start.ts', [
    ...['--pace', 'still', '--items', String(n), '--data', data, '--port', String(PORT)],
  ]);
  try {
    await ready(app);
    const context = await chromium.launchPersistentContext(profile, {
      ...CHROMIUM,
      headless: true,
      viewport: { width: 1280, height: 800 },
    });
    const told = await type(context.pages()[0]!, n);
    await context.close();
    return told;
  } finally {
    app.kill('SIGTERM');
    for (const folder of [data, profile]) rmSync(folder, { recursive: true, force: true });
  }
}

import { execFileSync } from 'node:child_process';
import type { Page, Request } from '@playwright/test';
import { type Step, seen } from './shop';

/** About 20,000 items that are not taken yet. */
const MANY = 'is:new stock:>3 cost:4..5.9';
/** Between two keys, in milliseconds: someone who types quickly. */
const GAP = 150;
const LONG = 900_000;

type Say = (what: string, says: string) => void;

const p95 = (list: readonly number[]) => [...list].sort((a, b) => a - b)[Math.floor(list.length * 0.95)] ?? 0;
const count = (text: string | null) => Number((text ?? '').replace(/[^\d]/g, ''));

/** What a seller does with some 20,000 goods, and what it costs the page. */
export async function measureWork(page: Page, origin: string, step: Step, say: Say): Promise<void> {
  page.setDefaultTimeout(LONG);
  const said = (words: RegExp) => seen(page, words);
  const button = (name: RegExp) => page.getByRole('button', { name }).first();

  for (const [view, words] of [
    ['Listings', ['torch', 'lantern', 'strap']],
    ['Bench', ['torch', 'mug', 'flask']],
    ['Orders', ['york', 'hull', 'whitby']],
  ] as const) {
    await to(page, view);
    const { keys, tasks } = await typed(page, words);
    say(
      `from a key to rows painted in ${view}`,
      `median ${p50(keys)} ms, p95 ${Math.round(p95(keys))} ms of ${keys.length}; ${tasks} tasks over 50 ms`,
    );
  }

  const markAll = async (path: string) => {
    await page.goto(origin + path);
    await page.locator('[data-table] [role=row]').nth(3).waitFor();
    await page.waitForTimeout(2_000);
    await button(/^Select all/).click();
  };
  const take = async (what: string) => {
    await markAll(`/source?q=${encodeURIComponent(MANY)}`);
    await button(/^Take /).click();
    const go = page.getByRole('complementary').getByRole('button', { name: /^Take [\d,]+ / });
    await go.waitFor();
    const n = count(await go.textContent());
    await step(page, `${what} ${n.toLocaleString('en-GB')}`, async () => {
      await go.click();
      await said(/went to the Bench/);
    });
  };
  const undo = (what: string) =>
    step(page, what, async () => {
      await button(/^Undo/).click();
      await said(/undone|Undone/);
    });
  const approve = async () => {
    await markAll('/bench?q=is:ready');
    const go = button(/^Approve /);
    const n = count(await go.textContent());
    await step(page, `approve ${n.toLocaleString('en-GB')} products`, async () => {
      await go.click();
      await said(/products? approved/);
    });
  };
  await take('take');
  await undo('undo of taking');
  await take('take again');
  await approve();
  await undo('undo of approving');
  await approve();

  const sent: Request[] = [];
  page.context().on('request', (r) => {
    if (/listings|offers/.test(r.url()) && r.method() !== 'GET') sent.push(r);
  });
  await markAll('/bench?q=is:approved');
  let from = 0;
  await step(page, 'queue all for publishing', async () => {
    await button(/^Publish /).click();
    from = performance.now();
    await said(/on the way/);
  });
  await to(page, 'Listings');
  await typed(page, ['torch', 'lantern']);
  await to(page, 'Bench');
  await page.getByText(/being published/).waitFor({ state: 'hidden' });
  const all = (performance.now() - from) / 1000;
  const bare = await replay(page, sent);
  say(
    'publish all of it, with somebody typing',
    `${all.toFixed(0)} s in ${sent.length} requests; the same requests bare ${bare.toFixed(0)} s: ${(all / bare).toFixed(2)} times`,
  );
  const resident = memoryOfTabs();
  await collectGarbage(page);
  say('memory of the tab, all its workers', `${resident} MB, ${memoryOfTabs()} without garbage`);
  const { usage = 0 } = await page.evaluate(() => navigator.storage.estimate());
  say('storage', `${Math.round(usage / 1e6)} MB`);
}

async function to(page: Page, stop: string): Promise<void> {
  const course = page.getByRole('navigation', { name: 'The course' });
  await course.getByRole('link', { name: new RegExp(`^${stop}`) }).click();
  await page.getByRole('heading', { level: 1, name: stop }).waitFor();
  await page.locator('[data-table] [role=row]').nth(3).waitFor();
  await page.waitForTimeout(2_000);
}

const p50 = (list: readonly number[]) => Math.round([...list].sort((a, b) => a - b)[list.length >> 1] ?? 0);

async function typed(page: Page, words: readonly string[]): Promise<{ keys: number[]; tasks: number }> {
  await page.locator('[data-search]').click();
  await page.evaluate(() => {
    window.keys = [];
    window.tasks = [];
  });
  for (const word of words)
    for (const key of [...word, ...Array.from(word, () => 'Backspace')]) {
      await page.keyboard.press(key);
      await page.waitForTimeout(GAP);
    }
  await page.waitForTimeout(500);
  return page.evaluate(() => ({
    keys: window.keys.flatMap((k) => (k.painted ? [k.painted - k.at] : [])),
    tasks: window.tasks.length,
  }));
}

/** Sends requests again as they were, from the page, as many on their way at once. @returns seconds */
async function replay(page: Page, requests: readonly Request[]): Promise<number> {
  const bare = requests.map((r) => ({
    url: r.url(),
    method: r.method(),
    body: r.postData() ?? undefined,
    headers: Object.fromEntries(
      Object.entries(r.headers()).filter(([k]) => !/^(:|host|cookie|sec-|user-)/.test(k)),
    ),
  }));
  return page.evaluate(async (list) => {
    const begun = performance.now();
    let next = 0;
    const lane = async () => {
      while (next < list.length) {
        const { url, ...request } = list[next++]!;
        await (await fetch(url, request)).text();
      }
    };
    await Promise.all([lane(), lane(), lane(), lane()]);
    return (performance.now() - begun) / 1000;
  }, bare);
}

/** Collects garbage on the page and in its workers, which browsers put off for as long as there is room. */
async function collectGarbage(page: Page): Promise<void> {
  const cdp = await page.context().newCDPSession(page);
  const workers: string[] = [];
  cdp.on('Target.attachedToTarget', ({ sessionId }) => workers.push(sessionId));
  await cdp.send('Target.setAutoAttach', {
    autoAttach: true,
    waitForDebuggerOnStart: false,
    flatten: false,
  });
  await page.waitForTimeout(500);
  const message = JSON.stringify({ id: 1, method: 'HeapProfiler.collectGarbage' });
  for (const sessionId of workers) await cdp.send('Target.sendMessageToTarget', { sessionId, message });
  await cdp.send('HeapProfiler.collectGarbage');
  await page.waitForTimeout(3_000);
  await cdp.detach();
}

/** Megabytes that the largest page of the browser holds resident. */
function memoryOfTabs(): number {
  const list = execFileSync('ps', ['-eo', 'rss,args']).toString().split('\n');
  const sizes = list.flatMap((line) => (/--type=renderer/.test(line) ? [Number.parseInt(line, 10)] : []));
  return Math.round(Math.max(0, ...sizes) / 1024);
}

import { chromium } from '@playwright/test';
import { CHROMIUM } from './scripts/chromium';
const [, , base, profile, query = 'cost:9..12'] = process.argv;
const main = async () => {
  const c = await chromium.launchPersistentContext(profile!, { ...CHROMIUM, headless: true, viewport: { width: 1280, height: 800 } });
  const page = c.pages()[0]!;
  page.setDefaultTimeout(300000);
  page.on('pageerror', (e) => console.log('pageerror', e.message.slice(0, 300)));
  page.on('console', (m) => m.type() === 'error' && !/403/.test(m.text()) && console.log('console', m.text().slice(0, 200)));
  await page.addInitScript(() => { (window as any).lt = []; new PerformanceObserver((l) => { for (const e of l.getEntries()) (window as any).lt.push(Math.round(e.duration)); }).observe({ entryTypes: ['longtask'] }); });
  let t = performance.now();
  const lap = async (name: string) => { console.log(name, ((performance.now() - t) / 1000).toFixed(2), 's; long tasks', JSON.stringify(await page.evaluate(() => (window as any).lt.splice(0)))); t = performance.now(); };
  await page.goto(`${base}/source?q=${encodeURIComponent('is:new ' + query)}`);
  await page.locator('[role=rowgroup] [role=row]').first().waitFor();
  await page.waitForTimeout(4000);
  await lap('source');
  console.log(await page.getByRole('status').first().innerText());
  await page.getByRole('button', { name: /^Mark all/ }).click();
  await page.getByRole('button', { name: /to the Bench/ }).first().click();
  const take = page.getByRole('complementary').getByRole('button', { name: /^Take/ });
  await take.waitFor();
  console.log(await take.innerText());
  await lap('weighed');
  await take.click();
  await page.getByText(/went to the Bench/).waitFor();
  await lap('taken');
  await page.getByRole('navigation', { name: 'The course' }).getByRole('link', { name: /^Bench/ }).click();
  await page.locator('[role=rowgroup] [role=row]').first().waitFor();
  await page.waitForTimeout(3000);
  await lap('bench');
  if (process.argv[5] === 'undo') {
    await page.goto(`${base}/today`); await page.getByRole('button', { name: /^Undo Take/ }).first().waitFor(); await page.waitForTimeout(3000); t = performance.now();
    await page.getByRole('button', { name: /^Undo Take/ }).first().click(); await page.getByText(/^Undone/).waitFor(); await lap('undone take');
  } else {
    await page.getByRole('button', { name: /^Approve/ }).click();
    await page.getByText(/products? approved/).waitFor();
    await lap('approved ' + (await page.getByText(/products? approved/).innerText()));
    if (process.argv[5] === 'undoapprove') { t = performance.now(); await page.getByRole('button', { name: 'Undo', exact: true }).first().click(); await page.getByText(/^Undone/).waitFor(); await lap('undone approve'); t = performance.now(); await page.getByRole('button', { name: /^Approve/ }).click(); await page.getByText(/products? approved/).nth(0).waitFor(); await page.waitForTimeout(1500); }
    await page.getByRole('button', { name: /^Publish/ }).click();
    await page.getByText(/on the way/).first().waitFor();
    await lap('queued');
    await page.getByRole('navigation', { name: 'The course' }).getByRole('link', { name: /^Listings/ }).click();
    await page.locator('[role=rowgroup] [role=row]').first().waitFor();
    const box = page.locator('input[data-search]');
    const keys: number[] = [];
    for (let k = 0; k < 3000; k++) {
      const left = await page.evaluate(() => document.body.innerText.match(/([\d,]+) being published|([\d,]+) to go/)?.[0] ?? '');
      const n = await page.locator('header').first().innerText().catch(() => '');
      if (k % 20 === 0) console.log(((performance.now() - t) / 1000).toFixed(1), left, n.replace(/\n/g, ' ').slice(0, 160));
      if (k % 7 === 0) await box.pressSequentially('lamp', { delay: 60 }); else if (k % 7 === 3) for (let i = 0; i < 4; i++) await page.keyboard.press('Backspace');
      await page.waitForTimeout(300);
      const done = await page.evaluate(() => new Promise<number>((ok) => { const r = indexedDB.open('sampan-shop'); r.onsuccess = () => { const q = r.result.transaction('outbox').objectStore('outbox').index('[state+nextAt]').count(IDBKeyRange.bound(['waiting', 0], ['waiting', 9e15])); q.onsuccess = () => { r.result.close(); ok(q.result); }; }; }));
      if (k % 20 === 0) console.log('waiting', done); if (done === 0) break;
    }
    await lap('published');
  }
  await c.close();
};
main();

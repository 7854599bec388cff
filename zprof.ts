import { chromium } from '@playwright/test';
import { CHROMIUM } from './scripts/chromium';
const [, , base, profile, ...stops] = process.argv;
const main = async () => {
  const c = await chromium.launchPersistentContext(profile!, { ...CHROMIUM, headless: true, viewport: { width: 1280, height: 800 } });
  const page = c.pages()[0]!;
  page.setDefaultTimeout(600000);
  await page.addInitScript(() => { (window as any).lt = []; new PerformanceObserver((l) => { for (const e of l.getEntries()) (window as any).lt.push([Math.round(e.startTime), Math.round(e.duration)]); }).observe({ entryTypes: ['longtask'] }); });
  const cdp = await c.newCDPSession(page);
  await cdp.send('Profiler.enable');
  await cdp.send('Profiler.setSamplingInterval', { interval: 500 });
  const t0 = performance.now();
  await cdp.send('Profiler.start');
  await page.goto(`${base}/today`);
  await page.locator('main li').first().waitFor();
  console.log('today', Math.round(performance.now() - t0));
  const report = async (name: string) => {
    await page.waitForTimeout(4000);
    const { profile: p } = (await cdp.send('Profiler.stop')) as any;
    console.log(name, 'tasks', JSON.stringify(await page.evaluate(() => (window as any).lt.splice(0))));
    const self = new Map<string, number>();
    const by = new Map(p.nodes.map((n: any) => [n.id, n]));
    p.samples.forEach((s: number, i: number) => { const n: any = by.get(s); const k = `${n.callFrame.functionName || '(anon)'} ${n.callFrame.url.split('/').pop()}:${n.callFrame.lineNumber}:${n.callFrame.columnNumber}`; self.set(k, (self.get(k) ?? 0) + p.timeDeltas[i]); });
    console.log([...self].filter(([k]) => !k.startsWith('(idle)')).sort((a, b) => b[1] - a[1]).slice(0, 7).map(([k, v]) => `   ${(v / 1000).toFixed(0)} ms ${k}`).join('\n'));
    await cdp.send('Profiler.start');
  };
  await report('today');
  for (const stop of stops) {
    const t = performance.now();
    await page.getByRole('navigation', { name: 'The course' }).getByRole('link', { name: new RegExp(`^${stop}`) }).click();
    await page.getByRole('heading', { level: 1, name: stop }).waitFor();
    await page.locator(stop === 'Money' ? 'table tbody tr' : stop === 'Today' ? 'main li' : '[role=rowgroup] [role=row]').first().waitFor();
    console.log(stop, Math.round(performance.now() - t));
    await report(stop);
  }
  await c.close();
};
main();

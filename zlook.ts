import { chromium } from '@playwright/test';
import { CHROMIUM } from './scripts/chromium';
const [, , base, ...steps] = process.argv;
const main = async () => {
  const b = await chromium.launch({ ...CHROMIUM, headless: true });
  const page = await b.newPage({ viewport: { width: 1280, height: 800 } });
  page.on('console', (m) => (m.type() === 'error' || m.type() === 'warning') && console.log('console', m.text().slice(0, 300)));
  page.on('pageerror', (e) => console.log('pageerror', e.message.slice(0, 400)));
  page.setDefaultTimeout(20000);
  for (const step of steps) {
    const [what, arg = ''] = step.split('|');
    const t = performance.now();
    try {
      if (what === 'goto') await page.goto(base + arg);
      else if (what === 'text') await page.getByText(arg).first().waitFor();
      else if (what === 'row') await page.locator('[role=rowgroup] [role=row]').nth(Number(arg)).click();
      else if (what === 'rows') await page.locator('[role=rowgroup] [role=row]').first().waitFor();
      else if (what === 'click') await page.getByRole('button', { name: new RegExp(arg) }).first().click();
      else if (what === 'type') await page.locator('input[data-search]').pressSequentially(arg);
      else if (what === 'key') await page.keyboard.press(arg);
      else if (what === 'wait') await page.waitForTimeout(Number(arg));
      else if (what === 'shot') await page.screenshot({ path: `/tmp/w/${arg}.png` });
      else if (what === 'eval') console.log(await page.evaluate(arg));
      else if (what === 'dbl') await page.locator(arg).first().dblclick();
    } catch (e) { console.log('FAILED', step, String(e).slice(0, 200)); await page.screenshot({ path: '/tmp/w/failed.png' }); }
    console.log(step, Math.round(performance.now() - t));
  }
  await b.close();
};
main();

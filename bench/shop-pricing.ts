import type { Page } from '@playwright/test';
import type { Step } from './shop';

const LONG = 300_000;

/** Plans on the shop at full size: what a change would do to all listings, what plans catch, sixty days rehearsed. */
export async function measurePricing(page: Page, origin: string, step: Step): Promise<void> {
  page.setDefaultTimeout(LONG);
  await page.goto(`${origin}/pricing`);
  await page.getByText(/^As things stand/).waitFor();
  await page.waitForTimeout(3_000);
  const margin = async (text: string) => {
    await page.getByRole('button', { name: /^Margin:/ }).click();
    const field = page.getByLabel('Margin', { exact: true });
    await field.fill(text);
    await field.press('Enter');
  };
  await step(page, 'what a plan would do to all listings, from Enter to drawn', async () => {
    await margin('23');
    await page.getByRole('button', { name: /^Save and change/ }).waitFor();
  });
  await page.keyboard.press('Escape');
  await slideOn(page, step);
  await step(page, 'another plan: what each catches of all listings', async () => {
    await page.getByRole('button', { name: 'Copy as a draft' }).click();
    const list = page.getByRole('list', { name: /^Plans/ });
    await list.getByRole('checkbox').first().check();
    await list.getByText(/more go by earlier plans/).waitFor();
  });
  await page.getByRole('tab', { name: 'Rehearse on the past' }).click();
  await page.getByLabel('Rehearse on the last').selectOption('60');
  await step(page, '60 days rehearsed: what happened, the plans as saved, the draft', async () => {
    await page.getByRole('button', { name: 'Rehearse', exact: true }).click();
    await page.getByRole('row', { name: /^Plans as changed/ }).waitFor();
  });
  await page.getByRole('button', { name: 'Discard' }).click();
}

/** A slider's steps by arrow key, each from the key until the picture is another. */
async function slideOn(page: Page, step: Step): Promise<void> {
  await page.getByRole('button', { name: /^Margin:/ }).click();
  await page.getByRole('slider').focus();
  const picture = page.getByRole('img', { name: /^Change in price/ });
  const times: number[] = [];
  await step(page, 'twenty steps of a slider, with the picture after each', async () => {
    for (let k = 0; k < 20; k++) {
      const drawn = picture.evaluate((svg) => {
        const begun = performance.now();
        return new Promise<number>((done) => {
          const seen = new MutationObserver(() => {
            seen.disconnect();
            requestAnimationFrame(() => done(performance.now() - begun));
          });
          seen.observe(svg, { subtree: true, childList: true, attributes: true });
        });
      });
      await page.keyboard.press('ArrowRight');
      times.push(await drawn);
      // The hand rests: all is counted.
      await page.waitForTimeout(400);
    }
  });
  times.sort((a, b) => a - b);
  console.log(
    `  a step to its picture: median ${Math.round(times[10]!)} ms, ${Math.round(times[0]!)} to ${Math.round(times[19]!)} ms`,
  );
  await page.keyboard.press('Escape');
}

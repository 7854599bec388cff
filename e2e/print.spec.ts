import { readFileSync } from 'node:fs';
import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { unzipSync } from 'fflate';
import { drawDesigns } from '../demo/designs';
import { DEMO, expect, go, rows, said, test } from './harbour';

const lacksNoAccess = async (page: Page) => {
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag22aa']).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
};

const svg = (name: string, text: string) => ({ name, mimeType: 'image/svg+xml', buffer: Buffer.from(text) });

/** Designs that the demo has not. */
const fresh = () =>
  drawDesigns(40)
    .slice(36)
    .map(({ file, svg: text }) => svg(file, text));

/** Puts the fresh designs on a blank: the sheet is open then. */
async function place(page: Page, blank: string): Promise<void> {
  await go(page, 'Print room');
  await page.getByRole('combobox', { name: 'Search' }).fill('dusk');
  await expect(rows(page, 'Designs')).toHaveCount(4);
  await page.getByRole('grid', { name: 'Designs' }).focus();
  await page.keyboard.press('Control+a');
  await page.getByRole('button', { name: /^Place 4 on/ }).click();
  await page.getByRole('menuitem', { name: blank }).click();
  await expect(page.getByRole('heading', { level: 1, name: blank })).toBeVisible();
}

/** The head of a PNG, read without Sampan. */
function headOf(bytes: Uint8Array) {
  const png = Buffer.from(bytes);
  const at = png.indexOf('pHYs');
  return {
    size: [png.readUInt32BE(16), png.readUInt32BE(20)],
    perMetre: png.readUInt32BE(at + 4),
    srgb: png.indexOf('sRGB') > 0,
  };
}

test('designs come in, good and bad; placed, seen on the goods, filed the same twice, and on sale as products', async ({
  page,
}) => {
  await page.goto(`${DEMO}/print-room`);
  const choose = page.locator('input[type=file]');
  await expect(rows(page, 'Designs').first()).toBeVisible();
  await choose.setInputFiles([
    ...fresh(),
    svg('broken.svg', '<svg xmlns="http://www.w3.org/2000/svg"><rect'),
    svg(
      'hostile.svg',
      '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 90 90" onload="document.title=1"><script>document.title="run"</script><image href="https://outside.example/a.png" width="9" height="9"/><rect width="80" height="80"/></svg>',
    ),
    { name: 'price.png', mimeType: 'image/png', buffer: Buffer.from('not a picture') },
  ]);
  await expect(said(page, /5 designs came in/)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('2 files not taken')).toBeVisible();
  await expect(page.getByText(/broken.svg: it cannot be read as a drawing/)).toBeVisible();
  await expect(page.getByText(/price.png: it is no design that can be read/)).toBeVisible();
  await expect(page).toHaveTitle(/Print room/);
  await lacksNoAccess(page);

  await place(page, 'Mug, 330 ml');
  await page.getByRole('button', { name: /Owl on watch dusk/ }).click();
  const docket = page.getByRole('complementary', { name: 'Owl on watch dusk' });
  await expect(
    docket.getByRole('img', { name: /Owl on watch dusk on Mug.*handle on the right/ }),
  ).toBeVisible({
    timeout: 30_000,
  });
  await lacksNoAccess(page);

  // By keys alone: ten millimetres to the right, two per cent larger, kept as one change, and taken back.
  await docket.getByRole('link', { name: 'Place by hand' }).focus();
  await page.keyboard.press('Enter');
  const area = page.getByRole('application', { name: /^Printed area/ });
  await expect(area.locator('canvas').first()).toBeVisible();
  const across = page.getByLabel('Centre x mm');
  await expect(across).toHaveValue('100');
  await area.focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(across).toHaveValue('110');
  await lacksNoAccess(page);
  await page.waitForTimeout(800);
  await page.getByRole('button', { name: 'Back to the sheet' }).click();
  await expect(docket.getByText(/placed by hand/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(docket.getByText(/by the rule of the sheet/)).toBeVisible();

  const made = async () => {
    const coming = page.waitForEvent('download');
    await page.getByRole('button', { name: 'Make the files' }).click();
    return unzipSync(readFileSync(await (await coming).path()));
  };
  await page.getByRole('button', { name: 'Print files' }).click();
  const [first, again] = [await made(), await made()];
  expect(Object.keys(first)).toHaveLength(4);
  for (const [name, bytes] of Object.entries(first)) {
    expect(headOf(bytes)).toEqual({ size: [2362, 1063], perMetre: 11_811, srgb: true });
    expect(Buffer.from(bytes).equals(Buffer.from(again[name]!))).toBe(true);
  }

  await page.getByRole('link', { name: /^Products of/ }).click();
  await page.getByLabel('Loomhall', { exact: true }).check();
  for (const site of ['Pennywharf UK', 'Loomhall']) {
    await page.getByLabel(`On ${site}`).fill('Kitchen');
    await page.getByRole('option', { name: /Kitchen/ }).click();
  }
  await expect(page.getByText(/^4 products, 4 variants, 8 listings/)).toBeVisible();
  await lacksNoAccess(page);
  await page.getByRole('button', { name: /^Make 4 for the Bench/ }).click();
  await expect(said(page, /4 products with 8 listings went to the Bench/)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('made before').first()).toBeVisible();

  await go(page, 'Bench');
  await page.getByRole('combobox', { name: 'Search' }).fill('dusk mug');
  await expect(rows(page, 'Bench')).toHaveCount(4);
  await expect(rows(page, 'Bench').first().locator('img')).toHaveAttribute('src', /^blob:/);
});

import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { DEMO, expect, look, said, test } from './harbour';

/** Pennywharf US: its own statement comes later. */
const SHOP = 'http://127.0.0.1:4923';

const docket = (page: Page, name: RegExp) => page.getByRole('complementary', { name });
const minor = (amount: string | undefined) => Math.round(Number(amount ?? 0) * 100);

interface Sold {
  readonly number: string;
  readonly status: string;
  readonly refunded?: string;
  readonly shipping?: string;
  readonly returns?: readonly object[];
  readonly lines: readonly { readonly quantity: number; readonly unitPrice: string }[];
  readonly charges?: readonly { readonly kind: string; readonly amount: string }[];
}

test('a statement with three differences: one taken as stated and back again, a charge booked as a cost, one in no order set aside', async ({
  page,
  request,
}) => {
  const sold = ((await look(request, SHOP, 'orders')) as Sold[]).filter(
    (o) => o.charges?.length && !minor(o.refunded) && !o.returns?.length,
  );
  const [a, b] = sold.slice(-2) as [Sold, Sold];
  const paid = (o: Sold) =>
    o.lines.reduce((sum, l) => sum + minor(l.unitPrice) * l.quantity, 0) + minor(o.shipping);
  const fees = (o: Sold) => (o.charges ?? []).reduce((sum, c) => sum + minor(c.amount), 0);
  const money = (n: number) => (n / 100).toFixed(2).replace('.', ',');
  // As a German payment service writes it: fees above nothing, a comma before the decimals.
  const rows = [
    'Datum;Bestellnummer;Art;Betrag;Beleg',
    `01.12.2026;${a.number};Verkauf;${money(paid(a))};V1`,
    `01.12.2026;${a.number};Gebühr;${money(fees(a) + 50)};G1`,
    `01.12.2026;${b.number};Verkauf;${money(paid(b))};V2`,
    `01.12.2026;${b.number};Gebühr;${money(fees(b))};G2`,
    '01.12.2026;PW-1;Verkauf;12,00;V9',
    '01.12.2026;;Grundgebühr;-9,00;M1',
  ];
  await page.goto(`${DEMO}/money/statements`);
  await page.getByRole('button', { name: 'Read a statement file' }).click();
  const read = docket(page, /^Read a statement file/);
  await read.getByRole('combobox', { name: 'Of' }).selectOption({ label: 'Pennywharf US' });
  await read.locator('input[type=file]').setInputFiles({
    name: 'Abrechnung-49.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(rows.join('\r\n')),
  });
  await expect(read.getByText(/would count the other way than usual/)).toBeVisible();
  await read.getByRole('button', { name: 'Turn them round' }).click();
  await expect(read.getByText(/would count the other way than usual/)).toBeHidden();
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag22aa']).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
  await read.getByRole('button', { name: 'Take it in' }).click();
  await expect(said(page, /2 orders compared: 1 differ/)).toBeVisible();
  const taken = docket(page, /^Statement Abrechnung-49/);
  await expect(taken.getByText('-0.50').or(taken.getByText('−0.50')).first()).toBeVisible();
  // Taken as stated it is an entry; taken back it is asked about again.
  await taken.getByRole('button', { name: `Take ${a.number} as stated` }).click();
  await expect(taken.getByText('Nothing differs that is still to be decided.')).toBeVisible();
  await taken.getByText(/^1 order brought to what it states/).click();
  await taken.getByRole('button', { name: `Take the correction of ${a.number} back` }).click();
  await expect(taken.getByRole('button', { name: `Take ${a.number} as stated` })).toBeVisible();
  await taken.getByRole('button', { name: `Leave ${a.number} as recorded` }).click();
  await expect(taken.getByText('Nothing differs that is still to be decided.')).toBeVisible();
  await taken.getByRole('button', { name: 'Book line 7 as a cost' }).click();
  await expect(taken.getByText(/booked as a cost/)).toBeVisible();
  await taken.getByRole('button', { name: 'Set line 6 aside' }).click();
  await expect(taken.getByText(/set aside$/)).toBeVisible();
  // The cost stands among the shop's own, and the same file is not taken twice.
  await page.getByRole('tab', { name: 'Costs of the shop' }).click();
  await expect(page.getByRole('row', { name: /Grundgebühr.*9\.00/ })).toBeVisible();
  await page.getByRole('button', { name: /^Remove .*Grundgebühr/ }).click();
  await expect(page.getByRole('row', { name: /Grundgebühr/ })).toBeHidden();
});

test('what a service states comes in by itself, and cash is told from it', async ({ page }) => {
  await page.goto(`${DEMO}/money/statements`);
  const list = page.getByRole('table', { name: 'Account statements' });
  await expect(list.getByRole('row', { name: /Pennywharf UK/ }).first()).toBeVisible();
  await page.getByRole('tab', { name: 'Cash' }).click();
  await expect(page.getByRole('table', { name: 'What is with marketplaces' })).toContainText('Pennywharf UK');
  await expect(page.getByRole('table', { name: 'What is expected to come and go' })).toContainText(
    'Storage unit, Bristol',
  );
  await page.goto(`${DEMO}/money`);
  await expect(page.getByText(/of the shop’s own costs/)).toBeVisible();
  await page.getByRole('link', { name: 'Estimates' }).click();
  await expect(page.getByRole('table', { name: 'Estimates beside what came of them' })).toContainText(
    'Fees of Pennywharf UK',
  );
});

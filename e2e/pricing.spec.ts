import AxeBuilder from '@axe-core/playwright';
import type { Page } from '@playwright/test';
import { DEMO, expect, go, rows, said, test } from './harbour';

const lacksNoAccess = async (page: Page) => {
  const { violations } = await new AxeBuilder({ page }).withTags(['wcag2a', 'wcag2aa', 'wcag22aa']).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
};

const slot = async (page: Page, name: RegExp, label: string, text: string) => {
  await page.getByRole('button', { name }).click();
  const field = page.getByLabel(label, { exact: true });
  await field.fill(text);
  await field.press('Enter');
  await page.keyboard.press('Escape');
};

test('plans are written as sentences, put in order by keys, weighed while they change, saved as one change and undone', async ({
  page,
}) => {
  await page.goto(`${DEMO}/pricing`);
  await expect(page.getByText(/^As things stand/)).toBeVisible();
  await page.getByRole('button', { name: 'New plan' }).click();
  await page.getByLabel('Plan', { exact: true }).fill('Lights');
  await page.getByRole('button', { name: /^Goods, as in a search/ }).click();
  await page.getByRole('textbox', { name: /^Goods, as in a search/ }).fill('torch');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Target: a margin of the selling price' }).click();
  await page.getByRole('option', { name: 'a markup on landed cost' }).click();
  // A number that can be read two ways is asked about.
  await page.getByRole('button', { name: 'Markup: +50 %' }).click();
  await page.getByLabel('Markup', { exact: true }).fill('215');
  await page.getByLabel('Markup', { exact: true }).press('Enter');
  await expect(page.getByText(/215 can be read two ways: write \+215 %/)).toBeVisible();
  await page.getByLabel('Markup', { exact: true }).fill('+215 %');
  await page.getByLabel('Markup', { exact: true }).press('Enter');
  await page.keyboard.press('Escape');
  const list = page.getByRole('list', { name: /^Plans/ });
  await list.getByRole('checkbox', { name: 'Lights is on' }).check();
  await expect(page.getByText(/[1-9]\d* rise/).first()).toBeVisible();
  await expect(list.getByText(/more go by earlier plans/)).toBeVisible();
  await lacksNoAccess(page);
  // Behind the plan for everything it catches nothing.
  const handle = list.getByRole('button', { name: 'Move plan Lights' });
  await handle.focus();
  await page.keyboard.press('ArrowDown');
  await expect(list.getByRole('listitem').last()).toContainText('Lights');
  await expect(page.getByText(/, 0 rise|\b0 rise/).first()).toBeVisible();
  await expect(handle).toBeFocused();
  await page.keyboard.press('ArrowUp');
  await expect(list.getByRole('listitem').first()).toContainText('Lights');
  await page.getByRole('button', { name: /^Save and change [1-9]/ }).click();
  await expect(said(page, /^Saved\. \d+ listings? on the way/)).toBeVisible();
  await page.getByRole('heading', { name: 'Pricing' }).click();
  await page.keyboard.press('Control+z');
  await expect(list.getByRole('listitem')).toHaveCount(1);
});

test('a formula is told where it is wrong, and the plans are rehearsed on recorded days', async ({
  page,
}) => {
  await page.goto(`${DEMO}/pricing`);
  await page.getByRole('button', { name: 'Target: a margin of the selling price' }).click();
  await page.getByRole('option', { name: 'a formula' }).click();
  await page.getByRole('button', { name: /^Formula/ }).click();
  const formula = page.getByRole('textbox', { name: 'Formula' });
  await formula.fill('cost * colour');
  await expect(page.getByText(/^At 8: There is no field “colour”/)).toBeVisible();
  await formula.fill('max(cost * 1.9 + 2.2, msrp * 0.7)');
  await page.keyboard.press('Escape');
  await page.getByRole('tab', { name: 'What would happen' }).focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.getByRole('tab', { name: 'Rehearse on the past' })).toHaveAttribute(
    'aria-selected',
    'true',
  );
  await page.getByLabel('Rehearse on the last').selectOption('7');
  await page.getByRole('button', { name: 'Rehearse', exact: true }).click();
  const table = page.getByRole('table', { name: 'Rehearsal' });
  await expect(table.getByRole('row', { name: /^Plans as changed/ })).toContainText('£');
  await expect(table.getByRole('row', { name: /^What happened/ })).toContainText('£');
  await page.getByLabel('Sales of a day').selectOption({ index: 3 });
  await expect(
    page.getByRole('table', { name: /^Sales of/ }).or(page.getByText(/^Nothing was sold/)),
  ).toBeVisible();
  await lacksNoAccess(page);
  await page.getByRole('button', { name: 'Discard' }).click();
});

test('a step that is too large waits, is shown with before and after, and is approved for all at once', async ({
  page,
}) => {
  await page.goto(`${DEMO}/pricing`);
  await slot(page, /^Largest step:/, 'Largest step; empty for any size', '5');
  await page.getByRole('button', { name: /^Save/ }).click();
  await expect(said(page, /^Saved/)).toBeVisible();
  await page.goto(`${DEMO}/connections`);
  const standIns = page.getByRole('article', { name: 'Stand-ins' });
  await standIns.getByLabel('How many').fill('12');
  await standIns.getByRole('button', { name: 'Costs rise by 25 %' }).click();
  await expect(said(page, /cost up 25 %/)).toBeVisible();
  await page.goto(`${DEMO}/listings`);
  await page.getByRole('button', { name: 'Read suppliers now' }).click();
  await expect(said(page, /^The suppliers are read now/)).toBeVisible();
  await page.goto(`${DEMO}/listings?q=is:step`);
  await expect(rows(page, 'Listings').first()).toBeVisible({ timeout: 30_000 });
  await rows(page, 'Listings').first().click();
  const docket = page.getByRole('complementary', { name: 'Listing' });
  await expect(docket.getByText(/A step to [\d.]+ \(\+.*\) waits for you/).first()).toBeVisible();
  await docket.getByLabel('Wished price').fill('99');
  await docket.getByLabel('Wished price').press('Enter');
  await expect(docket.getByText(/^For 99.00 the landed cost may be/)).toBeVisible();
  await lacksNoAccess(page);
  await docket.getByRole('button', { name: 'Close the docket' }).click();
  await page.getByRole('button', { name: /^Approve \d+ price steps/ }).click();
  await expect(said(page, /price steps? approved/)).toBeVisible();
  await expect(page.getByText('0 matches')).toBeVisible();
  await go(page, 'Pricing');
  await slot(page, /^Largest step:/, 'Largest step; empty for any size', '');
  await page.getByRole('button', { name: /^Save/ }).click();
});

test('prices follow demand by a plan; what that does is looked at over all that is offered, lowest margin first', async ({
  page,
}) => {
  await page.goto(`${DEMO}/pricing`);
  await expect(page.getByText(/^As things stand/)).toBeVisible();
  await page.getByRole('button', { name: 'Raise what sells' }).click();
  await slot(page, /^Sales for a step up/, 'Sales for a step up', '3');
  await page.getByRole('button', { name: 'Lower what does not' }).click();
  await slot(page, /^Lower by at most/, 'Lower by at most', '15 %');
  await expect(page.getByText('days without a sale it falls by')).toBeVisible();
  await slot(page, /^Margin:/, 'Margin', '26');
  await page.getByLabel('What is looked at').selectOption({ label: 'all that is offered, on Pennywharf UK' });
  await expect(page.getByText(/^What would happen .* rise/)).toBeVisible();
  await page.getByLabel('What stands first').selectOption('worst');
  const table = rows(page, 'What would happen');
  // The margin as it would be; a price that stays has only one.
  const margin = async (k: number) =>
    Number(
      /(−?[\d.]+) %$/
        .exec((await table.nth(k).getByRole('gridcell').nth(2).textContent()) ?? '')?.[1]
        ?.replace('−', '-'),
    );
  // The rows of before stand until those in the new order come.
  await expect
    .poll(async () => {
      const [first, fourth] = [await margin(0), await margin(3)];
      return first < 26 && first <= fourth;
    })
    .toBe(true);
  await lacksNoAccess(page);
  await page.getByRole('button', { name: 'Discard' }).click();
});

test('what a supplier costs besides is weighed while it is typed, saved as one change, and taken back; fees are checked against orders', async ({
  page,
}) => {
  await page.goto(`${DEMO}/connections`);
  const supplier = page.getByRole('article', { name: 'Brackwater Trade' });
  await supplier.getByRole('button', { name: 'Costs' }).click();
  const cell = (column: string) => supplier.getByLabel(`${column}, row 1 of Duty and import tax`);
  await cell('Countries').fill('US');
  await cell('Duty, %').fill('four');
  await expect(supplier.getByText(/write the share, such as duty 4 %/)).toBeVisible();
  await expect(supplier.getByRole('button', { name: /^Save/ })).toBeDisabled();
  await cell('Duty, %').fill('4');
  await cell('Import tax, %').fill('8');
  await supplier.getByLabel('Handling per order').fill('1.20');
  await expect(supplier.getByText(/^Of \d+ live listings [1-9]\d* would rise/)).toBeVisible();
  await lacksNoAccess(page);
  await supplier.getByRole('button', { name: /^Save/ }).click();
  await expect(said(page, /Costs of Brackwater Trade are saved\. [1-9]/)).toBeVisible();
  await expect(supplier.getByText(/duty and tax at 1 border, handling 1\.20 per order/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect(supplier.getByText(/duty and tax at/)).toBeHidden();

  const market = page.getByRole('article', { name: 'Pennywharf UK' });
  await market.locator('summary').first().click();
  const agree = market.getByText(/^Of \d+ orders? that Pennywharf UK charged/);
  await expect(agree).toBeVisible();
  const [, all, same] = /^Of (\d+) .* charged, (\d+) /.exec((await agree.textContent())!)!;
  expect(same).toBe(all);
  await market.getByRole('button', { name: 'Change fees' }).click();
  await market.getByLabel('Plus').first().fill('0.11');
  await expect(market.getByText(/charged, 0 were charged as this table says: it makes/)).toBeVisible();
  await market.getByRole('button', { name: 'Cancel' }).click();
});

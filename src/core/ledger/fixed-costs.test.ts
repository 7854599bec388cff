import { costDays, costIn } from './fixed-costs';

const RENT = { day: '2026-01-31', minor: 10_000, monthly: true, until: null };

test('a monthly cost is spread over the days of its month, and shares of ranges side by side add up', () => {
  expect(costIn(RENT, '2026-02-01', '2026-02-28')).toBe(10_000);
  expect(costIn(RENT, '2026-01-01', '2026-01-31')).toBe(323);
  let byDay = 0;
  for (let d = 1; d <= 28; d++) {
    const day = `2026-02-${String(d).padStart(2, '0')}`;
    byDay += costIn(RENT, day, day);
  }
  expect(byDay).toBe(10_000);
  expect(costIn(RENT, '2026-02-01', '2026-02-10') + costIn(RENT, '2026-02-11', '2026-04-03')).toBe(
    costIn(RENT, '2026-02-01', '2026-04-03'),
  );
  expect(costIn({ ...RENT, until: '2026-02-14' }, '2026-02-01', '2026-12-31')).toBe(5_000);
  expect(costIn({ ...RENT, monthly: false }, '2026-02-01', '2026-12-31')).toBe(0);
});

test('it is to be paid on its day of each month, or on the last of a shorter one', () => {
  expect(costDays(RENT, '2026-02-01', '2026-04-30')).toEqual(['2026-02-28', '2026-03-31', '2026-04-30']);
  expect(costDays(RENT, '2025-12-01', '2026-01-30')).toEqual([]);
  expect(costDays({ ...RENT, until: '2026-03-15' }, '2026-02-01', '2026-04-30')).toEqual(['2026-02-28']);
});

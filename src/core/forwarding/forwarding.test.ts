import { type CheckRule, goesAt, goingInWords, weightOf } from '.';

const at = (iso: string) => Date.parse(iso);

test('an order goes at once, after its wait, at the next set hour of a zone, or by hand', () => {
  const passed = at('2026-11-27T17:30:00Z');
  expect(goesAt({ kind: 'at once' }, passed)).toBe(passed);
  expect(goesAt({ kind: 'wait', minutes: 45 }, passed)).toBe(at('2026-11-27T18:15:00Z'));
  expect(goesAt({ kind: 'by hand' }, passed)).toBeNull();
  // A Friday evening: the next working day's first hour is on Monday, in New York's time.
  const hours = {
    kind: 'hours',
    zone: 'America/New_York',
    days: [1, 2, 3, 4, 5],
    times: ['09:00', '12:00'],
  } as const;
  expect(goesAt(hours, passed)).toBe(at('2026-11-30T14:00:00Z'));
  expect(goesAt(hours, at('2026-11-27T16:59:00Z'))).toBe(at('2026-11-27T17:00:00Z'));
  expect(goesAt({ ...hours, days: [] }, passed)).toBeNull();
});

test('a going is told in words', () => {
  expect(goingInWords({ kind: 'wait', minutes: 120 })).toBe('after 2 hours');
  expect(
    goingInWords({ kind: 'hours', zone: 'Europe/London', days: [1, 2, 3], times: ['14:00', '09:00'] }),
  ).toBe('Mon to Wed at 09:00 and 14:00, Europe/London time');
});

test('the first rule that fits weighs a check; what must be read by a person always holds', () => {
  const rule = (check: CheckRule['check'], weight: CheckRule['weight'], field: string): CheckRule => ({
    id: `${check} ${weight}`,
    ...{ check, weight, when: { field, is: 'x' } },
  });
  const rules = [
    rule('note', 'pass', 'on'),
    rule('note', 'warn', 'country'),
    rule('personalised', 'pass', 'on'),
  ];
  const fits =
    (...fields: string[]) =>
    (when: CheckRule['when']) =>
      'field' in when && fields.includes(when.field);
  expect(weightOf('note', rules, fits('on', 'country'))).toBe('pass');
  expect(weightOf('note', rules, fits('country'))).toBe('warn');
  expect(weightOf('note', rules, fits())).toBe('hold');
  expect(weightOf('costs', [], fits())).toBe('warn');
  expect(weightOf('personalised', rules, fits('on'))).toBe('hold');
});

import fc from 'fast-check';
import { addDays, isDay, readDay, readDayAndTime, writtenDay, writtenDayAndTime } from '.';

test.each([
  ['2026-11-26', '2026-11-26'],
  [' 26  Nov 2026 ', '2026-11-26'],
  ['26 november 2026', '2026-11-26'],
  ['26.11.2026', '2026-11-26'],
  ['6/1/2026', '2026-01-06'],
  ['29 Feb 2028', '2028-02-29'],
])('%s is a day', (typed, day) => {
  expect(readDay(typed)).toBe(day);
});

test.each([
  '',
  '29 Feb 2027',
  '26.11.26',
  '31.4.2026',
  '13/13/2026',
  'tomorrow',
  '2026-11-26x',
  '26 Nov 20266',
])('“%s” is none, and nothing is guessed', (typed) => {
  expect(readDay(typed)).toBeNull();
});

test.each([
  ['2026-11-26T14:05', '2026-11-26T14:05'],
  ['26 Nov 2026 9:05', '2026-11-26T09:05'],
  ['26.11.2026, 14.30', '2026-11-26T14:30'],
  ['26 Nov 2026', '2026-11-26T09:00'],
  ['26 Nov 2026 25:00', null],
  ['26 Nov 2026 14:5', null],
])('%s is read with its time', (typed, local) => {
  expect(readDayAndTime(typed, '09:00')).toBe(local);
});

test('every day is read as it is written', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 60_000 }), fc.integer({ min: 0, max: 1439 }), (n, minute) => {
      const day = addDays('1971-01-01', n);
      expect(isDay(day)).toBe(true);
      expect(readDay(writtenDay(day))).toBe(day);
      const local = `${day}T${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`;
      expect(readDayAndTime(writtenDayAndTime(local), '00:00')).toBe(local);
    }),
  );
});

import { nextTime, timetableInWords } from '.';

const at = (iso: string) => Date.parse(iso);
const WORKDAYS = { time: '06:30', days: [1, 2, 3, 4, 5] };

test('the next time goes by the zone, its weekdays and its clocks', () => {
  const next = (timetable: typeof WORKDAYS, after: string, zone = 'Europe/London') =>
    new Date(nextTime(timetable, at(after), zone)).toISOString();
  // Thursday, before and after; Friday evening to Monday.
  expect(next(WORKDAYS, '2026-11-26T06:29:00Z')).toBe('2026-11-26T06:30:00.000Z');
  expect(next(WORKDAYS, '2026-11-26T06:30:00Z')).toBe('2026-11-27T06:30:00.000Z');
  expect(next(WORKDAYS, '2026-11-27T18:00:00Z')).toBe('2026-11-30T06:30:00.000Z');
  // In Berlin it is already Monday when it is Sunday evening in UTC.
  expect(next({ time: '00:15', days: [1] }, '2026-11-29T23:10:00Z', 'Europe/Berlin')).toBe(
    '2026-11-29T23:15:00.000Z',
  );
  // Summer time: an hour earlier in UTC; a time left out comes as long after the change.
  expect(next(WORKDAYS, '2026-03-27T12:00:00Z')).toBe('2026-03-30T05:30:00.000Z');
  expect(next({ time: '01:30', days: [7] }, '2026-03-28T12:00:00Z')).toBe('2026-03-29T01:30:00.000Z');
  expect(next({ time: '06:30', days: [4] }, '2026-11-26T06:30:00Z')).toBe('2026-12-03T06:30:00.000Z');
});

test('a timetable in words', () => {
  expect(timetableInWords(WORKDAYS)).toBe('Mon to Fri at 06:30');
  expect(timetableInWords({ time: '06:30', days: [1, 2, 3, 4, 5, 6, 7] })).toBe('each day at 06:30');
  expect(timetableInWords({ time: '22:00', days: [6, 2] })).toBe('Tue, Sat at 22:00');
});

import fc from 'fast-check';
import { clockChange, clockTime, dayName, dayOf } from '.';

const ZONES = [
  'Europe/London',
  'America/New_York',
  'Asia/Kathmandu',
  'Australia/Lord_Howe',
  'Pacific/Apia',
  'UTC',
];
const instant = fc.integer({ min: Date.parse('1971-01-01'), max: Date.parse('2037-12-31') });

test('days and times are those of the platform, in every zone and at every change of its clocks', () => {
  fc.assert(
    fc.property(instant, fc.constantFrom(...ZONES), (at, zone) => {
      const parts = new Intl.DateTimeFormat('en-GB', {
        timeZone: zone,
        ...{ year: 'numeric', month: '2-digit', day: '2-digit' },
        ...{ hour: '2-digit', minute: '2-digit', hourCycle: 'h23' },
      }).formatToParts(at);
      const get = (type: string) => parts.find((p) => p.type === type)!.value;
      expect(dayOf(at, zone)).toBe(`${get('year')}-${get('month')}-${get('day')}`);
      expect(clockTime(at, zone)).toBe(`${get('hour')}:${get('minute')}`);
    }),
    { numRuns: 2_000 },
  );
});

test('days are named as the platform names them', () => {
  for (let day = 0; day < 366; day++) {
    const iso = new Date(Date.UTC(2028, 0, 1 + day)).toISOString().slice(0, 10);
    const named = new Intl.DateTimeFormat('en-GB', { timeZone: 'UTC', day: 'numeric', month: 'short' });
    expect(dayName(iso)).toBe(named.format(Date.parse(iso)));
  }
});

test('what is no instant or no zone is not taken for one', () => {
  expect(() => dayOf(Number.NaN, 'UTC')).toThrow(RangeError);
  expect(() => dayOf(0, 'Nowhere/Land')).toThrow(RangeError);
});

test('a time that the clocks leave out, or show twice, is told as such', () => {
  expect(clockChange('2027-03-28T01:30', 'Europe/London')).toBe('left out');
  expect(clockChange('2027-10-31T01:30', 'Europe/London')).toBe('twice');
  expect(clockChange('2027-10-31T02:30', 'Europe/Berlin')).toBe('twice');
  expect(clockChange('2027-03-28T01:30', 'UTC')).toBeNull();
  expect(clockChange('2026-11-30T12:00', 'America/New_York')).toBeNull();
});

import { overdueAfter, serviceFor, transitOf } from './delivery';

const HOUR = 3_600_000;

test('real days are the median and the ninetieth percentile of parcels, once there are enough', () => {
  expect(transitOf([1, 2, 3, 4].map((d) => d * 24 * HOUR))).toBeNull();
  // 1 to 10 days less an hour: begun days count whole.
  const ten = Array.from({ length: 10 }, (_, k) => (k + 1) * 24 * HOUR - HOUR);
  expect(transitOf(ten.reverse())).toEqual({ parcels: 10, median: 5, most: 9 });
  expect(transitOf([2, 2, 2, 2, 40].map((h) => h * HOUR))).toEqual({ parcels: 5, median: 1, most: 2 });
});

test('a parcel is overdue by what parcels really took, else by what is promised', () => {
  const real = { parcels: 9, median: 2, most: 3 };
  expect([overdueAfter(real, 2), overdueAfter(null, 2), overdueAfter(null, null)]).toEqual([5, 6, 14]);
});

test('a service is taken where the usual one is too slow: the cheapest in time, within what it may cost', () => {
  const services = [
    { id: 'next', name: 'Next day', to: ['GB'], extra: 650, days: 1 },
    { id: 'two', name: 'Two days', to: ['GB', 'IE'], extra: 300, days: 2 },
    { id: 'slow', name: 'Boat', to: ['GB'], extra: 10, days: 9 },
  ];
  const same = (minor: number) => minor;
  const by = (usual: number | null, within: number, upTo: number, country = 'GB') =>
    serviceFor(services, country, usual, { within, upTo }, same)?.id ?? null;
  expect(by(3, 3, 1000)).toBeNull();
  expect(by(3, 2, 1000)).toBe('two');
  expect(by(3, 1, 1000)).toBe('next');
  expect(by(3, 1, 500)).toBeNull();
  expect(by(null, 2, 300, 'IE')).toBe('two');
  expect(by(null, 2, 300, 'FR')).toBeNull();
  // In another currency by its rate, and not at all without one.
  expect(serviceFor(services, 'GB', 3, { within: 2, upTo: 300 }, (m) => m * 2)).toBeNull();
  expect(serviceFor(services, 'GB', 3, { within: 2, upTo: 9000 }, () => null)).toBeNull();
});

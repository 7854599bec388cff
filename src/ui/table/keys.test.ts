import type { KeyboardEvent } from 'react';
import { tableKey } from './keys';

const press = (key: string, held: Partial<KeyboardEvent> = {}, can: 'all' | 'little' = 'all') => {
  const done: unknown[] = [];
  const act = (name: string) => () => done.push(name);
  const used = tableKey({ key, shiftKey: false, ...held } as KeyboardEvent, 8, {
    go: (by, extend) => done.push([by, extend]),
    copy: act('copy'),
    open: act('open'),
    ...(can === 'all' && {
      mark: act('mark'),
      markMany: act('many'),
      edit: act('edit'),
      close: act('close'),
    }),
  });
  return { used, done };
};

test('keys move by a row, a page or to the ends, and extend with Shift', () => {
  expect(press('j').done).toEqual([[1, false]]);
  expect(press('K', { shiftKey: true }).done).toEqual([[-1, true]]);
  expect(press('PageDown').done).toEqual([[8, false]]);
  const [[by]] = press('End').done as [[number, boolean]];
  expect(by).toBeGreaterThan(1e9);
  // Still a whole number once a row is added to it.
  expect(Number.isSafeInteger(by + 1e6)).toBe(true);
});

test('what a table cannot do is left to the browser', () => {
  expect(press(' ').done).toEqual(['mark']);
  expect(press('Escape').done).toEqual(['close']);
  for (const key of [' ', 'F2', 'Escape'])
    expect(press(key, {}, 'little')).toEqual({ used: false, done: [] });
  expect(press('j', { altKey: true }).used).toBe(false);
  expect(press('f', { ctrlKey: true }).used).toBe(false);
  expect(press('a', { ctrlKey: true }).done).toEqual(['many']);
  expect(press('a', { ctrlKey: true }, 'little').used).toBe(false);
});

import type { KeyboardEvent } from 'react';
import type { Chosen, Place } from './block';
import { gridKey } from './keys';

const COLUMNS = 4;
const PAGE = 10;

/** Presses a key in the third row, second column, with a block that reaches two rows further. */
function press(key: string, held: Partial<KeyboardEvent> = {}) {
  const went: [Place, boolean][] = [];
  const done: string[] = [];
  const chosen: Chosen = {
    at: { row: 2, column: 1 },
    end: { row: 4, column: 1 },
    block: { top: 2, bottom: 4, left: 1, right: 1 },
    choose: (to, extend = false) => went.push([to, extend]),
    chooseBlock: () => undefined,
  };
  const used = gridKey({ key, ...held } as KeyboardEvent, chosen, COLUMNS, PAGE, {
    copy: () => done.push('copy'),
    fillDown: () => done.push('fill down'),
    chooseAll: () => done.push('choose all'),
    clear: () => done.push('clear'),
    edit: (typed) => done.push(`edit ${typed ?? ''}`),
  });
  return { used, went, done };
}

test('arrows go on from the cell, with Shift from the far corner of the block', () => {
  expect(press('ArrowDown').went).toEqual([[{ row: 3, column: 1 }, false]]);
  expect(press('ArrowDown', { shiftKey: true }).went).toEqual([[{ row: 5, column: 1 }, true]]);
  expect(press('PageUp').went).toEqual([[{ row: -8, column: 1 }, false]]);
  expect(press('Enter', { shiftKey: true }).went[0]![1]).toBe(false);
});

test('Tab goes along the row and leaves the grid at its ends', () => {
  expect(press('Tab').went).toEqual([[{ row: 2, column: 2 }, false]]);
  const at: Chosen['at'] = { row: 0, column: COLUMNS - 1 };
  const chosen = { at, end: at, choose: jest.fn() } as unknown as Chosen;
  const event = { key: 'Tab' } as KeyboardEvent;
  expect(gridKey(event, chosen, COLUMNS, PAGE, {} as Parameters<typeof gridKey>[4])).toBe(false);
  expect(chosen.choose).not.toHaveBeenCalled();
});

test('a letter is typed over the cell, one with Ctrl is a command, and others are the browser’s', () => {
  expect(press('a').done).toEqual(['edit a']);
  expect(press('F2').done).toEqual(['edit ']);
  expect(press('d', { ctrlKey: true }).done).toEqual(['fill down']);
  expect(press('Delete').done).toEqual(['clear']);
  for (const [key, held] of [
    ['r', { ctrlKey: true }],
    ['a', { altKey: true }],
    ['Escape', {}],
  ] as const)
    expect(press(key, held)).toEqual({ used: false, went: [], done: [] });
});

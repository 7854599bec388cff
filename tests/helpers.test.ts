import { expose } from 'comlink';
import { type FoundText, openList, type TextList } from '@/connect/lists';
import type { Match } from '@/core/lists';
import { listHelpers } from '@/work/browser/list-helpers';
import { shareOfCores, WorkerPool } from '@/work/browser/worker-pool';
import type { ListHelpers, ReadItems } from '@/work/context/list-helpers';
import { withoutHelpers } from '@/work/readings/items';
import { helperApi } from '@/work/readings/one-helper';

/** A worker that is none: messages go through a channel, its errors are told by hand. */
class Pretended extends EventTarget {
  static made: Pretended[] = [];
  private readonly channel = new MessageChannel();
  ended = false;
  constructor(answer: ((lines: Int32Array) => unknown) | typeof helperApi | null) {
    super();
    Pretended.made.push(this);
    const api =
      typeof answer === 'function'
        ? { read: (_: unknown, __: unknown, lines: Int32Array) => answer(lines) }
        : answer;
    if (api) expose(api, this.channel.port2 as never);
    this.channel.port1.onmessage = ({ data }) =>
      this.dispatchEvent(Object.assign(new Event('message'), { data }));
  }
  postMessage(message: unknown, moved: Transferable[] = []) {
    this.channel.port1.postMessage(message, moved as never);
  }
  terminate() {
    this.ended = true;
    this.channel.port1.close();
    this.channel.port2.close();
  }
}

const pool = (start: () => Worker, rest: number) => new WorkerPool<typeof helperApi>(start, 2, rest);

const part = () =>
  ({
    kind: 'text',
    bytes: new Uint8Array(4),
    ends: Int32Array.of(3),
    delimiter: ',',
    encoding: 'utf-8',
  }) as const;
const match = {} as Match;
const ask = (read: ReadItems, line: number) => read(match, part(), Int32Array.of(line), new Int32Array(2));
beforeEach(() => {
  Pretended.made = [];
});
afterEach(() => {
  for (const worker of Pretended.made) worker.terminate();
});

test('two helpers share the parts, and more parts do not make more helpers', async () => {
  const { readItems: read } = listHelpers(
    pool(() => new Pretended((lines) => ({ line: lines[0] })) as unknown as Worker, 5),
  );
  const answers = await Promise.all([1, 2, 3, 4, 5].map((line) => ask(read, line)));
  expect(answers).toEqual([1, 2, 3, 4, 5].map((line) => ({ line })));
  expect(Pretended.made.length).toBe(2);
  await new Promise((done) => setTimeout(done, 20));
  expect(Pretended.made.every((worker) => worker.ended)).toBe(true);
  expect(await ask(read, 6)).toEqual({ line: 6 });
});

test('heavy work has a share of the cores', () => {
  expect([1, 2, 4, 64].map(shareOfCores)).toEqual([2, 2, 3, 4]);
});

test('a helper that dies fails the parts it had, and another takes its place', async () => {
  let alive = false;
  const { readItems: read } = listHelpers(
    pool(() => new Pretended(alive ? () => 'read' : null) as unknown as Worker, 5),
  );
  const waiting = ask(read, 1);
  await Promise.resolve();
  Pretended.made[0]!.dispatchEvent(Object.assign(new Event('error'), { message: 'out of memory' }));
  await expect(waiting).rejects.toThrow(/lost: out of memory/);
  expect(Pretended.made[0]!.ended).toBe(true);
  alive = true;
  expect(await ask(read, 2)).toBe('read');
});

const textOf = async (rows: number, name: string): Promise<TextList> => {
  const lines = Array.from({ length: rows }, (_, k) =>
    k === 7_000 ? `${name}-${k},"never closed` : `${name}-${k},"Two\nlines, ${k}",${'x'.repeat(400)}`,
  );
  const blob = new Blob([`SKU,Title,About\n${lines.join('\n')}\n`]);
  const open = await openList(blob, { kind: 'csv', delimiter: ',', encoding: 'utf-8', headerRow: 0 }, '.');
  if (!open.ok || !open.value.text) throw new Error('not opened');
  return open.value.text.list;
};
const plain = ({ bytes: _, ...found }: FoundText) => found;
const foundBy = async (
  helpers: ListHelpers,
  lists: readonly TextList[],
  pause = 0,
): Promise<ReturnType<typeof plain>[][]> => {
  const ahead = lists.map((list) => helpers.findText(list, list.begin));
  const all: ReturnType<typeof plain>[][] = lists.map(() => []);
  for (let going = true; going; ) {
    going = false;
    for (const [k, text] of ahead.entries()) {
      const found = await text.next();
      if (!found) continue;
      going = true;
      all[k]!.push(plain(found));
      if (pause) await new Promise((done) => setTimeout(done, pause));
    }
  }
  return all;
};

test('records found by helpers are those found without, for lists read by turns and after helpers were let go in a pause', async () => {
  const lists = [await textOf(14_000, 'A'), await textOf(9_000, 'B'), await textOf(3, 'C')];
  const wanted = await foundBy(withoutHelpers, lists);
  expect(wanted.map((w) => w.length)).toEqual([3, 2, 1]);
  expect(wanted[0]!.reduce((n, f) => n + f.lines.length, 0)).toBe(14_000);
  const start = () => new Pretended(helperApi) as unknown as Worker;
  expect(await foundBy(listHelpers(pool(start, 1_000)), lists)).toEqual(wanted);
  expect(Pretended.made.length).toBe(2);
  expect(await foundBy(listHelpers(pool(start, 1)), lists, 20)).toEqual(wanted);
  expect(Pretended.made.length).toBeGreaterThan(4);
});

test('a text that cannot be read any more fails where it is waited for', async () => {
  const list = await textOf(3, 'A');
  const broken = {
    slice: () => ({ arrayBuffer: () => Promise.reject(new Error('the file is gone')) }),
    size: 100,
  } as unknown as Blob;
  const failing = { ...helperApi, find: () => Promise.reject(new Error('the file is gone')) };
  const { findText } = listHelpers(pool(() => new Pretended(failing) as unknown as Worker, 5));
  await expect(findText(list, list.begin).next()).rejects.toThrow('the file is gone');
  await expect(withoutHelpers.findText({ ...list, blob: broken }, list.begin).next()).rejects.toThrow(
    'the file is gone',
  );
});

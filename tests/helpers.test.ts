import { expose } from 'comlink';
import type { Match } from '@/core/lists';
import { readInHelpers } from '@/work/helpers';

/** A worker that is none: messages go through a channel, its errors are told by hand. */
class Pretended extends EventTarget {
  static made: Pretended[] = [];
  private readonly channel = new MessageChannel();
  ended = false;
  constructor(answer: ((lines: Int32Array) => unknown) | null) {
    super();
    Pretended.made.push(this);
    if (answer) expose({ read: (_: unknown, __: unknown, lines: Int32Array) => answer(lines) }, this.channel.port2 as never);
    this.channel.port1.onmessage = ({ data }) => this.dispatchEvent(Object.assign(new Event('message'), { data }));
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

const part = () => ({ kind: 'text', bytes: new Uint8Array(4), ends: Int32Array.of(3), delimiter: ',', encoding: 'utf-8' }) as const;
const match = {} as Match;
const ask = (read: ReturnType<typeof readInHelpers>, line: number) => read(match, part(), Int32Array.of(line), new Int32Array(2));
beforeEach(() => {
  Pretended.made = [];
});
afterEach(() => {
  for (const worker of Pretended.made) worker.terminate();
});

test('two helpers share the parts, and more parts do not make more helpers', async () => {
  const read = readInHelpers(() => new Pretended((lines) => ({ line: lines[0] })) as unknown as Worker, 5);
  const answers = await Promise.all([1, 2, 3, 4, 5].map((line) => ask(read, line)));
  expect(answers).toEqual([1, 2, 3, 4, 5].map((line) => ({ line })));
  expect(Pretended.made.length).toBe(2);
  await new Promise((done) => setTimeout(done, 20));
  expect(Pretended.made.every((worker) => worker.ended)).toBe(true);
  expect(await ask(read, 6)).toEqual({ line: 6 });
});

test('a helper that dies fails the parts it had, and another takes its place', async () => {
  let alive = false;
  const read = readInHelpers(() => new Pretended(alive ? () => 'read' : null) as unknown as Worker, 5);
  const waiting = ask(read, 1);
  await Promise.resolve();
  Pretended.made[0]!.dispatchEvent(Object.assign(new Event('error'), { message: 'out of memory' }));
  await expect(waiting).rejects.toThrow(/lost: out of memory/);
  expect(Pretended.made[0]!.ended).toBe(true);
  alive = true;
  expect(await ask(read, 2)).toBe('read');
});

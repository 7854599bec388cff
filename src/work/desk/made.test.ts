import type { Change } from '../../store';
import { Makers } from './made';

const change = (id: string, part: Partial<Change> = {}): Change => ({
  ...{ id, at: 1, by: 'person', name: id, why: null, edits: 1, undoneBy: null, undoable: true },
  ...part,
});

/** A promise that is kept when it is told to. */
function later() {
  let resolve = () => {};
  const promise = new Promise<void>((done) => {
    resolve = done;
  });
  return { promise, resolve: () => resolve() };
}

test('an act answers with the change that it made, and with none where it made none or another act was under way', async () => {
  const makers = new Makers();
  const told: (string | null)[] = [];
  const run = (act: () => Promise<void> | void) => makers.run(act, ({ made }) => told.push(made));
  await run(() => makers.hear(change('a')));
  await run(() => {});
  await run(() => makers.hear(change('rule', { by: 'rule' })));
  await run(() => makers.hear(change('told', { undoable: false })));
  const [slow, quick] = [later(), later()];
  const first = run(() => slow.promise);
  const second = run(() => quick.promise);
  makers.hear(change('b'));
  makers.hear(change('c'));
  quick.resolve();
  await second;
  slow.resolve();
  await first;
  await expect(
    run(() => {
      throw new Error('no');
    }),
  ).rejects.toThrow('no');
  expect(told).toEqual(['a', null, null, null, null, null, null]);
});

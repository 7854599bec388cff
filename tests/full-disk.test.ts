import Dexie from 'dexie';
import { failureInWords, NO_ROOM } from '@/work/context/failure';
import { saveRules } from '@/work/listings/rules';
import { setOut, type Voyage } from './voyage';

let v: Voyage;
let full = false;
beforeEach(async () => {
  full = false;
  v = await setOut({ items: 120 });
  await v.settle();
  v.work.db.close();
  // A browser without room refuses whatever is written.
  v.work.db.use({
    stack: 'dbcore',
    name: 'small-disk',
    create: (core) => ({
      ...core,
      table: (name) => {
        const table = core.table(name);
        return {
          ...table,
          mutate: (request) =>
            full && request.type !== 'delete'
              ? Promise.reject(new Dexie.QuotaExceededError('Encountered full disk'))
              : table.mutate(request),
        };
      },
    }),
  });
  await v.work.db.open();
});
afterEach(() => v.end());

test('on a full disk what is saved says what did not fit and what can go; what stood there stays', async () => {
  const before = await v.work.db.settings.toArray();
  full = true;
  const saving = saveRules(v.work, [{ table: 'settings', id: 'shop', set: { shop: 'Another' } }], 'Name');
  await expect(saving).rejects.toThrow();
  const says = await saving.catch(failureInWords);
  expect(says).toBe(NO_ROOM);
  full = false;
  expect(await v.work.db.settings.toArray()).toEqual(before);
  expect(
    await v.work.db.changes
      .where('id')
      .above('')
      .filter((c) => c.name === 'Name')
      .count(),
  ).toBe(0);
  await saveRules(v.work, [{ table: 'settings', id: 'shop', set: { shop: 'Another' } }], 'Name');
  expect((await v.work.db.settings.get('shop'))!.shop).toBe('Another');
});

test('whatever wraps it, no room is told as that; other failures keep their words', () => {
  const inner = new DOMException(
    'The current transaction exceeded its quota limitations.',
    'QuotaExceededError',
  );
  expect(failureInWords(Object.assign(new Error('AbortError'), { inner }))).toBe(NO_ROOM);
  expect(failureInWords({ name: 'QuotaExceededError', message: '' })).toBe(NO_ROOM);
  expect(failureInWords(new Error('The cable is out.'))).toBe('The cable is out.');
  expect(failureInWords('plain')).toBe('plain');
});

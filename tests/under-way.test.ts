import { letGo, SampanDatabase } from '../src/store';

it('lets go in the middle of a transaction: what it wrote is not stored, and the next one does not wait', async () => {
  const name = `left-${Math.random()}`;
  const left = new SampanDatabase(name);
  await left.open();
  let begun = () => {};
  const inside = new Promise<void>((resolve) => {
    begun = resolve;
  });
  const change = left
    .transaction('rw', left.notes, async () => {
      await left.notes.put({ id: 'half', value: 1 });
      begun();
      for (;;) await left.notes.get('half');
    })
    .then(
      () => 'stored',
      () => 'aborted',
    );
  await inside;
  letGo(left);
  expect(await change).toBe('aborted');
  await expect(left.notes.get('half')).rejects.toThrow();

  const next = new SampanDatabase(name);
  await next.notes.put({ id: 'whole', value: 2 });
  expect(await next.notes.get('half')).toBeUndefined();
  expect(await next.notes.get('whole')).toBeDefined();
  next.close();
});

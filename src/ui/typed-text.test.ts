import { TypedText } from './typed-text';

/** An address and a clock that move only when they are told to. */
function table(first = '') {
  let address = first;
  let now = 0;
  let waiting: { at: number; run: () => void }[] = [];
  const told: string[] = [];
  const text = new TypedText(
    first,
    {
      read: () => address,
      write: (value) => {
        address = value;
      },
    },
    {
      now: () => now,
      later: (milliseconds, run) => {
        const one = { at: now + milliseconds, run };
        waiting.push(one);
        return () => {
          waiting = waiting.filter((w) => w !== one);
        };
      },
    },
    (value) => told.push(value),
  );
  const pass = (milliseconds: number) => {
    const end = now + milliseconds;
    for (;;) {
      const next = waiting.filter((w) => w.at <= end).sort((a, b) => a.at - b.at)[0];
      if (!next) break;
      waiting = waiting.filter((w) => w !== next);
      now = next.at;
      next.run();
    }
    now = end;
  };
  const arrive = (value: string) => {
    address = value;
    text.moved();
  };
  return { text, told, pass, arrive, address: () => address, waits: () => waiting.length };
}

test('the address follows once typing rests, not with each key', () => {
  const { text, told, pass, address } = table();
  for (const typed of ['t', 'to', 'tor']) {
    text.type(typed);
    pass(100);
  }
  expect([told, address()]).toEqual([['t', 'to', 'tor'], '']);
  pass(200);
  expect(address()).toBe('tor');
});

test('what the router writes late is put right, and never shown', () => {
  const { text, told, pass, arrive, address, waits } = table();
  text.type('torch');
  pass(300);
  arrive('to');
  expect([text.value, told]).toEqual(['torch', ['torch']]);
  pass(1_200);
  expect(address()).toBe('torch');
  pass(10_000);
  expect([address(), waits()]).toEqual(['torch', 0]);
});

test('back and links move it, but not in the moment after a key', () => {
  const { text, told, pass, arrive } = table('lamp');
  arrive('is:new');
  expect([text.value, told]).toEqual(['is:new', ['is:new']]);
  text.type('is:new x');
  pass(5_000);
  arrive('');
  expect(text.value).toBe('');
});

test('a view that is left writes nothing into the address of the next', () => {
  const { text, pass, address, waits } = table();
  text.type('torch');
  text.end();
  pass(10_000);
  expect([address(), waits()]).toEqual(['', 0]);
});

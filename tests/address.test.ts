import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { GET, POST } from '@/app/api/address/route';
import { askAddress } from '@/connect/address';

/** The server's way to addresses of lists and pictures, against a host that can answer anything. */
let server: Server;
let origin: string;
let seen: { url: string; headers: Record<string, unknown> }[] = [];
let respond: (path: string) => {
  status?: number;
  headers?: Record<string, string>;
  body?: string | Buffer;
  breaksOff?: boolean;
};

beforeAll(async () => {
  server = createServer((message, response) => {
    seen.push({ url: message.url!, headers: message.headers });
    const answer = respond(message.url!);
    response.writeHead(answer.status ?? 200, answer.headers ?? {});
    if (answer.breaksOff) response.write(answer.body, () => response.destroy());
    else response.end(answer.body ?? '');
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => server.close());
beforeEach(() => {
  seen = [];
  respond = () => ({ body: 'sku,title\n' });
  process.env.SAMPAN_LIST_HOSTS = '';
  process.env.SAMPAN_LIST_INSIDE = new URL(origin).host;
});

const post = (body: unknown, headers: Record<string, string> = {}) =>
  POST(
    new Request('http://127.0.0.1:4800/api/address', { method: 'POST', body: JSON.stringify(body), headers }),
  );
const picture = (url: string) =>
  GET(new Request(`http://127.0.0.1:4800/api/address?picture=${encodeURIComponent(url)}`));

test('a listed host is asked, with its own marks and nothing else of the browser', async () => {
  respond = () => ({
    headers: { etag: '"1"', 'last-modified': 'Mon, 02 Nov 2026 09:00:00 GMT', 'set-cookie': 'a=b' },
    body: 'sku\n',
  });
  const answer = await post(
    { url: `${origin}/list.csv`, etag: '"0"', modified: 'Sun, 01 Nov 2026 09:00:00 GMT' },
    { cookie: 'secret=1' },
  );
  expect([
    answer.status,
    await answer.text(),
    answer.headers.get('etag'),
    answer.headers.get('set-cookie'),
  ]).toEqual([200, 'sku\n', '"1"', null]);
  expect(seen[0]!.headers).toMatchObject({
    'if-none-match': '"0"',
    'if-modified-since': 'Sun, 01 Nov 2026 09:00:00 GMT',
  });
  expect(seen[0]!.headers).not.toHaveProperty('cookie');
});

test('hosts that are not listed, inner addresses and other kinds of address are not asked', async () => {
  process.env.SAMPAN_LIST_HOSTS = '*';
  process.env.SAMPAN_LIST_INSIDE = '';
  for (const url of [
    origin,
    'http://localhost:1/',
    'http://[::1]/',
    'http://169.254.169.254/latest',
    'file:///etc/passwd',
    'ftp://x.example/',
    'x',
  ]) {
    const answer = await post({ url });
    expect([url, answer.status]).toEqual([url, 403]);
    expect((await answer.json()).detail).toMatch(/own network|not fetched|not an address/);
  }
  expect(seen).toEqual([]);
});

test('a redirect is followed only where the rules allow its goal', async () => {
  respond = (path) =>
    path === '/a'
      ? { status: 302, headers: { location: '/b' } }
      : path === '/evil'
        ? { status: 302, headers: { location: 'http://127.0.0.1:9/' } }
        : path === '/round'
          ? { status: 302, headers: { location: '/round' } }
          : { body: 'ok' };
  expect(await (await post({ url: `${origin}/a` })).text()).toBe('ok');
  expect((await post({ url: `${origin}/evil` })).status).toBe(403);
  expect((await (await post({ url: `${origin}/round` })).json()).detail).toMatch(/on and on/);
});

test('another site’s page cannot use it; nonsense is refused', async () => {
  expect((await post({ url: origin }, { 'sec-fetch-site': 'cross-site' })).status).toBe(403);
  expect((await post({ url: 7 })).status).toBe(400);
  expect((await post(null)).status).toBe(400);
  expect((await post({ url: `${origin}/x`, etag: 'a\r\nhost: evil' })).status).toBe(200);
  expect(seen[0]!.headers).not.toHaveProperty('if-none-match');
});

test.each([
  [404, 424, /nothing there/],
  [401, 424, /sign-in/],
  [500, 503, /answered 500/],
  [429, 429, /429/],
])('an answer of %i is told', async (status, passed, says) => {
  respond = () => ({ status });
  const answer = await post({ url: `${origin}/x` });
  expect([answer.status, (await answer.json()).detail]).toEqual([passed, expect.stringMatching(says)]);
});

test('only pictures come back as pictures, and never as a page of ours', async () => {
  respond = () => ({ headers: { 'content-type': 'image/png' }, body: Buffer.of(1, 2) });
  const good = await picture(`${origin}/a.png`);
  expect([
    good.status,
    good.headers.get('content-type'),
    good.headers.get('content-security-policy'),
  ]).toEqual([200, 'image/png', expect.stringMatching(/sandbox/)]);
  respond = () => ({ headers: { 'content-type': 'text/html' }, body: '<script>' });
  expect((await picture(`${origin}/a.png`)).status).toBe(415);
  respond = () => ({ headers: { 'content-type': 'image/svg+xml' }, body: '<svg onload="x()"/>' });
  // Shown as a picture it runs nothing, and opened by itself it may not.
  const drawn = await picture(`${origin}/a.svg`);
  expect([drawn.status, drawn.headers.get('content-security-policy')]).toEqual([
    200,
    "sandbox; default-src 'none'; style-src 'unsafe-inline'",
  ]);
});

test('a host of the made-up world is asked at its stand-in, and no other', async () => {
  respond = () => ({ headers: { 'content-type': 'image/png' }, body: 'png' });
  process.env.SAMPAN_LIST_STAND_INS = `lists.hollin.example=${origin}`;
  expect((await picture('https://lists.hollin.example/pictures/a.png?b=1')).status).toBe(200);
  expect(seen.map((s) => s.url)).toEqual(['/pictures/a.png?b=1']);
  expect((await picture('https://lists.other.example/pictures/a.png')).status).toBe(403);
  delete process.env.SAMPAN_LIST_STAND_INS;
});

test('what the browser makes of it: unchanged, refused, out of reach', async () => {
  const via =
    (status: number, body = '', headers: Record<string, string> = {}) =>
    async () =>
      new Response(status === 304 ? null : body, { status, headers });
  expect(await askAddress(via(304), 'https://a.example/l.csv', '"1"', null)).toEqual({
    ok: true,
    value: 'unchanged',
  });
  expect(
    await askAddress(via(200, 'a', { etag: '"2"' }), 'https://a.example/x/l%20ist.csv', null, null),
  ).toMatchObject({
    ok: true,
    value: { name: 'l ist.csv', etag: '"2"' },
  });
  expect(await askAddress(via(403, '{"detail":"No."}'), 'https://a.example/', null, null)).toMatchObject({
    ok: false,
    trouble: { kind: 'refused', says: 'No.' },
  });
  expect(await askAddress(via(502, 'x'), 'https://a.example/', null, null)).toMatchObject({
    ok: false,
    trouble: { kind: 'unreachable' },
  });
  expect(await askAddress(via(503), 'https://a.example/', null, null)).toMatchObject({
    ok: false,
    trouble: { kind: 'outage' },
  });
  expect(
    await askAddress(via(429, '', { 'retry-after': '9' }), 'https://a.example/', null, null),
  ).toMatchObject({
    ok: false,
    trouble: { kind: 'limit', retryAfter: 9000 },
  });
  const thrown = async () => {
    throw new TypeError('gone');
  };
  expect(await askAddress(thrown, 'https://a.example/', null, null)).toMatchObject({
    ok: false,
    trouble: { kind: 'unreachable' },
  });
});

test('what is larger than allowed is not passed on, told beforehand or not', async () => {
  const big = Buffer.alloc(10_500_000);
  respond = () => ({
    headers: { 'content-type': 'image/png', 'content-length': String(big.length) },
    body: big,
  });
  const told = await picture(`${origin}/told.png`);
  expect([told.status, (await told.json()).detail]).toEqual([413, 'It has 11 MB, up to 10 MB are fetched.']);
  respond = () => ({ headers: { 'content-type': 'image/png', 'transfer-encoding': 'chunked' }, body: big });
  const untold = await picture(`${origin}/untold.png`);
  expect(untold.status).toBe(200);
  await expect(untold.arrayBuffer()).rejects.toThrow(/too large/);
});

test('an answer shorter than its stated length is no list', async () => {
  const stated: Record<string, string>[] = [{ 'content-length': '5000' }, { 'transfer-encoding': 'chunked' }];
  for (const headers of stated) {
    respond = () => ({ headers, body: 'sku,title\nA-1,Torch\n', breaksOff: true });
    const ask = (url: string) => post({ url });
    expect(await askAddress(ask, `${origin}/list.csv`, null, null)).toMatchObject({
      ok: false,
      trouble: { kind: 'unreachable' },
    });
  }
});

import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { GET, POST } from '@/app/api/outside/[service]/[...path]/route';

/** The server's door to the outside, against a service that can answer anything. */
let server: Server;
let origin: string;
let seen: { url: string; headers: Record<string, unknown>; body: string }[] = [];
let respond: (path: string) => { status?: number; headers?: Record<string, string>; body?: string | Buffer };

beforeAll(async () => {
  server = createServer(async (message, response) => {
    let body = '';
    for await (const piece of message) body += piece;
    seen.push({ url: message.url!, headers: message.headers, body });
    const answer = respond(message.url!);
    response.writeHead(answer.status ?? 200, answer.headers ?? { 'content-type': 'application/json' });
    response.end(answer.body ?? '{}');
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  process.env.SAMPAN_SERVICES = JSON.stringify([
    { id: 'known', role: 'supplier', name: 'Known', about: '', origin },
    { id: 'gone', role: 'supplier', name: 'Gone', about: '', origin: 'http://127.0.0.1:9' },
  ]);
});
afterAll(() => server.close());
beforeEach(() => {
  seen = [];
  respond = () => ({});
});

const ask = (service: string, path: string, headers: Record<string, string> = {}) =>
  GET(new Request(`http://127.0.0.1:4800/api/outside/${service}${path}`, { headers }), {
    params: Promise.resolve({ service, path: [] }),
  });

test('only services the server was started with are asked', async () => {
  expect((await ask('elsewhere', '/v1/items')).status).toBe(404);
  expect((await ask('known', '/v1/items?cursor=a%20b')).status).toBe(200);
  expect(seen.map((s) => s.url)).toEqual(['/v1/items?cursor=a%20b']);
});

test('a path cannot lead to another host', async () => {
  for (const path of ['//127.0.0.1:9/x', '/..//127.0.0.1:9/x', '/@127.0.0.1:9/', '/%2e%2e/x'])
    await ask('known', path);
  expect(seen.length).toBe(4);
});

test('few headers pass, each way', async () => {
  respond = () => ({
    headers: { 'content-type': 'application/json', etag: '"1"', 'set-cookie': 'a=b', 'x-powered-by': 'x' },
  });
  const answer = await ask('known', '/v1/items', {
    authorization: 'Basic x',
    cookie: 'secret=1',
    'if-none-match': '"1"',
    'x-other': 'y',
  });
  expect(seen[0]!.headers).toMatchObject({ authorization: 'Basic x', 'if-none-match': '"1"' });
  expect(seen[0]!.headers).not.toHaveProperty('cookie');
  expect(seen[0]!.headers).not.toHaveProperty('x-other');
  expect(answer.headers.get('etag')).toBe('"1"');
  expect(answer.headers.get('set-cookie')).toBeNull();
  expect(answer.headers.get('content-security-policy')).toMatch(/sandbox/);
});

test('another site’s page cannot use it', async () => {
  for (const site of ['cross-site', 'same-site'])
    expect((await ask('known', '/v1/items', { 'sec-fetch-site': site })).status).toBe(403);
  expect((await ask('known', '/v1/items', { 'sec-fetch-site': 'same-origin' })).status).toBe(200);
  expect(seen).toHaveLength(1);
});

test.each([
  [
    'a page instead of JSON',
    { headers: { 'content-type': 'text/html' }, body: '<script>x</script>' },
    '/v1/items',
    502,
  ],
  ['a redirect', { status: 302, headers: { location: 'http://127.0.0.1:9/' } }, '/v1/items', 502],
  [
    '50 MB',
    {
      headers: { 'content-type': 'application/json', 'content-length': '50000000' },
      body: Buffer.alloc(50_000_000, 120),
    },
    '/v1/items',
    413,
  ],
  [
    'a page for a picture',
    { headers: { 'content-type': 'text/html' }, body: '<script>x</script>' },
    '/pictures/a.svg',
    415,
  ],
])('%s is not passed on', async (_, answer, path, status) => {
  respond = () => answer;
  const got = await ask('known', path);
  expect(got.status).toBe(status);
  expect(await got.text()).not.toContain('<script>');
});

test('a picture is passed on so that nothing in it can run', async () => {
  respond = () => ({ headers: { 'content-type': 'image/svg+xml' }, body: '<svg onload="x()"/>' });
  const got = await ask('known', '/pictures/a.svg');
  expect([got.status, got.headers.get('content-type'), got.headers.get('x-content-type-options')]).toEqual([
    200,
    'image/svg+xml',
    'nosniff',
  ]);
  expect(got.headers.get('content-security-policy')).toMatch(/^sandbox; default-src 'none'/);
});

test('a service that is not there is told as such', async () => {
  const got = await ask('gone', '/v1/items');
  expect(got.status).toBe(502);
  expect((await got.json()).detail).toMatch(/Gone cannot be reached/);
});

test('bodies go on as they are, with their key', async () => {
  await POST(
    new Request('http://127.0.0.1:4800/api/outside/known/v1/orders', {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'idempotency-key': 'k' },
      body: '{"a":1}',
    }),
    { params: Promise.resolve({ service: 'known', path: [] }) },
  );
  expect(seen[0]).toMatchObject({
    url: '/v1/orders',
    body: '{"a":1}',
    headers: { 'idempotency-key': 'k', 'content-type': 'application/json' },
  });
});

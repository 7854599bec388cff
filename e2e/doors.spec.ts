import { request as httpRequest } from 'node:http';
import { BRACKWATER, EMPTY, expect, test } from './harbour';

interface Asked {
  readonly status: number;
  readonly headers: Readonly<Record<string, string | string[] | undefined>>;
  readonly body: string;
}

/** A request as it is, with any host, path and header; the browser's own fetch would mend some of them. */
function ask(
  origin: string,
  method: string,
  path: string,
  headers: Record<string, string> = {},
  body?: string,
): Promise<Asked> {
  const { hostname, port } = new URL(origin);
  return new Promise((resolve, reject) => {
    const request = httpRequest(
      { hostname, port, method, path, headers, setHost: !('host' in headers) },
      (answer) => {
        let text = '';
        answer.on('data', (piece) => {
          text += piece;
        });
        answer.on('error', reject);
        answer.on('end', () =>
          resolve({ status: answer.statusCode ?? 0, headers: answer.headers, body: text }),
        );
      },
    );
    request.on('error', reject);
    // In pieces of unknown length.
    if (body) for (let at = 0; at < body.length; at += 500_000) request.write(body.slice(at, at + 500_000));
    request.end();
  });
}

const OURS = { origin: EMPTY };
const PICTURE = { ...OURS, 'content-type': 'image/png' };
const LONG = 'x'.repeat(3_000_000);

const REQUESTS: readonly [string, string, Record<string, string>, string | undefined, number][] = [
  ['GET', '/today', {}, undefined, 200],
  ['HEAD', '/today', {}, undefined, 200],
  ['GET', '/nowhere', {}, undefined, 404],
  ['GET', '/_next/static/nowhere.js', {}, undefined, 404],
  ['GET', '/api/nowhere', {}, undefined, 404],
  ['GET', '/api/health', {}, undefined, 200],
  ['HEAD', '/api/health', {}, undefined, 200],
  ['HEAD', '/api/outside/brackwater/v1/account', {}, undefined, 401],
  ['GET', '/api/outside/%62rackwater/v1/account', {}, undefined, 401],
  ['GET', '/api/outside/elsewhere/v1/account', {}, undefined, 404],
  ['GET', '/%E0%A4%A', {}, undefined, 400],
  ['GET', '/a%00b', {}, undefined, 400],
  ['GET', '/..%2f..%2fetc/passwd', {}, undefined, 400],
  ['GET', '/api/health', { host: 'rebound.example:4910' }, undefined, 421],
  ['GET', '/api/health', { host: '127.0.0.1' }, undefined, 421],
  ['GET', '/api/outside/brackwater/control', { host: 'rebound.example:4910' }, undefined, 421],
  ['GET', '/api/health', { host: 'localhost:4910' }, undefined, 200],
  ['POST', '/today', OURS, 'x', 405],
  ['DELETE', '/api/health', OURS, undefined, 405],
  ['TRACE', '/today', {}, undefined, 405],
  ['POST', '/api/address', {}, '{}', 403],
  ['POST', '/api/address', { origin: 'http://127.0.0.1:4920' }, '{}', 403],
  ['POST', '/api/address', { 'sec-fetch-site': 'same-site', origin: EMPTY }, '{}', 403],
  ['POST', '/api/address', { 'sec-fetch-site': 'none' }, '{}', 403],
  ['POST', '/api/address', OURS, '{}', 400],
  ['POST', '/api/address', { 'sec-fetch-site': 'same-origin' }, '{}', 400],
  ['POST', '/api/outside/brackwater/v1/orders', {}, '{}', 403],
  ['POST', '/api/outside/brackwater/v1/orders', OURS, LONG, 413],
  ['POST', '/api/outside/brackwater/v1/orders', { ...OURS, 'content-length': '300000000' }, undefined, 413],
  // A file goes through; the service says no, as nobody is signed in.
  ['POST', '/api/outside/pennywharf/v1/pictures', PICTURE, LONG, 401],
  [
    'POST',
    '/api/outside/pennywharf/v1/pictures',
    { ...PICTURE, 'content-length': '120000000' },
    undefined,
    413,
  ],
];

test('every request is answered as it should be, and every answer carries its policy', async () => {
  for (const [method, path, headers, body, status] of REQUESTS) {
    const answer = await ask(EMPTY, method, path, headers, body);
    const name = `${method} ${path} ${JSON.stringify(headers)}`;
    expect(`${name}: ${answer.status}`).toBe(`${name}: ${status}`);
    const policy = String(answer.headers['content-security-policy'] ?? '');
    expect(
      `${name}: ${/frame-ancestors 'none'|sandbox/.test(policy)}, ${answer.headers['x-content-type-options']}`,
    ).toBe(`${name}: true, nosniff`);
    expect(`${name}: ${policy}`).not.toMatch(/'unsafe-eval'|script-src[^;]*unsafe-inline/);
    expect(answer.headers['x-powered-by']).toBeUndefined();
  }
});

test('no page of another port can frame any of ours, and the services’ control answers nobody’s page', async ({
  page,
}) => {
  for (const path of ['/today', '/nowhere', '/_next/static/nowhere', '/api/nowhere', '/api/health']) {
    await page.route('http://127.0.0.1:4999/**', (route) =>
      route.fulfill({ contentType: 'text/html', body: `<iframe src="${EMPTY}${path}"></iframe>` }),
    );
    await page.goto('http://127.0.0.1:4999/');
    await page.waitForTimeout(300);
    expect(`${path} in a frame: ${page.frames()[1]?.url()}`).toMatch(/chrome-error:/);
    await page.unrouteAll();
  }
  for (const headers of [
    { origin: 'http://127.0.0.1:4999' },
    { 'sec-fetch-site': 'cross-site' },
    { host: 'rebound.example' },
  ] as Record<string, string>[])
    expect(
      (
        await ask(
          BRACKWATER,
          'POST',
          '/control/pace',
          { ...headers, 'content-type': 'application/json' },
          '{}',
        )
      ).status,
    ).toBe(421);
});

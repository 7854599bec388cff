/** @jest-environment node */
import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { createServer, request, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { Feeds } from '../src/server/feeds';

const SECRET = 'a'.repeat(40);
let folder: string;
let server: Server;
let origin: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'sampan-feeds-'));
  const feeds = new Feeds(folder, () => Date.parse('2026-12-02T08:00:00Z'));
  server = createServer((req, res) => {
    feeds.answer(req, res).then((known) => known || res.writeHead(404).end());
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterEach(async () => {
  server.closeAllConnections();
  await new Promise((done) => server.close(done));
  await rm(folder, { recursive: true, force: true });
});

const QUERY = 'name=lamps.csv&type=text%2Fcsv%3B+charset%3Dutf-8&made=2026-12-02T06%3A00%3A00.000Z';
const put = (text: string, secret = SECRET, query = QUERY) =>
  fetch(`${origin}/api/feeds/${secret}?${query}`, { method: 'PUT', body: text });
const at = (secret = SECRET, name = 'lamps.csv') => `${origin}/feeds/${secret}/${name}`;
/** Without what fetch adds and unpacks by itself. */
const ask = (headers: Record<string, string>, method = 'GET', url = at()) =>
  new Promise<{ status: number; headers: Record<string, unknown>; body: Buffer }>((done, fail) => {
    const req = request(url, { method, headers }, (res) => {
      const pieces: Buffer[] = [];
      res.on('data', (piece: Buffer) => pieces.push(piece));
      res.on('end', () =>
        done({ status: res.statusCode!, headers: res.headers, body: Buffer.concat(pieces) }),
      );
    });
    req.on('error', fail);
    req.end();
  });

const TEXT = `id,title\r\n${Array.from({ length: 400 }, (_, k) => `DD-${k},Torch ${k}`).join('\r\n')}\r\n`;

test('a feed is served as it came: whole, by range, zipped, not again where it is known', async () => {
  expect((await put(TEXT)).status).toBe(204);
  const whole = await ask({});
  expect([whole.status, whole.body.toString()]).toEqual([200, TEXT]);
  expect(whole.headers).toMatchObject({
    'content-type': 'text/csv; charset=utf-8',
    'last-modified': 'Wed, 02 Dec 2026 06:00:00 GMT',
    age: '7200',
    'content-length': String(TEXT.length),
  });
  const zipped = await ask({ 'accept-encoding': 'br, gzip;q=0.5' });
  expect(zipped.headers['content-encoding']).toBe('gzip');
  expect(zipped.body.length).toBeLessThan(TEXT.length / 2);
  expect(gunzipSync(zipped.body).toString()).toBe(TEXT);
  expect(
    (await ask({ 'accept-encoding': 'gzip;q=0, identity' })).headers['content-encoding'],
  ).toBeUndefined();

  const etag = String(whole.headers.etag);
  expect((await ask({ 'if-none-match': etag })).status).toBe(304);
  expect((await ask({ 'if-none-match': `W/${etag}` })).status).toBe(304);
  // The zipped one is another representation.
  expect(zipped.headers.etag).not.toBe(etag);
  expect((await ask({ 'if-none-match': String(zipped.headers.etag) })).status).toBe(200);
  expect((await ask({ 'if-modified-since': 'Wed, 02 Dec 2026 06:00:00 GMT' })).status).toBe(304);
  expect((await ask({ 'if-modified-since': 'Wed, 02 Dec 2026 05:59:59 GMT' })).status).toBe(200);

  const part = await ask({ range: 'bytes=3-7' });
  expect([part.status, part.body.toString()]).toEqual([206, TEXT.slice(3, 8)]);
  expect(part.headers['content-range']).toBe(`bytes 3-7/${TEXT.length}`);
  expect((await ask({ range: 'bytes=-5' })).body.toString()).toBe(TEXT.slice(-5));
  expect((await ask({ range: `bytes=${TEXT.length - 2}-` })).body.toString()).toBe(TEXT.slice(-2));
  expect((await ask({ range: `bytes=${TEXT.length}-` })).status).toBe(416);
  expect((await ask({ range: 'bytes=0-3', 'if-range': '"other"' })).status).toBe(200);
  const head = await ask({}, 'HEAD');
  expect([head.status, head.body.length, head.headers['content-length']]).toEqual([
    200,
    0,
    String(TEXT.length),
  ]);
});

test('a wrong secret, name or address gets nothing; who fetched it is told to the seller alone', async () => {
  await put(TEXT);
  for (const url of [
    at('b'.repeat(40)),
    at(SECRET, 'lamps.xml'),
    at('short'),
    at('..'),
    at(SECRET, '..%2f..'),
  ])
    expect((await ask({}, 'GET', url)).status).toBe(404);
  await ask({ 'user-agent': 'Lantern Finder 3' });
  const told = await fetch(`${origin}/api/feeds/${SECRET}`).then((r) => r.json());
  expect(told).toMatchObject({ bytes: TEXT.length, made: '2026-12-02T06:00:00.000Z' });
  expect(told.fetched[0]).toEqual({ at: '2026-12-02T08:00:00.000Z', agent: 'Lantern Finder 3', status: 200 });
  expect(
    (await fetch(`${origin}/api/feeds/${SECRET}`, { headers: { 'sec-fetch-site': 'cross-site' } })).status,
  ).toBe(403);
  // Neither the secret nor a way out of the folder stands in a name there.
  expect((await readdir(folder)).join()).not.toContain(SECRET);
});

test('while a new one comes in, or is cut off, the one of before is served; of many at once the last stands whole', async () => {
  await put(TEXT);
  const half = request(`${origin}/api/feeds/${SECRET}?${QUERY}`, {
    method: 'PUT',
    headers: { 'content-length': '100000' },
  });
  half.on('error', () => {});
  half.write('id,title\r\nhalf of it');
  await new Promise((done) => setTimeout(done, 50));
  expect((await ask({})).body.toString()).toBe(TEXT);
  half.destroy();
  const next = `${TEXT}DD-900,One more\r\n`;
  expect((await put(next)).status).toBe(204);
  expect((await ask({})).body.toString()).toBe(next);
  const many = Array.from({ length: 10 }, (_, k) => `id\r\n${String(k).repeat(2_000)}\r\n`);
  const [answers] = await Promise.all([
    Promise.all(Array.from({ length: 10 }, () => ask({}))),
    Promise.all(many.map((text) => put(text))),
  ]);
  for (const { status, body } of answers) {
    if (status === 503) continue;
    expect([next, ...many]).toContain(body.toString());
  }
  expect(many).toContain((await ask({})).body.toString());
  // Nothing of the others is left behind.
  expect((await readdir(folder)).length).toBe(3);
});

test('what is no feed is refused, and one that was removed answers no more', async () => {
  expect((await put(TEXT, SECRET, QUERY.replace('csv%3B', 'html%3B'))).status).toBe(422);
  expect((await put(TEXT, SECRET, QUERY.replace('lamps.csv', '..%2Fx'))).status).toBe(422);
  expect((await put(TEXT, 'short')).status).toBe(404);
  await put(TEXT);
  await fetch(`${origin}/api/feeds/${SECRET}/removed`, { method: 'PUT', body: '{}' });
  expect((await ask({})).status).toBe(404);
  expect(await readdir(folder)).toEqual([]);
});

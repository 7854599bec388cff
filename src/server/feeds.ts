import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { createGzip } from 'node:zlib';
import { type Refusal, refuse } from './gate';

/** What is kept of a feed beside its bytes. */
interface Kept {
  /** Of the bytes that stand now: files of before go when these do. */
  readonly generation: string;
  readonly type: string;
  readonly name: string;
  /** When it was made, ISO 8601. */
  readonly made: string;
  readonly bytes: number;
  /** SHA-256 of the bytes. */
  readonly hash: string;
}

/** Who fetched a feed, newest first. */
export interface Fetched {
  readonly at: string;
  /** What the reader calls itself. */
  readonly agent: string;
  readonly status: number;
}

/** What the server tells of a feed that it serves. */
export interface ServedFeed {
  readonly made: string;
  readonly bytes: number;
  readonly fetched: readonly Fetched[];
}

const MOST_FETCHED = 20;
/** A part of an address that nobody guesses: the seller's browser makes it. */
const SECRET = /^[A-Za-z0-9]{32,80}$/;
const NAME = /^[\w.-]{1,120}$/;
const TYPES =
  /^(text\/(csv|tab-separated-values|plain)|application\/(rss\+xml|xml|json|x-ndjson|ld\+json)); charset=utf-8$/;

const ADDRESS = /^\/feeds\/([^/?]+)\/([^/?]+)(?:\?.*)?$/;
const OWN = /^\/api\/feeds\/([^/?]+)(\/removed)?(?:\?(.*))?$/;

const problem = (status: number, title: string, detail: string, headers = {}): Refusal => ({
  status,
  title,
  detail,
  headers,
});

const NOT_HERE = problem(
  404,
  'No such feed',
  'There is no feed at this address, or its address was changed.',
);

/**
 * The feeds that the seller's browser made, each at an address with a secret: the last whole one is served while a new one
 * comes in, and while no browser is open. What lies in the folder is found by a hash of the secret alone.
 */
export class Feeds {
  private readonly fetched = new Map<string, Fetched[]>();
  private readonly under = new Map<string, Promise<void>>();

  constructor(
    private readonly folder: string,
    private readonly clock: () => number = Date.now,
  ) {}

  /** Answers what is asked of feeds. @returns whether it was */
  async answer(request: IncomingMessage, response: ServerResponse): Promise<boolean> {
    const { url = '', method = 'GET' } = request;
    const [, secret, name] = ADDRESS.exec(url) ?? [];
    if (secret !== undefined && name !== undefined) {
      await this.serve(secret, decodeURIComponent(name), request, response);
      return true;
    }
    const own = OWN.exec(url);
    if (!own) return false;
    if (!SECRET.test(own[1]!)) refuse(response, NOT_HERE);
    else if (method === 'GET' || method === 'HEAD') await this.tell(own[1]!, request, response);
    else if (own[2]) await this.remove(own[1]!, response);
    else await this.take(own[1]!, new URLSearchParams(own[3] ?? ''), request, response);
    return true;
  }

  private idOf(secret: string): string {
    return createHash('sha256').update(secret).digest('hex').slice(0, 40);
  }

  private async kept(id: string): Promise<Kept | null> {
    try {
      return JSON.parse(await readFile(join(this.folder, `${id}.json`), 'utf8')) as Kept;
    } catch {
      return null;
    }
  }

  /** Takes a feed in; what stands there stays until all of it is written. */
  private async take(
    secret: string,
    params: URLSearchParams,
    request: IncomingMessage,
    response: ServerResponse,
  ): Promise<void> {
    const [name, type, made] = [params.get('name') ?? '', params.get('type') ?? '', params.get('made') ?? ''];
    if (!NAME.test(name) || !TYPES.test(type) || Number.isNaN(Date.parse(made))) {
      refuse(response, problem(422, 'Not a feed', 'A feed has a plain name, a known type and a time.'));
      return;
    }
    const id = this.idOf(secret);
    // One after the other: two tabs may make the same feed.
    const before = this.under.get(id) ?? Promise.resolve();
    const own = before.catch(() => {}).then(() => this.write(id, { name, type, made }, request, response));
    this.under.set(id, own);
    await own;
  }

  private async write(
    id: string,
    { name, type, made }: Pick<Kept, 'name' | 'type' | 'made'>,
    request: IncomingMessage,
    response: ServerResponse,
  ): Promise<void> {
    await mkdir(this.folder, { recursive: true });
    const last = await this.kept(id);
    const generation = createHash('sha256')
      .update(`${made} ${this.clock()} ${last?.generation}`)
      .digest('hex')
      .slice(0, 16);
    const plain = join(this.folder, `${id}.${generation}`);
    try {
      const hash = createHash('sha256');
      let bytes = 0;
      request.on('data', (piece: Buffer) => {
        hash.update(piece);
        bytes += piece.length;
      });
      await pipeline(request, createWriteStream(plain));
      if (Number(request.headers['content-length'] ?? bytes) !== bytes) throw new Error('cut off');
      await pipeline(createReadStream(plain), createGzip(), createWriteStream(`${plain}.gz`));
      const kept: Kept = { generation, type, name, made, bytes, hash: hash.digest('hex') };
      // A name is changed as one: whoever asks meanwhile gets the one of before or this one, whole.
      await writeFile(join(this.folder, `${id}.json.new`), JSON.stringify(kept));
      await rename(join(this.folder, `${id}.json.new`), join(this.folder, `${id}.json`));
    } catch {
      await this.drop(id, generation);
      if (!response.headersSent)
        refuse(
          response,
          problem(400, 'Cut off', 'The feed did not come whole; the one of before is served.'),
        );
      return;
    }
    if (last) await this.drop(id, last.generation);
    response.writeHead(204, { 'cache-control': 'no-store' }).end();
  }

  private async drop(id: string, generation: string): Promise<void> {
    for (const ending of ['', '.gz'])
      await rm(join(this.folder, `${id}.${generation}${ending}`), { force: true });
  }

  private async remove(secret: string, response: ServerResponse): Promise<void> {
    const id = this.idOf(secret);
    const kept = await this.kept(id);
    await rm(join(this.folder, `${id}.json`), { force: true });
    if (kept) await this.drop(id, kept.generation);
    this.fetched.delete(id);
    response.writeHead(204, { 'cache-control': 'no-store' }).end();
  }

  /** Tells a page of Sampan what is served and who fetched it. */
  private async tell(secret: string, request: IncomingMessage, response: ServerResponse): Promise<void> {
    // A page of somebody else's has no business with it.
    if ((request.headers['sec-fetch-site'] ?? 'same-origin') !== 'same-origin')
      return refuse(response, problem(403, 'Not from here', 'Only a page of Sampan itself may ask.'));
    const id = this.idOf(secret);
    const kept = await this.kept(id);
    if (!kept) return refuse(response, NOT_HERE);
    const told: ServedFeed = {
      ...{ made: kept.made, bytes: kept.bytes },
      fetched: this.fetched.get(id) ?? [],
    };
    response.writeHead(200, { 'content-type': 'application/json', 'cache-control': 'no-store' });
    response.end(JSON.stringify(told));
  }

  private async serve(
    secret: string,
    name: string,
    request: IncomingMessage,
    response: ServerResponse,
  ): Promise<void> {
    const id = this.idOf(secret);
    const kept = SECRET.test(secret) ? await this.kept(id) : null;
    if (!kept || kept.name !== name) return refuse(response, NOT_HERE);
    const note = (status: number) => {
      const agent = (request.headers['user-agent'] ?? 'unnamed').slice(0, 120);
      const one: Fetched = { at: new Date(this.clock()).toISOString(), agent, status };
      this.fetched.set(id, [one, ...(this.fetched.get(id) ?? [])].slice(0, MOST_FETCHED));
    };
    const zipped = acceptsGzip(request.headers['accept-encoding']) && !request.headers.range;
    const etag = zipped ? `"${kept.hash.slice(0, 32)}-gz"` : `"${kept.hash.slice(0, 32)}"`;
    const headers: Record<string, string> = {
      'content-type': kept.type,
      etag,
      'last-modified': new Date(kept.made).toUTCString(),
      age: String(Math.max(0, Math.round((this.clock() - Date.parse(kept.made)) / 1000))),
      'cache-control': 'no-cache',
      vary: 'accept-encoding',
      'accept-ranges': 'bytes',
      'x-robots-tag': 'noindex',
      'cross-origin-resource-policy': 'cross-origin',
    };
    if (isFresh(request, etag, kept.made)) {
      note(304);
      response.writeHead(304, headers).end();
      return;
    }
    const plain = join(this.folder, `${id}.${kept.generation}`);
    const path = zipped ? `${plain}.gz` : plain;
    const size = await stat(path).then(
      (s) => s.size,
      () => -1,
    );
    // Another one took its place between the two looks: it is there when it is asked for again.
    if (size < 0)
      return refuse(response, problem(503, 'Just being replaced', 'Ask again.', { 'retry-after': '1' }));
    const range = rangeOf(request, etag, kept.made, size);
    if (range === 'none') {
      note(416);
      return refuse(
        response,
        problem(416, 'No such range', `It has ${size} bytes.`, { 'content-range': `bytes */${size}` }),
      );
    }
    const [from, to] = range ?? [0, size - 1];
    if (zipped) headers['content-encoding'] = 'gzip';
    headers['content-length'] = String(to - from + 1);
    if (range) headers['content-range'] = `bytes ${from}-${to}/${size}`;
    note(range ? 206 : 200);
    response.writeHead(range ? 206 : 200, headers);
    if (request.method === 'HEAD' || size === 0) response.end();
    else
      await pipeline(createReadStream(path, { start: from, end: to }), response).catch(() =>
        response.destroy(),
      );
  }
}

/** Whether a reader takes gzip: RFC 9110, 12.5.3. */
function acceptsGzip(header: string | string[] | undefined): boolean {
  const parts = String(header ?? '')
    .toLowerCase()
    .split(',');
  const of = (coding: string) => {
    for (const part of parts) {
      const [name = '', ...params] = part.trim().split(';');
      if (name.trim() !== coding) continue;
      const q = params.map((p) => /^\s*q=([\d.]+)/.exec(p)?.[1]).find((one) => one !== undefined);
      return q === undefined || Number(q) > 0;
    }
    return null;
  };
  return of('gzip') ?? of('*') ?? false;
}

/** Whether a reader has it already: RFC 9110, 13.2.2. A tag goes before a time. */
function isFresh({ headers }: IncomingMessage, etag: string, made: string): boolean {
  const tags = headers['if-none-match'];
  if (tags !== undefined)
    return tags.split(',').some((tag) => tag.trim() === '*' || tag.trim().replace(/^W\//, '') === etag);
  const since = Date.parse(headers['if-modified-since'] ?? '');
  return !Number.isNaN(since) && Math.floor(Date.parse(made) / 1000) * 1000 <= since;
}

/** The one range that is asked for, both ends included; null for all of it: RFC 9110, 14. Several are answered with all. */
function rangeOf(
  { headers }: IncomingMessage,
  etag: string,
  made: string,
  size: number,
): readonly [number, number] | 'none' | null {
  const [, first, last] = /^bytes=(\d*)-(\d*)$/.exec(headers.range ?? '') ?? [];
  if (first === undefined || last === undefined || (first === '' && last === '')) return null;
  const when = headers['if-range'];
  if (when !== undefined && when !== etag && when !== new Date(made).toUTCString()) return null;
  const from = first === '' ? Math.max(0, size - Number(last)) : Number(first);
  const to = first === '' || last === '' ? size - 1 : Math.min(Number(last), size - 1);
  if (first === '' && Number(last) === 0) return 'none';
  return from < size && from <= to ? [from, to] : 'none';
}

import { Readable } from 'node:stream';
import { type Allowed, Forbidden, fetchOutside } from '../../../connect/outside';

export const dynamic = 'force-dynamic';

const LARGEST = 500_000_000;
const LARGEST_PICTURE = 10_000_000;

const problem = (status: number, title: string, detail: string) =>
  Response.json(
    { type: 'about:blank', title, status, detail },
    { status, headers: { 'content-type': 'application/problem+json' } },
  );

const listed = (name: string) => (process.env[name] ?? '').split(/[\s,]+/).filter(Boolean);
const allowed = (): Allowed => ({
  hosts: listed('SAMPAN_LIST_HOSTS'),
  inside: listed('SAMPAN_LIST_INSIDE'),
  standIns: Object.fromEntries(listed('SAMPAN_LIST_STAND_INS').map((pair) => pair.split('=', 2))),
});

function limited(stream: ReadableStream<Uint8Array>, most: number): ReadableStream<Uint8Array> {
  let size = 0;
  return stream.pipeThrough(
    new TransformStream({
      transform(piece, controller) {
        size += piece.byteLength;
        if (size > most) controller.error(new Error('too large'));
        else controller.enqueue(piece);
      },
    }),
  );
}

/** Goes to an address of the outside under the server's rules. Only pages of Sampan itself may ask. */
async function go(
  request: Request,
  url: string,
  headers: Record<string, string>,
  most: number,
  type: RegExp | null,
): Promise<Response> {
  const site = request.headers.get('sec-fetch-site');
  if (site && site !== 'same-origin' && site !== 'none')
    return problem(403, 'Not from here', 'Addresses are fetched for Sampan itself alone.');
  try {
    const { answer } = await fetchOutside(url, headers, allowed());
    const status = answer.statusCode ?? 502;
    if (status === 304) {
      answer.resume();
      return new Response(null, { status: 304 });
    }
    if (status >= 400) {
      answer.resume();
      return problem(
        status >= 500 ? 503 : status === 429 ? 429 : 424,
        'The address refused',
        `The address answered ${status}${status === 404 ? ': there is nothing there (any more)' : status === 401 || status === 403 ? ': it wants a sign-in' : ''}.`,
      );
    }
    const size = Number(answer.headers['content-length'] ?? 0);
    const kind = String(answer.headers['content-type'] ?? 'application/octet-stream');
    if (size > most || (type && !type.test(kind))) {
      answer.destroy();
      return size > most
        ? problem(
            413,
            'Too large',
            `It has ${Math.round(size / 1_000_000)} MB, up to ${most / 1_000_000} MB are fetched.`,
          )
        : problem(415, 'Not a picture', `It sent ${kind.slice(0, 60)} for a picture.`);
    }
    const back = new Headers({
      'content-type': type ? kind : 'application/octet-stream',
      'x-content-type-options': 'nosniff',
      'content-security-policy': "sandbox; default-src 'none'; style-src 'unsafe-inline'",
    });
    for (const name of ['etag', 'last-modified'] as const)
      if (answer.headers[name]) back.set(name, String(answer.headers[name]));
    if (type) back.set('cache-control', 'private, max-age=86400');
    return new Response(limited(Readable.toWeb(answer) as ReadableStream<Uint8Array>, most), {
      headers: back,
    });
  } catch (error) {
    if (error instanceof Forbidden) return problem(403, 'Not fetched', error.message);
    const cause = error as NodeJS.ErrnoException;
    if (cause.message === 'timeout') return problem(504, 'No answer', 'The address did not answer in time.');
    return problem(
      502,
      'Not reached',
      cause.code === 'ENOTFOUND'
        ? 'There is no host of this name.'
        : 'The address cannot be reached, or broke the connection off.',
    );
  }
}

/** Fetches a list: `{ url, etag?, modified? }`. */
export async function POST(request: Request): Promise<Response> {
  const body = (await request.json().catch(() => null)) as {
    url?: unknown;
    etag?: unknown;
    modified?: unknown;
  } | null;
  if (typeof body?.url !== 'string' || body.url.length > 2000)
    return problem(400, 'No address', 'Name the address to fetch.');
  const headers: Record<string, string> = {};
  const plain = (v: unknown): v is string =>
    typeof v === 'string' && v.length < 300 && /^[\x20-\x7e]+$/.test(v);
  if (plain(body.etag)) headers['if-none-match'] = body.etag;
  if (plain(body.modified)) headers['if-modified-since'] = body.modified;
  return go(request, body.url, headers, LARGEST, null);
}

/** A picture at an address of a list. */
export async function GET(request: Request): Promise<Response> {
  const url = new URL(request.url).searchParams.get('picture') ?? '';
  return go(request, url.slice(0, 2000), {}, LARGEST_PICTURE, /^image\/(png|jpeg|webp|gif|avif|svg\+xml)\b/);
}

import type { IncomingMessage, ServerResponse } from 'node:http';

/** What was said no to, as an answer. */
export interface Refusal {
  readonly status: number;
  readonly title: string;
  readonly detail: string;
  readonly headers?: Readonly<Record<string, string>>;
}

/** Bytes of a body in JSON that comes in: as much as any request of Sampan has, twice. */
export const LARGEST_BODY = 2_000_000;
/** Bytes of a file on its way to a service: it goes through piece by piece. */
export const LARGEST_UPLOAD = 100_000_000;
const FILES = /^(image\/[\w.+-]+|application\/(pdf|octet-stream))\s*(;|$)/i;

const largestOf = (request: IncomingMessage): number =>
  FILES.test(request.headers['content-type'] ?? '') ? LARGEST_UPLOAD : LARGEST_BODY;

const tooLarge = (largest: number): Refusal => ({
  status: 413,
  title: 'Too large',
  detail: `A body of this kind has at most ${largest / 1_000_000} MB.`,
});

/** Doors that take bodies; pages do not. */
const TAKES_BODIES = /^\/api\/(outside|address|feeds)(\/|$)/;
const CHANGES = new Set(['POST', 'PUT', 'PATCH']);
const READS = new Set(['GET', 'HEAD']);

const LOOPBACK = new Set(['127.0.0.1', 'localhost', '::1']);

/**
 * Whether a request names the server it was meant for: this machine. A name of somebody else's that leads here (a rebound
 * one) is not ours.
 */
export function isOurHost(header: string | undefined, port: number): boolean {
  const match = /^(\[[0-9a-f:.]+\]|[\w.-]+)(?::(\d{1,5}))?$/i.exec(header ?? '');
  if (!match || Number(match[2] ?? 80) !== port) return false;
  return LOOPBACK.has(match[1]!.replace(/^\[|\]$/g, '').toLowerCase());
}

/**
 * Whether a page of Sampan itself asks: a browser says so by one of two headers, and a request that says
 * neither is nobody's.
 */
function isOurPage(request: IncomingMessage): boolean {
  const site = request.headers['sec-fetch-site'];
  const { origin } = request.headers;
  if (site !== undefined) return site === 'same-origin';
  return origin === `http://${request.headers.host}` || origin === `https://${request.headers.host}`;
}

/** Whether an address can be read: each escape is one of UTF-8, and none hides a zero or a way up. */
function isReadable(url: string): boolean {
  const [path = ''] = url.split('?', 1);
  if (!path.startsWith('/')) return false;
  try {
    const plain = decodeURIComponent(path);
    // biome-ignore lint/suspicious/noControlCharactersInRegex: control characters are what is looked for
    return !/[\u0000-\u001f\u007f\\]|(^|\/)\.\.(\/|$)/.test(plain);
  } catch {
    return false;
  }
}

/** What of a request is refused before anything looks at it; null where nothing is. */
export function refusalOf(request: IncomingMessage, port: number): Refusal | null {
  const { method = 'GET', url = '/', headers } = request;
  if (!isOurHost(headers.host, port))
    return {
      status: 421,
      title: 'Not this host',
      detail: 'This server was not started for that name. Open it by the address it printed.',
    };
  if (!isReadable(url))
    return {
      status: 400,
      title: 'The address cannot be read',
      detail: 'An escape in it is not one of UTF-8, or leads elsewhere.',
    };
  if (READS.has(method)) return null;
  const [path = ''] = url.split('?', 1);
  const takes = TAKES_BODIES.test(path);
  if (!CHANGES.has(method) || !takes)
    return {
      status: 405,
      title: 'Not done here',
      detail: `${method} is not answered at this address.`,
      headers: { allow: takes ? 'GET, HEAD, POST, PUT, PATCH' : 'GET, HEAD' },
    };
  if (!isOurPage(request))
    return {
      status: 403,
      title: 'Not from here',
      detail: 'What changes something must come from a page of Sampan itself.',
    };
  const largest = largestOf(request);
  if (Number(headers['content-length'] ?? 0) > largest) return tooLarge(largest);
  return null;
}

/**
 * Policy of answers that are no pages of ours (those have a nonce, see `proxy.ts`): scripts among them are
 * those of workers, whose policy is their own.
 */
const POLICY =
  "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self'; font-src 'self'; img-src 'self'; connect-src 'self'; worker-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'";

const ALWAYS: Readonly<Record<string, string>> = {
  'content-security-policy': POLICY,
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'no-referrer',
  'cross-origin-resource-policy': 'same-origin',
};

/** Puts what every answer carries onto an answer, where its maker said nothing of its own. */
export function guard(response: ServerResponse): void {
  const writeHead = response.writeHead.bind(response) as (...args: unknown[]) => ServerResponse;
  response.writeHead = ((status: number, ...rest: unknown[]) => {
    const given = rest.find((part) => typeof part === 'object' && part !== null && !Array.isArray(part)) as
      | Record<string, unknown>
      | undefined;
    const named = new Set(Object.keys(given ?? {}).map((name) => name.toLowerCase()));
    for (const [name, value] of Object.entries(ALWAYS))
      if (!response.hasHeader(name) && !named.has(name)) response.setHeader(name, value);
    return writeHead(status, ...rest);
  }) as ServerResponse['writeHead'];
}

export function refuse(response: ServerResponse, { status, title, detail, headers }: Refusal): void {
  response.writeHead(status, {
    'content-type': 'application/problem+json',
    'cache-control': 'no-store',
    connection: 'close',
    ...headers,
  });
  response.end(JSON.stringify({ type: 'about:blank', title, status, detail }));
}

/** Ends a request whose body grows beyond the limit, whatever length it stated. */
export function limitBody(request: IncomingMessage, response: ServerResponse): void {
  let size = 0;
  const largest = largestOf(request);
  const push = request.push.bind(request);
  request.push = (chunk: Buffer | null, encoding?: BufferEncoding) => {
    size += chunk?.length ?? 0;
    if (size <= largest) return push(chunk, encoding);
    if (!response.headersSent) refuse(response, tooLarge(largest));
    request.destroy();
    return false;
  };
}

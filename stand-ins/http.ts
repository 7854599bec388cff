import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { type Answer, type Handler, problem, type Request } from './answer';
import type { Faults } from './faults';

const LARGEST_BODY = 2_000_000;

const LARGEST_FILE = 100_000_000;
const FILES = /^(image\/|application\/(pdf|octet-stream))/;

/** The bytes of a file, as a Buffer. */
async function readFile(message: IncomingMessage): Promise<Buffer> {
  const pieces: Buffer[] = [];
  let size = 0;
  for await (const piece of message as AsyncIterable<Buffer>) {
    size += piece.length;
    if (size > LARGEST_FILE) throw new RangeError('too large');
    pieces.push(piece);
  }
  return Buffer.concat(pieces);
}

async function read(message: IncomingMessage): Promise<unknown> {
  if (FILES.test(message.headers['content-type'] ?? '')) return readFile(message);
  let text = '';
  for await (const piece of message) {
    text += piece;
    if (text.length > LARGEST_BODY) throw new RangeError('too large');
  }
  if (!text) return null;
  return message.headers['content-type']?.startsWith('application/x-www-form-urlencoded')
    ? Object.fromEntries(new URLSearchParams(text))
    : JSON.parse(text);
}

const LOOPBACK = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

/**
 * Whether a request names this machine, and what changes something comes from no page of another site. Pages
 * of the service itself are its consent alone.
 */
function isOurs(message: IncomingMessage): boolean {
  const { host, origin } = message.headers;
  if (!LOOPBACK.test(host ?? '')) return false;
  const site = message.headers['sec-fetch-site'];
  const foreign =
    (site !== undefined && site !== 'same-origin' && site !== 'none') ||
    (origin !== undefined && origin !== `http://${host}`);
  return message.method === 'GET' || message.method === 'HEAD' || !foreign;
}

/**
 * A small HTTP service with faults that can be provoked. `control` answers below `/control` and is never
 * faulted.
 * @param done called after every request that changed something, before the answer goes out, so that what
 *   was answered is also kept
 */
export function serve(handle: Handler, control: Handler, faults: Faults, done: () => void): Server {
  const server = createServer(async (message, response) => {
    if (!isOurs(message))
      return send(response, problem({ status: 421, title: 'Not this host, or not from here' }));
    const url = new URL(message.url ?? '/', 'http://service');
    let request: Request;
    try {
      request = {
        method: message.method ?? 'GET',
        path: url.pathname,
        query: url.searchParams,
        headers: message.headers,
        body: await read(message),
      };
    } catch {
      return send(
        response,
        problem({
          status: 400,
          type: 'urn:wire:unreadable',
          title: 'The body cannot be read',
          detail: 'It must be JSON of at most 2 MB, or a file of at most 100 MB.',
        }),
      );
    }
    if (request.path.startsWith('/control')) {
      const answer = control(request) ?? problem({ status: 404, title: 'Nothing here' });
      done();
      return send(response, answer);
    }
    const fate = faults.fate(request);
    if (fate.wait) await new Promise((resolve) => setTimeout(resolve, fate.wait));
    if (fate.before === 'drop') return void response.destroy();
    if (fate.before) return send(response, fate.before);
    let answer: Answer;
    try {
      answer =
        handle(request) ??
        problem({ status: 404, title: 'Nothing here', detail: `${request.method} ${request.path}` });
    } catch (error) {
      answer = problem({ status: 500, title: 'The service failed', detail: String(error) });
    }
    if (request.method !== 'GET') done();
    if (fate.lose) return void response.destroy();
    if (fate.instead) return send(response, fate.instead);
    send(response, fate.spoil ? fate.spoil(answer) : answer);
  });
  server.keepAliveTimeout = 2_000;
  return server;
}

function send(response: ServerResponse, answer: Answer): void {
  const bytes = Buffer.isBuffer(answer.body) ? answer.body : null;
  const json = typeof answer.body === 'object' && !bytes;
  response.writeHead(answer.status, {
    ...(json && { 'content-type': 'application/json' }),
    'cache-control': 'no-store',
    ...answer.headers,
  });
  response.end(
    answer.body === undefined
      ? undefined
      : (bytes ?? (json ? JSON.stringify(answer.body) : String(answer.body))),
  );
}

/** Listens on this machine only and tells the origin. */
export function listen(server: Server, port: number): Promise<string> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', () =>
      resolve(`http://127.0.0.1:${(server.address() as AddressInfo).port}`),
    );
  });
}

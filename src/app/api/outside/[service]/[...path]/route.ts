import { knownServices } from '../../../../services';

export const dynamic = 'force-dynamic';

const PASSED_ON = ['authorization', 'content-type', 'accept', 'idempotency-key', 'if-none-match'];
const PASSED_BACK = ['content-type', 'etag', 'retry-after'];
const PATIENCE = 12_000;
/** A file is passed on while it comes in. */
const UPLOAD_PATIENCE = 110_000;
const LARGEST = 8_000_000;

const problem = (status: number, title: string, detail: string) =>
  Response.json(
    { type: 'about:blank', title, status, detail },
    { status, headers: { 'content-type': 'application/problem+json' } },
  );

/** Cuts an answer off that grows too large, so that no service can fill the memory of server or browser. */
function limited(body: ReadableStream<Uint8Array>): ReadableStream<Uint8Array> {
  let size = 0;
  return body.pipeThrough(
    new TransformStream({
      transform(piece, controller) {
        size += piece.byteLength;
        if (size > LARGEST) controller.error(new Error('too large'));
        else controller.enqueue(piece);
      },
    }),
  );
}

/**
 * The only way from the browser to the outside: to services this server knows, with few headers each way, no
 * redirects, and limits of time and size. A page of another site cannot use it: requests that change
 * something must come from this origin.
 */
async function pass(
  request: Request,
  context: { params: Promise<{ service: string; path: string[] }> },
): Promise<Response> {
  const { service: id } = await context.params;
  const service = knownServices().find((s) => s.id === id);
  if (!service) return problem(404, 'Unknown service', 'This server does not know that service.');
  const site = request.headers.get('sec-fetch-site');
  if (site && site !== 'same-origin' && site !== 'none')
    return problem(403, 'Not from here', 'Requests to the outside must come from Sampan itself.');
  const asked = new URL(request.url);
  // As it came, without the service's name, however that was escaped.
  const path = asked.pathname.replace(/^\/api\/outside\/[^/]+/, '');
  const target = new URL(service.origin);
  target.pathname = path;
  target.search = asked.search;
  const headers = new Headers();
  for (const name of PASSED_ON) {
    const value = request.headers.get(name);
    if (value) headers.set(name, value);
  }
  const reads = request.method === 'GET' || request.method === 'HEAD';
  const isFile = !reads && !/json|text\/|urlencoded/.test(request.headers.get('content-type') ?? 'json');
  const body = reads ? undefined : isFile ? request.body : await request.text();
  const patience = isFile ? UPLOAD_PATIENCE : PATIENCE;
  let answer: Response;
  try {
    answer = await fetch(target, {
      method: request.method,
      headers,
      body,
      ...(isFile && { duplex: 'half' }),
      redirect: 'error',
      cache: 'no-store',
      signal: AbortSignal.timeout(patience),
    } as RequestInit);
  } catch (error) {
    const late = error instanceof Error && error.name === 'TimeoutError';
    return late
      ? problem(504, 'No answer', `${service.name} did not answer within ${patience / 1000} seconds.`)
      : problem(502, 'Not reached', `${service.name} cannot be reached, or broke the connection off.`);
  }
  const length = Number(answer.headers.get('content-length') ?? 0);
  if (length > LARGEST) {
    await answer.body?.cancel();
    return problem(
      413,
      'Too large',
      `${service.name} sent ${Math.round(length / 1_000_000)} MB, at most ${LARGEST / 1_000_000} MB are read.`,
    );
  }
  const back = new Headers({
    'x-content-type-options': 'nosniff',
    'content-security-policy': "sandbox; default-src 'none'; style-src 'unsafe-inline'",
  });
  for (const name of PASSED_BACK) {
    const value = answer.headers.get(name);
    if (value) back.set(name, value);
  }
  const type = answer.headers.get('content-type') ?? '';
  if (path.startsWith('/pictures/')) {
    if (!/^image\/(png|jpeg|webp|gif|avif|svg\+xml)\b/.test(type))
      return problem(415, 'Not a picture', `${service.name} sent ${type.slice(0, 60)} for a picture.`);
    back.set('cache-control', 'private, max-age=86400');
  } else if (answer.body && !/json/.test(type))
    return problem(
      502,
      'Not readable',
      `${service.name} sent ${type.slice(0, 60) || 'something without a type'} instead of JSON.`,
    );
  return new Response(answer.status === 304 || !answer.body ? null : limited(answer.body), {
    status: answer.status,
    headers: back,
  });
}

export const GET = pass;
export const POST = pass;
export const PUT = pass;
export const PATCH = pass;

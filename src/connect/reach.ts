/**
 * How a service is reached: its id in the directory, a path, and what fetch takes. In the browser this goes
 * through Sampan's own server.
 */
export type Reach = (service: string, path: string, init?: RequestInit) => Promise<Response>;

/**
 * Why an answer of the outside cannot be used. `refused` is the service's own no, a problem document of the
 * contract, and final for what was asked. `stray` is a 4xx of somebody between (a proxy, a server that
 * restarts): it tells nothing of what became of the request. All but `refused` are worth another try later.
 */
export interface Trouble {
  readonly kind: 'unreachable' | 'outage' | 'limit' | 'credentials' | 'refused' | 'stray' | 'nonsense';
  readonly says: string;
  /** When the other side asked to come back, in milliseconds from now. */
  readonly retryAfter?: number;
  readonly status?: number;
  /** Of a refusal: the contract's name for it, `urn:wire:…`. */
  readonly type?: string;
  readonly errors?: readonly { readonly field: string; readonly reason: string }[];
}

export type Result<T> =
  | { readonly ok: true; readonly value: T }
  | { readonly ok: false; readonly trouble: Trouble };

export const throughServer: Reach = (service, path, init) =>
  fetch(`/api/outside/${encodeURIComponent(service)}${path}`, init);

/** No answer of the contract is longer; a page of 1,000 items has about one megabyte. */
const LARGEST_ANSWER = 8_000_000;
const PATIENCE = 15_000;
/** A file on its way takes longer. */
export const UPLOAD_PATIENCE = 120_000;
/** Types of the contract's problem documents. */
const OWN_REFUSAL = /^urn:wire:[a-z-]{1,40}$/;

export interface Answer {
  readonly status: number;
  readonly etag: string | null;
  readonly body: unknown;
}

async function readText(response: Response): Promise<string | null> {
  if (Number(response.headers.get('content-length') ?? 0) > LARGEST_ANSWER) return null;
  const reader = response.body?.getReader();
  if (!reader) return '';
  const decoder = new TextDecoder();
  let text = '';
  let size = 0;
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return text + decoder.decode();
    size += value.byteLength;
    if (size > LARGEST_ANSWER) {
      await reader.cancel();
      return null;
    }
    text += decoder.decode(value, { stream: true });
  }
}

function troubleOf(status: number, headers: Headers, body: unknown): Trouble {
  const p = (typeof body === 'object' && body !== null ? body : {}) as {
    type?: unknown;
    title?: unknown;
    detail?: unknown;
    errors?: unknown;
  };
  const text = [p.detail, p.title].find((t): t is string => typeof t === 'string' && t !== '')?.slice(0, 300);
  const errors = Array.isArray(p.errors)
    ? p.errors.flatMap((e) =>
        typeof e?.field === 'string' && typeof e?.reason === 'string'
          ? [{ field: e.field.slice(0, 60), reason: e.reason.slice(0, 300) }]
          : [],
      )
    : undefined;
  if (status === 401 || status === 403)
    return { kind: 'credentials', says: text ?? 'It does not accept our key.', status };
  if (status === 429) {
    const after = Number(headers.get('retry-after'));
    return {
      kind: 'limit',
      says: 'Too many requests.',
      retryAfter: Number.isFinite(after) ? Math.min(Math.max(after, 0), 3600) * 1000 : undefined,
      status,
    };
  }
  if (status === 502 || status === 504)
    return { kind: 'unreachable', says: text ?? 'It does not answer.', status };
  if (status >= 500) return { kind: 'outage', says: text ?? 'It is out of service.', status };
  const own =
    /^application\/problem\+json\b/i.test(headers.get('content-type') ?? '') &&
    typeof p.type === 'string' &&
    OWN_REFUSAL.test(p.type);
  if (!own)
    return {
      kind: 'stray',
      says: `The answer (${status}) is not one of the service itself; something stands between.`,
      status,
    };
  return { kind: 'refused', says: text ?? `It refused (${status}).`, status, type: p.type as string, errors };
}

/** A file of a service's, of at most so many bytes. Never throws. */
export async function askFile(
  reach: Reach,
  service: string,
  path: string,
  init: RequestInit,
  most: number,
): Promise<Result<Blob>> {
  const broken = { kind: 'unreachable', says: 'The connection broke off.' } as const;
  try {
    const response = await reach(service, path, { ...init, signal: AbortSignal.timeout(UPLOAD_PATIENCE) });
    if (!response.ok) return { ok: false, trouble: troubleOf(response.status, response.headers, null) };
    const pieces: Uint8Array<ArrayBuffer>[] = [];
    let size = 0;
    const reader = response.body?.getReader();
    for (let next = await reader?.read(); next && !next.done; next = await reader?.read()) {
      size += next.value.byteLength;
      if (size > most) {
        await reader?.cancel();
        return { ok: false, trouble: { kind: 'nonsense', says: `The file has more than ${most / 1e6} MB.` } };
      }
      pieces.push(next.value as Uint8Array<ArrayBuffer>);
    }
    return { ok: true, value: new Blob(pieces) };
  } catch {
    return { ok: false, trouble: broken };
  }
}

/** Asks once. Answers of 2xx and 304 come back parsed; everything else is a trouble. Never throws. */
export async function ask(
  reach: Reach,
  service: string,
  path: string,
  init: RequestInit = {},
  patience = PATIENCE,
): Promise<Result<Answer>> {
  let response: Response;
  let text: string | null;
  try {
    response = await reach(service, path, { ...init, signal: AbortSignal.timeout(patience) });
    text = await readText(response);
  } catch (error) {
    const late = error instanceof DOMException && error.name === 'TimeoutError';
    return {
      ok: false,
      trouble: {
        kind: 'unreachable',
        says: late ? `No answer within ${patience / 1000} seconds.` : 'The connection broke off.',
      },
    };
  }
  if (text === null)
    return {
      ok: false,
      trouble: { kind: 'nonsense', says: 'The answer is larger than 8 MB and was not read.' },
    };
  let body: unknown = null;
  try {
    if (text) body = JSON.parse(text);
  } catch {
    if (response.ok)
      return { ok: false, trouble: { kind: 'nonsense', says: 'The answer is not whole JSON.' } };
  }
  if (response.ok || response.status === 304)
    return { ok: true, value: { status: response.status, etag: response.headers.get('etag'), body } };
  return { ok: false, trouble: troubleOf(response.status, response.headers, body) };
}

import type { Result, Trouble } from './reach';

/** Fetches an address; headers are those of a conditional request (RFC 9110, section 13.1). */
export type FetchAddress = (url: string, headers: Readonly<Record<string, string>>) => Promise<Response>;

const PATIENCE = 180_000;
/** As much as a text list may have. */
const LARGEST = 500_000_000;

/** Through Sampan's own server, which looks at where the address leads before it goes there. */
export const addressThroughServer: FetchAddress = (url, headers) =>
  fetch('/api/address', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ url, ...headers }),
    signal: AbortSignal.timeout(PATIENCE),
  });

export interface Fetched {
  readonly blob: Blob;
  readonly name: string;
  readonly etag: string | null;
  readonly modified: string | null;
}

/** Asks an address for its list, if it changed. Never throws. */
export async function askAddress(
  fetchAddress: FetchAddress,
  url: string,
  etag: string | null,
  modified: string | null,
): Promise<Result<Fetched | 'unchanged'>> {
  const fail = (kind: Trouble['kind'], says: string, retryAfter?: number) =>
    ({ ok: false, trouble: { kind, says, retryAfter } }) as const;
  try {
    const response = await fetchAddress(url, { ...(etag && { etag }), ...(modified && { modified }) });
    if (response.status === 304) return { ok: true, value: 'unchanged' };
    if (!response.ok) {
      const said = (await response.text()).slice(0, 2000);
      let detail = `The address answered ${response.status}.`;
      try {
        detail = String((JSON.parse(said) as { detail?: unknown }).detail ?? detail).slice(0, 300);
      } catch {
        // Not problem details.
      }
      if (response.status === 429)
        return fail('limit', 'Too many requests.', Number(response.headers.get('retry-after') ?? 60) * 1000);
      if (response.status === 502 || response.status === 504) return fail('unreachable', detail);
      return response.status >= 500 ? fail('outage', detail) : fail('refused', detail);
    }
    const blob = await response.blob();
    if (blob.size > LARGEST)
      return fail(
        'refused',
        `The list has ${Math.round(blob.size / 1_000_000)} MB, up to ${LARGEST / 1_000_000} MB are read.`,
      );
    const name = decodeURIComponent(new URL(url).pathname.split('/').pop() || 'list');
    return {
      ok: true,
      value: {
        blob,
        name,
        etag: response.headers.get('etag'),
        modified: response.headers.get('last-modified'),
      },
    };
  } catch {
    return fail('unreachable', 'The address cannot be reached, or broke the connection off.');
  }
}

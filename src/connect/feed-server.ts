import { IsArray, IsDateString, IsInt, IsString, MaxLength, Min } from 'class-validator';
import { shaped } from './shapes';

/** What Sampan's own server tells of a feed that it serves. */
export interface ServedFeed {
  /** When what is served was made, ISO 8601. */
  readonly made: string;
  readonly bytes: number;
  /** Who fetched it, newest first. */
  readonly fetched: readonly { readonly at: string; readonly agent: string; readonly status: number }[];
}

class ServedShape {
  @IsDateString() made: string;
  @IsInt() @Min(0) bytes: number;
  @IsArray() fetched: unknown[];
}

class FetchedShape {
  @IsDateString() at: string;
  @IsString() @MaxLength(200) agent: string;
  @IsInt() status: number;
}

/** Where feeds are served from. */
export interface FeedServer {
  /** Takes a feed in under its secret; what stood there is served until all of it came. @returns why it did not; null where it did */
  put(secret: string, name: string, type: string, made: number, body: Blob): Promise<string | null>;
  /** Serves nothing under a secret any more. */
  remove(secret: string): Promise<string | null>;
  /** What is served under a secret; null where nothing is. @throws where the server is not there */
  about(secret: string): Promise<ServedFeed | null>;
}

const PATIENCE = 60_000;

async function change(address: string, type: string, body: Blob | string): Promise<string | null> {
  try {
    const answer = await fetch(address, {
      method: 'PUT',
      headers: { 'content-type': type },
      body,
      signal: AbortSignal.timeout(PATIENCE),
    });
    if (answer.ok) return null;
    const said = (await answer.json().catch(() => null)) as { detail?: unknown } | null;
    return typeof said?.detail === 'string'
      ? said.detail.slice(0, 200)
      : `Sampan’s server answered ${answer.status}.`;
  } catch {
    return 'Sampan’s server is not there. Is it running?';
  }
}

/** Sampan's own server, asked by a page or worker of its own. */
export const ownFeedServer: FeedServer = {
  put: (secret, name, type, made, body) =>
    change(
      `/api/feeds/${secret}?${new URLSearchParams({ name, type, made: new Date(made).toISOString() })}`,
      'application/octet-stream',
      body,
    ),
  remove: (secret) => change(`/api/feeds/${secret}/removed`, 'application/json', '{}'),
  about: async (secret) => {
    const answer = await fetch(`/api/feeds/${secret}`, { signal: AbortSignal.timeout(PATIENCE) });
    if (answer.status === 404) return null;
    const read = shaped(ServedShape, await answer.json());
    if (!answer.ok || !read.ok) throw new Error('Sampan’s server did not say what it serves.');
    const { made, bytes, fetched } = read.value;
    return {
      ...{ made, bytes },
      fetched: fetched.flatMap((one) => {
        const own = shaped(FetchedShape, one);
        return own.ok ? [own.value] : [];
      }),
    };
  },
};

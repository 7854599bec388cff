import { createReadStream, existsSync } from 'node:fs';
import { Readable } from 'node:stream';

export const dynamic = 'force-dynamic';

/** The demo's recorded past, where the server was started with one. */
export function GET() {
  const file = process.env.SAMPAN_RECORDED;
  if (!file || !existsSync(file)) return new Response(null, { status: 404 });
  return new Response(Readable.toWeb(createReadStream(file)) as ReadableStream, {
    headers: { 'content-type': 'application/jsonl' },
  });
}

import { createServer } from 'node:http';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import next from 'next';
import { Feeds } from './feeds';
import { guard, limitBody, refusalOf, refuse } from './gate';

/**
 * Sampan's own server: Next behind a gate that every request and answer goes through. `tsx
 * src/server/serve.ts --port N [--dev]`. It serves this machine alone: from another one, over plain HTTP, a browser has
 * neither ids nor locks, and each browser keeps a shop of its own.
 */
const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '4800' },
    dev: { type: 'boolean', default: false },
  },
});
const port = Number(values.port);
const HOST = '127.0.0.1';

/** Time in which head and body must have come: nobody holds a place by saying little for long. */
const HEAD_WITHIN = 10_000;
const WHOLE_WITHIN = 30_000;

async function main(): Promise<void> {
  const app = next({ dev: values.dev, hostname: HOST, port });
  await app.prepare();
  const feeds = new Feeds(process.env.SAMPAN_FEEDS ?? join('.sampan', 'feeds'));
  const handle = app.getRequestHandler();
  const server = createServer(
    { headersTimeout: HEAD_WITHIN, requestTimeout: WHOLE_WITHIN, connectionsCheckingInterval: 2_000 },
    (request, response) => {
      guard(response);
      const refusal = refusalOf(request, port);
      if (refusal) return refuse(response, refusal);
      limitBody(request, response);
      const answered = async () => (await feeds.answer(request, response)) || handle(request, response);
      answered().catch((error) => {
        console.error(error);
        if (response.headersSent) response.destroy();
        else refuse(response, { status: 500, title: 'Sampan’s server failed', detail: 'Its log says more.' });
      });
    },
  );
  if (values.dev) server.on('upgrade', app.getUpgradeHandler());
  server.listen(port, HOST);
  // With whoever started it, too.
  for (const signal of ['SIGINT', 'SIGTERM', 'disconnect'] as const)
    process.on(signal, () => {
      server.closeAllConnections();
      process.exit(0);
    });
}

main().catch((error) => {
  console.error(error);
  process.exit(1);
});

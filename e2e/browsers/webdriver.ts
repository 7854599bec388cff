import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import WebSocket from 'ws';

/** What the walk asks of a browser, whichever it is: as little as WebDriver has in both its forms. */
export interface Browser {
  readonly name: string;
  open(url: string): Promise<void>;
  /** Evaluates an expression in the page; its value is plain data. */
  evaluate<T>(expression: string): Promise<T>;
  /** Presses and lets go of a mouse button at a place of the page. */
  click(x: number, y: number): Promise<void>;
  /** Types text key by key; keys of no letter by WebDriver's code points. */
  type(text: string, holding?: string): Promise<void>;
  /** The page as a PNG, in base64. */
  picture(): Promise<string>;
  end(): Promise<void>;
}

/** Code points of keys (WebDriver, section 17.4.2). */
export const KEYS = { enter: '\uE007', escape: '\uE00C', control: '\uE009', backspace: '\uE003' } as const;

const pointer = (x: number, y: number) => ({
  type: 'pointer',
  id: 'mouse',
  parameters: { pointerType: 'mouse' },
  actions: [
    { type: 'pointerMove', x: Math.round(x), y: Math.round(y) },
    { type: 'pointerDown', button: 0 },
    { type: 'pointerUp', button: 0 },
  ],
});
const keys = (text: string, holding?: string) => ({
  type: 'key',
  id: 'keys',
  actions: [
    ...(holding ? [{ type: 'keyDown', value: holding }] : []),
    ...[...text].flatMap((value) => [
      { type: 'keyDown', value },
      { type: 'keyUp', value },
    ]),
    ...(holding ? [{ type: 'keyUp', value: holding }] : []),
  ],
});

async function waitFor<T>(what: string, tries: () => Promise<T>): Promise<T> {
  let last: unknown;
  for (let i = 0; i < 60; i++) {
    try {
      return await tries();
    } catch (error) {
      last = error;
      await new Promise((resolve) => setTimeout(resolve, 250));
    }
  }
  throw new Error(`${what} did not come up: ${last}`);
}

const end = (child: ChildProcess) =>
  new Promise<void>((resolve) => {
    child.once('exit', () => resolve());
    child.kill('SIGTERM');
    setTimeout(() => child.kill('SIGKILL'), 3_000).unref();
  });

/** A browser behind a driver that speaks WebDriver over HTTP (W3C WebDriver). */
export async function classic(
  name: string,
  driver: string,
  args: readonly string[],
  port: number,
  capabilities: object,
  env = {},
): Promise<Browser> {
  const child = spawn(driver, [...args], { stdio: 'ignore', env: { ...process.env, ...env } });
  const origin = `http://127.0.0.1:${port}`;
  const ask = async (method: string, path: string, body?: object): Promise<unknown> => {
    const answer = await fetch(origin + path, {
      method,
      headers: { 'content-type': 'application/json' },
      body: body && JSON.stringify(body),
    });
    const { value } = (await answer.json()) as { value: unknown };
    if (!answer.ok) throw new Error(`${name}: ${JSON.stringify(value).slice(0, 500)}`);
    return value;
  };
  await waitFor(driver, () => ask('GET', '/status'));
  const made = (await ask('POST', '/session', { capabilities: { alwaysMatch: capabilities } })) as {
    sessionId: string;
  };
  const session = `/session/${made.sessionId}`;
  await ask('POST', `${session}/window/rect`, { width: 1280, height: 800 }).catch(() => {});
  const act = (...actions: object[]) => ask('POST', `${session}/actions`, { actions });
  return {
    name,
    open: async (url) => void (await ask('POST', `${session}/url`, { url })),
    evaluate: async <T>(expression: string) =>
      (await ask('POST', `${session}/execute/sync`, { script: `return (${expression});`, args: [] })) as T,
    click: async (x, y) => void (await act(pointer(x, y))),
    type: async (text, holding) => void (await act(keys(text, holding))),
    picture: async () => (await ask('GET', `${session}/screenshot`)) as string,
    end: async () => {
      await ask('DELETE', session).catch(() => {});
      await end(child);
    },
  };
}

/** Firefox, which speaks WebDriver's bidirectional form itself (W3C WebDriver BiDi). */
export async function firefox(binary: string, port: number): Promise<Browser> {
  const profile = mkdtempSync(join(tmpdir(), 'sampan-firefox-'));
  const child = spawn(
    binary,
    [
      '--headless',
      '--no-remote',
      '--profile',
      profile,
      '--remote-debugging-port',
      String(port),
      '--width',
      '1280',
      '--height',
      '800',
    ],
    {
      stdio: 'ignore',
      env: { ...process.env, HOME: profile, MOZ_DISABLE_CONTENT_SANDBOX: '1' },
    },
  );
  const socket = await waitFor(
    'Firefox',
    () =>
      new Promise<WebSocket>((resolve, reject) => {
        const made = new WebSocket(`ws://127.0.0.1:${port}/session`);
        made.once('open', () => resolve(made));
        made.once('error', reject);
      }),
  );
  let count = 0;
  const waiting = new Map<number, { resolve: (value: unknown) => void; reject: (error: Error) => void }>();
  socket.on('message', (data) => {
    const message = JSON.parse(String(data)) as {
      id?: number;
      result?: unknown;
      error?: string;
      message?: string;
    };
    const one = message.id === undefined ? undefined : waiting.get(message.id);
    if (!one) return;
    waiting.delete(message.id!);
    if (message.error) one.reject(new Error(`Firefox: ${message.error} ${message.message?.slice(0, 500)}`));
    else one.resolve(message.result);
  });
  const ask = <T>(method: string, params: object) =>
    new Promise<T>((resolve, reject) => {
      const id = ++count;
      waiting.set(id, { resolve: resolve as (value: unknown) => void, reject });
      socket.send(JSON.stringify({ id, method, params }));
    });
  await ask('session.new', { capabilities: {} });
  const { contexts } = await ask<{ contexts: { context: string }[] }>('browsingContext.getTree', {});
  const { context } = contexts[0]!;
  await ask('browsingContext.setViewport', { context, viewport: { width: 1280, height: 800 } });
  const act = (...actions: object[]) => ask('input.performActions', { context, actions });
  return {
    name: 'Firefox',
    open: async (url) => void (await ask('browsingContext.navigate', { context, url, wait: 'complete' })),
    evaluate: async <T>(expression: string) => {
      const target = { context };
      const { result, exceptionDetails } = await ask<{
        result?: { value?: string };
        exceptionDetails?: { text: string };
      }>('script.evaluate', {
        expression: `JSON.stringify(${expression}) ?? 'null'`,
        target,
        awaitPromise: true,
      });
      if (exceptionDetails) throw new Error(`Firefox: ${exceptionDetails.text}`);
      return JSON.parse(result?.value ?? 'null') as T;
    },
    click: async (x, y) => void (await act(pointer(x, y))),
    type: async (text, holding) => void (await act(keys(text, holding))),
    picture: async () => (await ask<{ data: string }>('browsingContext.captureScreenshot', { context })).data,
    end: async () => {
      await ask('browser.close', {}).catch(() => {});
      socket.close();
      await end(child);
      rmSync(profile, { recursive: true, force: true });
    },
  };
}

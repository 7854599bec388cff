import { spawn } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { CHROMIUM } from '../../scripts/chromium';
import { spawnScript } from '../../scripts/spawn';
import { walk } from './walk';
import { type Browser, classic, firefox } from './webdriver';

/**
 * Walks the demo in each browser. `tsx e2e/browsers/run.ts [chromium] [firefox] [webkit]`; pictures go to
 * `.sampan/browsers/pictures`.
 */
const PORT = 4940;
const ADDRESS = `http://127.0.0.1:${PORT}`;
const FOLDER = '.sampan/browsers';

/** Where Debian keeps WebKitGTK's small browser. */
function miniBrowser(): string {
  const root = '/usr/lib/x86_64-linux-gnu';
  const found = (existsSync(root) ? readdirSync(root) : [])
    .filter((name) => name.startsWith('webkit2gtk-4'))
    .map((name) => join(root, name, 'MiniBrowser'));
  return found.find((path) => existsSync(path)) ?? 'MiniBrowser';
}

const DISPLAY = ':97';

const BROWSERS: Readonly<Record<string, () => Promise<Browser>>> = {
  chromium: () =>
    classic('Chromium', '/usr/bin/chromedriver', ['--port=4951'], 4951, {
      browserName: 'chrome',
      'goog:chromeOptions': {
        binary: CHROMIUM.executablePath,
        args: [...CHROMIUM.args, '--headless=new', '--window-size=1280,900'],
      },
    }),
  firefox: () => firefox('/usr/bin/firefox-esr', 4952),
  webkit: () =>
    classic(
      'WebKitGTK',
      '/usr/bin/WebKitWebDriver',
      ['--port=4953'],
      4953,
      { 'webkitgtk:browserOptions': { binary: miniBrowser(), args: ['--automation'] } },
      {
        DISPLAY,
        LIBGL_ALWAYS_SOFTWARE: '1',
        WEBKIT_DISABLE_COMPOSITING_MODE: '1',
        WEBKIT_DISABLE_DMABUF_RENDERER: '1',
        NO_AT_BRIDGE: '1',
      },
    ),
};

async function ready(): Promise<void> {
  for (let i = 0; i < 240; i++) {
    if (
      await fetch(`${ADDRESS}/api/health`).then(
        (a) => a.ok,
        () => false,
      )
    )
      return;
    await new Promise((resolve) => setTimeout(resolve, 250));
  }
  throw new Error('The server was not ready within a minute.');
}

/** Walks in a browser and tells how it went. @returns whether all was as it should be */
async function walked(name: string, start: () => Promise<Browser>): Promise<boolean> {
  const begun = Date.now();
  let browser: Browser | null = null;
  try {
    browser = await start();
    const done = await walk(browser, ADDRESS, join(FOLDER, 'pictures'));
    console.log(`✓ ${name} (${((Date.now() - begun) / 1000).toFixed(1)} s): ${done.join('; ')}`);
    return true;
  } catch (error) {
    console.log(`✗ ${name}: ${error instanceof Error ? error.message : String(error)}`);
    return false;
  } finally {
    await browser?.end();
  }
}

async function main(): Promise<void> {
  const wanted = process.argv.slice(2).filter((name) => name in BROWSERS);
  const server = spawnScript(
    'scripts/start.ts',
    ['--port', String(PORT), '--pace', 'still', '--items', '400', '--data', FOLDER],
    { out: 'ignore' },
  );
  const screen = spawn('/usr/bin/Xvfb', [DISPLAY, '-screen', '0', '1400x1000x24', '-nolisten', 'tcp'], {
    stdio: 'ignore',
  });
  let passed = 0;
  let failed = 0;
  try {
    await ready();
    for (const [name, start] of Object.entries(BROWSERS)) {
      if (wanted.length && !wanted.includes(name)) continue;
      // A second time in a new session, as a person would close the tab: see the walk for what WebKitGTK forgets.
      if ((await walked(name, start)) || (await walked(`${name} again`, start))) passed++;
      else failed++;
    }
  } finally {
    server.kill('SIGTERM');
    screen.kill('SIGTERM');
  }
  console.log(`\n${passed} passed, ${failed} failed`);
  process.exit(failed ? 1 : 0);
}

main();

/**
 * `npm test`: everything that must be true, from a fresh clone. Ends with `N passed, N failed` alone on a
 * line, summed over the runners.
 */
import { spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import { stripVTControlCharacters } from 'node:util';
import { build, debian, install, run, tsx } from './prepare.mjs';

let passed = 0;
let failed = 0;

/** Runs one check that either passes whole or fails whole. */
async function check(name, doing) {
  const begun = Date.now();
  try {
    await doing();
    passed++;
    console.log(`✓ ${name} (${((Date.now() - begun) / 1000).toFixed(1)} s)`);
    return true;
  } catch (error) {
    failed++;
    console.log(`✗ ${name}: ${error.message}`);
    return false;
  }
}

/**
 * Runs a test runner, shows what it says, and reads its own counts; a runner that ends badly without counts
 * is one failure.
 */
function runner(name, args, counts) {
  return new Promise((resolve) => {
    console.log(`\n— ${name}`);
    const child = spawn(process.execPath, args, { stdio: ['ignore', 'pipe', 'pipe'] });
    let text = '';
    for (const stream of [child.stdout, child.stderr]) {
      stream.on('data', (piece) => {
        text += piece;
        process.stdout.write(piece);
      });
    }
    child.on('exit', (code) => {
      const [good, bad] = counts(stripVTControlCharacters(text));
      passed += good;
      failed += bad || (code === 0 ? 0 : 1);
      resolve();
    });
  });
}

const number = (text, pattern) => Number(pattern.exec(text)?.[1] ?? 0);

const chromium = () => debian({ [process.env.CHROMIUM ?? '/usr/bin/chromium']: 'chromium' });

const bin = (path) => `node_modules/${path}`;

async function main() {
  await install();
  await check('formatting and lint', () => run(bin('.bin/biome'), ['check', '.']));
  await check('import directions', () =>
    run(bin('.bin/depcruise'), ['--config', 'dependency-cruiser.config.cjs', 'src', 'stand-ins', 'demo']),
  );
  const built = await check('production build', build);
  await check('types', () => run(bin('.bin/tsc'), ['--noEmit']));
  await runner('Jest', [bin('jest/bin/jest.js'), '--forceExit'], (text) => [
    number(text, /Tests:.*?(\d+) passed/),
    number(text, /Tests:.*?(\d+) failed/),
  ]);
  const browser = await check('Chromium', chromium);
  if (built && browser) {
    // The short past of the test shop is lived anew, so that its times are today's.
    for (const folder of ['.sampan/test-empty', '.sampan/test-demo'])
      rmSync(folder, { recursive: true, force: true });
    await check('demo past', () =>
      tsx('demo/make.ts', ['.sampan/test-demo', '--items', '400', '--days', '6']),
    );
    await runner('Playwright', [bin('@playwright/test/cli.js'), 'test'], (text) => [
      number(text, /(\d+) passed/) + number(text, /(\d+) flaky/),
      number(text, /(\d+) failed/) + number(text, /(\d+) did not run/),
    ]);
  } else failed++;
  console.log(`\n${passed} passed, ${failed} failed`);
  process.exit(failed ? 1 : 0);
}

main().catch((error) => {
  console.error(error.message);
  console.log(`\n${passed} passed, ${failed + 1} failed`);
  process.exit(1);
});

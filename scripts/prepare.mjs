/**
 * Installs what is missing and builds what is out of date. Used by the two commands that must work on a fresh
 * machine.
 */
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';

/** Runs a command to its end, passing signals on; rejects with its exit code. */
export function run(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { stdio: 'inherit', ...options });
    const pass = (signal) => child.kill(signal);
    process.on('SIGINT', pass);
    process.on('SIGTERM', pass);
    child.on('exit', (code, signal) => {
      process.off('SIGINT', pass);
      process.off('SIGTERM', pass);
      if (code === 0) resolve();
      else
        reject(
          Object.assign(new Error(`${[command, ...args].join(' ')} ended with ${code ?? signal}`), {
            code: code ?? 1,
          }),
        );
    });
    child.on('error', reject);
  });
}

export const node = (args, options) => run(process.execPath, args, options);

export async function install() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    throw new Error(`Node.js 20.19 or newer is needed, this is ${process.versions.node}.`);
  const marker = 'node_modules/.package-lock.json';
  if (existsSync(marker) && statSync(marker).mtimeMs >= statSync('package-lock.json').mtimeMs) return;
  const npm = process.env.npm_execpath;
  console.log('Installing packages …');
  if (npm) await node([npm, 'ci', '--include=dev']);
  else await run('npm', ['ci', '--include=dev']);
}

/**
 * Installs what is missing of Debian's packages, where that may be done; else says what to install. `wanted`
 * names the package of each file.
 */
export async function debian(wanted) {
  const missing = Object.entries(wanted).filter(([file]) => !existsSync(file));
  if (!missing.length) return;
  const packages = missing.map(([, name]) => name);
  if (process.getuid?.() !== 0 || spawnSync('apt-get', ['--version']).status !== 0)
    throw new Error(
      `Missing: ${missing.map(([file]) => file).join(', ')}. Install ${packages.join(' ')} (Debian: apt-get install).`,
    );
  console.log(`Installing ${packages.join(', ')} …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  await run('apt-get', ['update', '-q'], { env });
  await run('apt-get', ['install', '-y', '-q', '--no-install-recommends', ...packages], { env });
}

function newest(path) {
  const stat = statSync(path);
  return stat.isDirectory()
    ? Math.max(0, ...readdirSync(path).map((name) => newest(join(path, name))))
    : stat.mtimeMs;
}

export async function build() {
  const built = '.next/BUILD_ID';
  const sources = ['src', 'next.config.ts', 'package.json', 'postcss.config.mjs', 'tsconfig.json'];
  if (existsSync(built) && statSync(built).mtimeMs > Math.max(...sources.map(newest))) return;
  console.log('Building …');
  await node(['node_modules/next/dist/bin/next', 'build'], {
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' },
  });
}

export const tsx = (file, args = [], options = {}) =>
  node(['node_modules/tsx/dist/cli.mjs', file, ...args], options);

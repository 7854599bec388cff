/**
 * Adds to package-lock.json the optional builds for other platforms that a registry may not serve. npm leaves
 * such packages out when it cannot see them, and `npm ci` then refuses the lock. Run after every change of
 * dependencies.
 */
import { readFileSync, writeFileSync } from 'node:fs';

const PLATFORM =
  /-(darwin|linux|win32|freebsd|openbsd|netbsd|android|sunos|aix|openharmony)[-_]?(x64|arm64|ia32|arm|ppc64|riscv64|s390x|loong64|mips64el|universal)?[-_]?(gnu|musl|msvc|gnueabihf|musleabihf|eabi)?$/;
const file = new URL('../package-lock.json', import.meta.url);
const lock = JSON.parse(readFileSync(file, 'utf8'));
const packages = lock.packages;

const placeOf = (from, name) => {
  for (let at = from; ; at = at.slice(0, Math.max(0, at.lastIndexOf('/node_modules/')))) {
    const place = `${at ? `${at}/` : ''}node_modules/${name}`;
    if (packages[place]) return place;
    if (!at?.includes('/node_modules/'))
      return packages[`node_modules/${name}`] ? `node_modules/${name}` : null;
  }
};

let added = 0;
for (const [from, entry] of Object.entries({ ...packages })) {
  for (const [name, version] of Object.entries(entry.optionalDependencies ?? {})) {
    if (placeOf(from, name)) continue;
    const [, os, cpu, abi] = PLATFORM.exec(name) ?? [];
    const add = { version: String(version).replace(/^[\^~]/, ''), optional: true };
    if (cpu && cpu !== 'universal') add.cpu = [cpu];
    else if (name.includes('wasm32')) add.cpu = ['wasm32'];
    if (os) add.os = [os];
    if (abi === 'gnu') add.libc = ['glibc'];
    if (abi === 'musl') add.libc = ['musl'];
    if (entry.dev) add.dev = true;
    packages[`node_modules/${name}`] = add;
    added++;
  }
}
lock.packages = Object.fromEntries(Object.entries(packages).sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0)));
writeFileSync(file, `${JSON.stringify(lock, null, 2)}\n`);
console.log(`${added} optional entries added to package-lock.json`);

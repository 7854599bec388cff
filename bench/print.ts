import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import type { Scene } from '../src/core/print';
import type { PrintPage } from './print-page';

const TURNS = 5;
const median = (list: readonly number[]) => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!;

/** Print files and mock-ups beside a bare canvas, in the same run. Medians of five, in turn. */
export async function measurePrint(page: Page, address: string): Promise<void> {
  await page.goto(`${address}print.html`);
  await page.waitForFunction(() => 'print' in window);
  const scene = JSON.parse(readFileSync('public/scenes/tea-towel-rail.json', 'utf8')) as Scene;
  const ask = <K extends keyof PrintPage>(name: K, ...of: Parameters<PrintPage[K]>) =>
    page.evaluate(
      ([n, args]) =>
        (window as unknown as { print: Record<string, (...a: unknown[]) => Promise<number>> }).print[n]!(
          ...args,
        ),
      [name, of] as [string, unknown[]],
    );
  await ask('prepare');
  const times: Record<string, number[]> = { bareFile: [], file: [], bareMockUp: [], mockUp: [] };
  for (let turn = 0; turn < TURNS; turn++) {
    times.bareFile!.push(await ask('bareFile'));
    times.file!.push(await ask('file'));
    times.bareMockUp!.push(await ask('bareMockUp'));
    times.mockUp!.push(await ask('mockUp', scene));
  }
  const [bareFile, file, bareMockUp, mockUp] = ['bareFile', 'file', 'bareMockUp', 'mockUp'].map((k) =>
    median(times[k]!),
  ) as [number, number, number, number];
  const [alone, both] = [await ask('files', 8, 1), await ask('files', 8, 2)];
  const tell = (what: string, ms: number, ratio = '') =>
    console.log(`${what.padEnd(64)}${ms.toFixed(0).padStart(7)} ms  ${ratio}`);
  tell('bare canvas: decode, draw, encode 2,700 × 2,500 as PNG', bareFile);
  tell('a print file of the same', file, `${(bareFile / file).toFixed(2)} of the bare speed (at least 0.9)`);
  tell('bare canvas: slices of a wave, multiplied, as JPEG', bareMockUp);
  tell(
    'a mock-up with mesh, shade and light',
    mockUp,
    `${(bareMockUp / mockUp).toFixed(2)} of the bare speed (at least 0.9)`,
  );
  tell('eight print files, one worker', alone);
  tell('eight print files, two workers', both, `${(alone / both).toFixed(2)} times one (at least 1.8)`);
}

import { type ChildProcess, type SpawnOptions, spawn } from 'node:child_process';

type Streams = Pick<SpawnOptions, 'env'> & { readonly out?: 'pipe' | 'ignore' };

/**
 * Starts a script of ours as one process, which hears signals itself and of the end of whoever started it (`disconnect`),
 * however that ended.
 */
export const spawnScript = (
  file: string,
  args: readonly string[],
  { out = 'pipe', env }: Streams = {},
): ChildProcess =>
  spawn(process.execPath, ['--import', 'tsx', file, ...args], {
    stdio: ['ignore', out, 'inherit', 'ipc'],
    env: env ?? process.env,
  });

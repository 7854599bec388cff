import type { Encoding } from '../../core/lists';

const startsWith = (b: Uint8Array, ...bytes: number[]) => bytes.every((x, i) => b[i] === x);

/**
 * The encoding that bytes are in: by their mark, by zeros where wide signs have them, else UTF-8 where they fit it, else
 * Windows-1252. Null where they are no text. @param whole whether they are all there is
 */
export function encodingOf(b: Uint8Array, whole: boolean): Encoding | null {
  if (startsWith(b, 0xff, 0xfe)) return 'utf-16le';
  if (startsWith(b, 0xfe, 0xff)) return 'utf-16be';
  const zeros = [0, 0];
  const n = Math.min(b.length, 4000);
  for (let i = 0; i < n; i++) if (b[i] === 0) zeros[i % 2]!++;
  if (zeros[1]! > n * 0.2 && zeros[0]! < n * 0.02) return 'utf-16le';
  if (zeros[0]! > n * 0.2 && zeros[1]! < n * 0.02) return 'utf-16be';
  if (zeros[0]! + zeros[1]! > 0) return null;
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(b, { stream: !whole });
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

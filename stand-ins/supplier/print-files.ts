import { createHash } from 'node:crypto';
import type { PrintFiles } from './prints';

/** The most bytes of a print file. */
const LARGEST = 60_000_000;
const SIGNATURE = Buffer.from([137, 80, 78, 71, 13, 10, 26, 10]);

/** The size of a PNG, and whether it says how many pixels an inch it has; null where it is none. */
function headOf(bytes: Buffer): { width: number; height: number; measured: boolean } | null {
  if (bytes.length < 45 || !bytes.subarray(0, 8).equals(SIGNATURE)) return null;
  if (bytes.toString('latin1', 12, 16) !== 'IHDR') return null;
  const before = bytes.subarray(0, Math.max(0, bytes.indexOf('IDAT')));
  if (bytes.subarray(-8, -4).toString('latin1') !== 'IEND') return null;
  return {
    width: bytes.readUInt32BE(16),
    height: bytes.readUInt32BE(20),
    measured: before.includes('pHYs'),
  };
}

/** Takes a print file: a PNG that says its resolution. The same file has the same name. @returns its name, or why not */
export function takeFile(files: PrintFiles, bytes: unknown): { file: string } | { reason: string } {
  if (!Buffer.isBuffer(bytes)) return { reason: 'The body must be the bytes of a PNG.' };
  if (bytes.length > LARGEST) return { reason: 'A print file has at most 60 MB.' };
  const head = headOf(bytes);
  if (!head) return { reason: 'This is no PNG, or it breaks off.' };
  if (!head.measured) return { reason: 'The file does not say how many pixels an inch it has (pHYs).' };
  const file = createHash('sha256').update(bytes).digest('hex');
  files[file] = { width: head.width, height: head.height };
  return { file };
}

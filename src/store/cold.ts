import type { ColdPiece } from '../core/catalogue';
import { fileOf } from './files';
import type { StoredCold } from './rows';

/**
 * The cold part of a piece as it is stored. @param asFile whether this browser stores files, which it takes
 * over without looking through them
 */
export function storedCold(
  key: Pick<StoredCold, 'supplier' | 'generation' | 'seq'>,
  { description, pictures }: ColdPiece,
  asFile: boolean,
): StoredCold {
  const { supplier, generation, seq } = key;
  const parts = [description.bytes, pictures.bytes];
  return {
    supplier,
    generation,
    seq,
    file: asFile ? new Blob(parts) : joined(parts),
    descriptionEnds: description.ends,
    pictureEnds: pictures.ends,
  };
}

function joined(parts: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const all = new Uint8Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
}

/** The cold part of a piece as it was before it was stored. Not inside a transaction: a file is read. */
export async function coldOf({ file, descriptionEnds, pictureEnds }: StoredCold): Promise<ColdPiece> {
  const all = new Uint8Array(await fileOf(file).arrayBuffer());
  const half = descriptionEnds.at(-1) ?? 0;
  return {
    description: { bytes: all.subarray(0, half), ends: descriptionEnds },
    pictures: { bytes: all.subarray(half), ends: pictureEnds },
  };
}

/** The first picture at a place of a stored piece; '' where there is none. Reads no more than that of its file. */
export async function firstPictureIn(
  { file, descriptionEnds, pictureEnds }: StoredCold,
  place: number,
): Promise<string> {
  const half = descriptionEnds.at(-1) ?? 0;
  const from = half + (place ? pictureEnds[place - 1]! : 0);
  const pictures = await fileOf(file)
    .slice(from, half + pictureEnds[place]!)
    .text();
  return pictures.split('\n', 1)[0]!;
}

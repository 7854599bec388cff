import type { ColdPiece } from '../core/catalogue';
import type { StoredCold } from './rows';

/** The cold part of a piece as it is stored. */
export function storedCold(key: Pick<StoredCold, 'supplier' | 'generation' | 'seq'>, { description, pictures }: ColdPiece): StoredCold {
  const { supplier, generation, seq } = key;
  const file = new Blob([description.bytes, pictures.bytes]);
  return { supplier, generation, seq, file, descriptionEnds: description.ends, pictureEnds: pictures.ends };
}

/** The cold part of a piece as it was before it was stored. Not inside a transaction: a file is read. */
export async function coldOf({ file, descriptionEnds, pictureEnds }: StoredCold): Promise<ColdPiece> {
  const all = new Uint8Array(await file.arrayBuffer());
  const half = descriptionEnds.at(-1) ?? 0;
  return { description: { bytes: all.subarray(0, half), ends: descriptionEnds }, pictures: { bytes: all.subarray(half), ends: pictureEnds } };
}

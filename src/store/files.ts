/**
 * A file as it is stored: as one, or as bytes where this browser stores no files (private windows, sessions
 * that are not kept).
 */
export type StoredFile = Blob | Uint8Array<ArrayBuffer>;

export const fileOf = (stored: StoredFile): Blob => ('arrayBuffer' in stored ? stored : new Blob([stored]));

/** A file in the way in which it can be stored. Not inside a transaction: it may be read. */
export async function toStore(db: { readonly keepsFiles: boolean }, file: Blob): Promise<StoredFile> {
  return db.keepsFiles ? file : new Uint8Array(await file.arrayBuffer());
}

import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex } from '@noble/hashes/utils';
import type { Table } from 'dexie';
import { fileOf, toStore } from './files';
import type { AssetBytes } from './goods';

/** Pieces of a stream: not every browser can go through one by itself. */
export async function* streamPieces<T>(stream: ReadableStream<T>): AsyncGenerator<T> {
  const reader = stream.getReader();
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    yield value;
  }
}

/** SHA-256 (FIPS 180-4) of a file, in hex. It is read piece by piece. */
export async function hashOfFile(file: Blob): Promise<string> {
  const hash = sha256.create();
  for await (const piece of streamPieces(file.stream())) hash.update(piece);
  return bytesToHex(hash.digest());
}

/** The database, as far as bytes concern it. */
interface Base {
  readonly name: string;
  readonly keepsFiles: boolean;
  readonly assetBytes: Table<AssetBytes, string>;
}

/**
 * Where the bytes of files lie, by the hash of what they hold: in the browser's private file system
 * (https://fs.spec.whatwg.org), which takes and gives them as streams; where there is none, in the table `assetBytes`.
 * A file that was cut off while it was written has another size than its row says.
 */
export class BytesStore {
  private folder: Promise<FileSystemDirectoryHandle | null> | null = null;

  constructor(private readonly db: Base) {}

  private where(): Promise<FileSystemDirectoryHandle | null> {
    this.folder ??= this.find();
    return this.folder;
  }

  /** Null where this browser has no such place, as in private windows, or cannot write to it in pieces. */
  private async find(): Promise<FileSystemDirectoryHandle | null> {
    if (typeof FileSystemFileHandle === 'undefined' || !('createWritable' in FileSystemFileHandle.prototype))
      return null;
    try {
      const root = await navigator.storage.getDirectory();
      return await root.getDirectoryHandle(this.db.name, { create: true });
    } catch {
      return null;
    }
  }

  /** @throws where the disk is full */
  async write(id: string, file: Blob): Promise<void> {
    const folder = await this.where();
    if (!folder) {
      await this.db.assetBytes.put({ id, file: await toStore(this.db, file) });
      return;
    }
    const handle = await folder.getFileHandle(id, { create: true });
    await file.stream().pipeTo(await handle.createWritable());
  }

  /** Null where they are not in this browser. */
  async read(id: string): Promise<Blob | null> {
    const folder = await this.where();
    if (folder)
      try {
        return await (await folder.getFileHandle(id)).getFile();
      } catch (error) {
        if (!(error instanceof DOMException && error.name === 'NotFoundError')) throw error;
      }
    const row = await this.db.assetBytes.get(id);
    return row ? fileOf(row.file) : null;
  }

  async remove(ids: readonly string[]): Promise<void> {
    const folder = await this.where();
    await this.db.assetBytes.bulkDelete([...ids]);
    if (!folder) return;
    for (const id of ids)
      try {
        await folder.removeEntry(id);
      } catch (error) {
        if (!(error instanceof DOMException && error.name === 'NotFoundError')) throw error;
      }
  }
}

/** Bytes of one block. */
const BLOCK = 2_000_000;
/**
 * Bytes that a block has in common with the one before: a record that begins in them is read from the next
 * block.
 */
const SHARED = 32_000;
/** Blocks fetched before they are asked for. */
const AHEAD = 2;

/** Reads a file from any place on, block by block, while the next blocks are on their way from the disk. */
export class Blocks {
  private readonly fetched = new Map<number, Promise<Uint8Array<ArrayBuffer>>>();

  constructor(private readonly file: Blob) {}

  /** What can be had at once from `offset` on: at least {@link SHARED} bytes but at the file's end. */
  async from(offset: number): Promise<Uint8Array<ArrayBuffer>> {
    const block = Math.floor((offset + SHARED) / BLOCK);
    for (const known of this.fetched.keys())
      if (known < block || known > block + AHEAD) this.fetched.delete(known);
    for (let b = block; b <= block + AHEAD && this.startOf(b) < this.file.size; b++) {
      if (this.fetched.has(b)) continue;
      const bytes = this.fetch(this.startOf(b), (b + 1) * BLOCK);
      // A failure shows when the block is asked for.
      bytes.catch(() => {});
      this.fetched.set(b, bytes);
    }
    const start = this.startOf(block);
    const bytes = await this.fetched.get(block);
    if (!bytes) return new Uint8Array(0);
    // A block that was asked for before may have been sent away with its records.
    return bytes.length ? bytes.subarray(offset - start) : this.fetch(offset, (block + 1) * BLOCK);
  }

  /** Twice a block from `offset` on, for a record that is longer than what blocks share. */
  more(offset: number): Promise<Uint8Array<ArrayBuffer>> {
    return this.fetch(offset, offset + 2 * BLOCK);
  }

  /** The place behind the line that begins at `offset`; the file's size where it is the last. */
  async afterLine(offset: number): Promise<number> {
    for (let at = offset; at < this.file.size; at += BLOCK) {
      const feed = (await this.fetch(at, at + BLOCK)).indexOf(10);
      if (feed >= 0) return at + feed + 1;
    }
    return this.file.size;
  }

  private readonly startOf = (block: number) => Math.max(0, block * BLOCK - SHARED);

  private async fetch(from: number, to: number): Promise<Uint8Array<ArrayBuffer>> {
    return new Uint8Array(await this.file.slice(from, to).arrayBuffer());
  }
}

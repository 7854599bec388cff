import { strToU8, Zip, ZipDeflate, ZipPassThrough } from 'fflate';

/** Bytes that are kept in memory before the browser is given them to keep where it likes. */
const AT_ONCE = 8_000_000;
/** What a zip file without its 64-bit form can hold (APPNOTE 4.3.9.2). */
const LARGEST = 4_000_000_000;

/** A zip file that is written part by part. */
export class ZipFile {
  private readonly zip: Zip;
  private readonly done: Blob[] = [];
  private packed: Uint8Array<ArrayBuffer>[] = [];
  private size = 0;
  private total = 0;
  private failed: Error | null = null;

  constructor() {
    this.zip = new Zip((error, data) => {
      if (error) this.failed = error;
      else this.keep(data as Uint8Array<ArrayBuffer>);
    });
  }

  /** Adds a text, packed. */
  text(name: string, text: string): void {
    const part = new ZipDeflate(name);
    this.zip.add(part);
    part.push(strToU8(text), true);
    this.check();
  }

  /** Adds what is packed already, such as a picture. @throws RangeError where the file would become too large */
  bytes(name: string, bytes: Uint8Array): void {
    this.total += bytes.length;
    if (this.total > LARGEST) throw new RangeError('The file would have more than 4 GB.');
    const part = new ZipPassThrough(name);
    this.zip.add(part);
    part.push(bytes, true);
    this.check();
  }

  end(): Blob {
    this.zip.end();
    this.check();
    this.settle();
    return new Blob(this.done, { type: 'application/zip' });
  }

  private keep(data: Uint8Array<ArrayBuffer>): void {
    this.packed.push(data);
    this.size += data.length;
    if (this.size > AT_ONCE) this.settle();
  }

  private settle(): void {
    this.done.push(new Blob(this.packed));
    this.packed = [];
    this.size = 0;
  }

  private check(): void {
    if (this.failed) throw this.failed;
  }
}

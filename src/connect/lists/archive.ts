import { BlobReader, configure, type FileEntry, Uint8ArrayWriter, ZipReader } from '@zip.js/zip.js';
import { LARGEST_OTHER, LARGEST_TEXT, megabytes, type Opened, refuse } from './source';

// Already in a worker; workers of its own would come from addresses that the content security policy does not
// know.
configure({ useWebWorkers: false });

/** A file in an archive, not unpacked yet. */
export interface Packed {
  readonly name: string;
  readonly size: number;
  /** Its bytes; refused where they are not of the size and checksum that the archive states. */
  bytes(): Promise<Opened<Uint8Array<ArrayBuffer>>>;
}

const DAMAGED = 'The archive is cut off or damaged. Fetch it again.';
const MOST_FILES = 2000;

/** What an archive may hold. */
export interface ArchiveLimits {
  /** Bytes, packed and unpacked. */
  readonly packed: number;
  readonly unpacked: number;
  /** What is expected in it, in words. */
  readonly what: string;
}

const OF_LISTS: ArchiveLimits = { packed: LARGEST_OTHER, unpacked: LARGEST_TEXT, what: 'price list' };

async function unpack(entry: FileEntry): Promise<Opened<Uint8Array<ArrayBuffer>>> {
  const damaged = refuse(
    `“${entry.filename.slice(0, 60)}” in the archive is damaged or not of the size it claims. It was not read.`,
  );
  if (entry.encrypted)
    return refuse(
      `“${entry.filename.slice(0, 60)}” in the archive is locked with a password. Ask for it without one.`,
    );
  try {
    const writer = new Limited(entry.uncompressedSize);
    const bytes = await entry.getData(writer, { checkSignature: true });
    return bytes.length === entry.uncompressedSize
      ? { ok: true, value: bytes as Uint8Array<ArrayBuffer> }
      : damaged;
  } catch {
    return damaged;
  }
}

/** Takes no more bytes than were stated. */
class Limited extends Uint8ArrayWriter {
  private taken = 0;
  constructor(private readonly most: number) {
    super();
  }
  override writeUint8Array(array: Uint8Array): Promise<void> {
    this.taken += array.length;
    if (this.taken > this.most) throw new RangeError('more bytes than stated');
    return super.writeUint8Array(array);
  }
}

/**
 * The files in an archive; refused where it is damaged, or would take more room than allowed. Nothing is unpacked yet.
 */
export async function openArchive(file: Blob, limits = OF_LISTS): Promise<Opened<Packed[]>> {
  const { what } = limits;
  if (file.size > limits.packed)
    return refuse(`The archive has ${megabytes(file.size)}; up to ${megabytes(limits.packed)} are read.`);
  const entries: FileEntry[] = [];
  try {
    for await (const entry of new ZipReader(new BlobReader(file), {
      filenameValidation: 'tolerant',
    }).getEntriesGenerator()) {
      if (entries.length > MOST_FILES)
        return refuse(`The archive holds more than ${MOST_FILES} files. Send the ${what} alone.`);
      if (!entry.directory) entries.push(entry as FileEntry);
    }
  } catch {
    return refuse(DAMAGED);
  }
  const total = entries.reduce((n, e) => n + e.uncompressedSize, 0);
  const packed = entries.reduce((n, e) => n + e.compressedSize, 0);
  if (total > limits.unpacked)
    return refuse(
      `Unpacked, the archive has ${megabytes(total)}; a ${what} of up to ${megabytes(limits.unpacked)} is read.`,
    );
  if (total > 20_000_000 && total > packed * 300)
    return refuse(
      `The archive blows up ${Math.round(total / Math.max(packed, 1))}-fold when unpacked. No ${what} does that; it was not opened.`,
    );
  return {
    ok: true,
    value: entries.map((e) => ({ name: e.filename, size: e.uncompressedSize, bytes: () => unpack(e) })),
  };
}

import type { DesignNote } from '../../../store';

interface HeadNotes {
  readonly dpi: number | null;
  readonly notes: DesignNote[];
}

const latin = (bytes: Uint8Array, from: number, to: number) =>
  String.fromCharCode(...bytes.subarray(from, to));

/** PNG Specification (Third Edition), sections 4.8 and 11. */
function ofPng(head: Uint8Array): HeadNotes {
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  const notes: DesignNote[] = [];
  let dpi: number | null = null;
  if (head[24] === 16) notes.push('deep colour');
  for (let at = 8; at + 12 <= head.length; ) {
    const length = view.getUint32(at);
    const type = latin(head, at + 4, at + 8);
    if (type === 'pHYs' && head[at + 16] === 1) dpi = view.getUint32(at + 8) * 0.0254;
    if (type === 'iCCP' && !/^sRGB/i.test(latin(head, at + 8, at + 40))) notes.push('another profile');
    if (type === 'acTL') notes.push('moves');
    if (type === 'IDAT') break;
    at += 12 + length;
  }
  return { dpi, notes };
}

/** JPEG (ITU-T T.81, annex B), JFIF (T.871), EXIF orientation (CIPA DC-008). */
function ofJpeg(head: Uint8Array): HeadNotes {
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  const notes: DesignNote[] = [];
  let dpi: number | null = null;
  for (let at = 2; at + 4 <= head.length && head[at] === 0xff; ) {
    const marker = head[at + 1]!;
    const length = view.getUint16(at + 2);
    const data = at + 4;
    if (marker === 0xe0 && latin(head, data, data + 4) === 'JFIF' && data + 12 <= head.length) {
      const density = view.getUint16(data + 8);
      if (head[data + 7] === 1) dpi = density;
      if (head[data + 7] === 2) dpi = density * 2.54;
    }
    if (marker === 0xe1 && latin(head, data, data + 4) === 'Exif' && isTurned(view, data + 6))
      notes.push('turned by EXIF');
    if (marker === 0xe2 && latin(head, data, data + 11) === 'ICC_PROFILE') {
      const profile = latin(head, data + 14, Math.min(head.length, data + Math.min(length, 600)));
      if (profile.includes('CMYK')) notes.push('cmyk');
      else if (!profile.replaceAll('\0', '').includes('sRGB')) notes.push('another profile');
    }
    // Start of frame: its last but one byte before the components counts them.
    if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker)) {
      if (head[data + 5] === 4 && !notes.includes('cmyk')) notes.push('cmyk');
      break;
    }
    at += 2 + length;
  }
  return { dpi: dpi && dpi > 1 ? dpi : null, notes };
}

/** Whether the orientation (tag 0x0112) in the first directory of a TIFF head is another than upright. */
function isTurned(view: DataView, tiff: number): boolean {
  try {
    const little = view.getUint16(tiff) === 0x4949;
    const directory = tiff + view.getUint32(tiff + 4, little);
    const entries = view.getUint16(directory, little);
    for (let k = 0; k < Math.min(entries, 200); k++) {
      const at = directory + 2 + k * 12;
      if (view.getUint16(at, little) === 0x0112) return view.getUint16(at + 8, little) > 1;
    }
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
  }
  return false;
}

/** VP8X flags (RFC 9649, section 2.7). */
function ofWebp(head: Uint8Array): HeadNotes {
  const notes: DesignNote[] = [];
  if (latin(head, 12, 16) === 'VP8X') {
    const flags = head[20]!;
    if (flags & 0x02) notes.push('moves');
    if (flags & 0x20) notes.push('another profile');
  }
  return { dpi: null, notes };
}

/** What the head of a picture says that matters to print. */
export function headNotes(head: Uint8Array): HeadNotes {
  if (head[0] === 0x89) return ofPng(head);
  if (head[0] === 0xff) return ofJpeg(head);
  return ofWebp(head);
}

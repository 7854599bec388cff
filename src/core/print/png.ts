/** CRC-32 of the PNG Specification (Third Edition), annex D. */
const CRC = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n;
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
  return c;
});

function crcOf(bytes: Uint8Array): number {
  let c = 0xffffffff;
  for (const byte of bytes) c = CRC[(c ^ byte) & 255]! ^ (c >>> 8);
  return (c ^ 0xffffffff) >>> 0;
}

const SIGNATURE = [137, 80, 78, 71, 13, 10, 26, 10];
const METRES_PER_INCH = 0.0254;
/** Written anew, or saying otherwise than sRGB. */
const REPLACED: ReadonlySet<string> = new Set([
  'pHYs',
  'sRGB',
  'gAMA',
  'cHRM',
  'iCCP',
  'cICP',
  'tIME',
  'tEXt',
  'zTXt',
  'iTXt',
  'eXIf',
]);

function chunk(type: string, data: Uint8Array): Uint8Array {
  const out = new Uint8Array(12 + data.length);
  const view = new DataView(out.buffer);
  view.setUint32(0, data.length);
  for (let k = 0; k < 4; k++) out[4 + k] = type.charCodeAt(k);
  out.set(data, 8);
  view.setUint32(8 + data.length, crcOf(out.subarray(4, 8 + data.length)));
  return out;
}

/** A chunk of a PNG, by where it lies. */
export interface PngChunk {
  readonly type: string;
  /** Of the whole chunk. */
  readonly from: number;
  readonly to: number;
}

/** Goes through the chunks of a PNG. @throws RangeError where it is none, or breaks off */
export function chunksOf(png: Uint8Array): PngChunk[] {
  if (SIGNATURE.some((byte, k) => png[k] !== byte)) throw new RangeError('This is no PNG.');
  const view = new DataView(png.buffer, png.byteOffset, png.byteLength);
  const chunks: PngChunk[] = [];
  for (let at = 8; at < png.length; ) {
    if (at + 12 > png.length) throw new RangeError('The PNG breaks off.');
    const to = at + 12 + view.getUint32(at);
    if (to > png.length) throw new RangeError('The PNG breaks off.');
    const type = String.fromCharCode(...png.subarray(at + 4, at + 8));
    chunks.push({ type, from: at, to });
    if (type === 'IEND') return chunks;
    at = to;
  }
  throw new RangeError('The PNG breaks off.');
}

/**
 * A PNG that says how many pixels an inch it has (pHYs) and that its colours are sRGB, with no time or text in it, so that
 * the same picture has the same bytes. What its pixels are made of is not touched.
 * @returns its pieces, to be put together without copying the large one
 */
export function withResolution(png: Uint8Array, dpi: number): Uint8Array<ArrayBufferLike>[] {
  const physical = new Uint8Array(9);
  const view = new DataView(physical.buffer);
  const perMetre = Math.round(dpi / METRES_PER_INCH);
  view.setUint32(0, perMetre);
  view.setUint32(4, perMetre);
  physical[8] = 1;
  const out: Uint8Array<ArrayBufferLike>[] = [png.subarray(0, 8)];
  for (const { type, from, to } of chunksOf(png)) {
    if (REPLACED.has(type)) continue;
    out.push(png.subarray(from, to));
    // Perceptual intent: 0.
    if (type === 'IHDR') out.push(chunk('sRGB', Uint8Array.of(0)), chunk('pHYs', physical));
  }
  return out;
}

/** The size of a PNG and its resolution, where it says one. @throws RangeError where it is none */
export function pngHead(png: Uint8Array): { width: number; height: number; dpi: number | null } {
  const view = new DataView(png.buffer, png.byteOffset, png.byteLength);
  const chunks = chunksOf(png);
  if (chunks[0]?.type !== 'IHDR') throw new RangeError('The PNG has no head.');
  const physical = chunks.find((c) => c.type === 'pHYs');
  const perMetre = physical && png[physical.from + 16] === 1 ? view.getUint32(physical.from + 8) : null;
  return {
    width: view.getUint32(16),
    height: view.getUint32(20),
    dpi: perMetre === null ? null : perMetre * METRES_PER_INCH,
  };
}

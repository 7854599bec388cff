import { deflateSync, inflateSync } from 'node:zlib';
import fc from 'fast-check';
import { chunksOf, fileNameBy, type Lies, mockUp, pngHead, seenAt, stageOf, warpOf, withResolution } from '.';

/** CRC-32 bit by bit, as the standard writes it. */
function crc(bytes: Uint8Array): number {
  let c = 0xffffffff;
  for (const byte of bytes)
    for (let k = 0; k < 8; k++) c = ((c ^ (byte >> k)) & 1 ? 0xedb88320 : 0) ^ (c >>> 1);
  return ~c >>> 0;
}

function png(width: number, height: number, ...extra: [string, Buffer][]): Buffer {
  const chunk = (type: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
    const [length, sum] = [Buffer.alloc(4), Buffer.alloc(4)];
    length.writeUInt32BE(data.length);
    sum.writeUInt32BE(crc(body));
    return Buffer.concat([length, body, sum]);
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width, 0);
  head.writeUInt32BE(height, 4);
  head.set([8, 6], 8);
  const rows = Buffer.alloc(height * (1 + 4 * width), 7);
  for (let y = 0; y < height; y++) rows[y * (1 + 4 * width)] = 0;
  return Buffer.concat([
    Buffer.from([137, 80, 78, 71, 13, 10, 26, 10]),
    chunk('IHDR', head),
    ...extra.map(([type, data]) => chunk(type, data)),
    chunk('IDAT', deflateSync(rows)),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

test('a print file says its resolution and sRGB, keeps its pixels, and has right sums; its time and texts are gone', () => {
  const made = png(5, 3, ['tIME', Buffer.alloc(7)], ['tEXt', Buffer.from('a\0b')], ['pHYs', Buffer.alloc(9)]);
  const out = Buffer.concat(withResolution(made, 300));
  expect(chunksOf(out).map((c) => c.type)).toEqual(['IHDR', 'sRGB', 'pHYs', 'IDAT', 'IEND']);
  for (const { from, to } of chunksOf(out))
    expect(out.readUInt32BE(to - 4)).toBe(crc(out.subarray(from + 4, to - 4)));
  const head = pngHead(out);
  expect(head).toEqual({ width: 5, height: 3, dpi: expect.closeTo(300, 1) });
  // 300 an inch are 11,811 a metre.
  expect(out.indexOf(Buffer.from([0, 0, 0x2e, 0x23]))).toBeGreaterThan(0);
  const data = (file: Buffer) => {
    const c = chunksOf(file).find((one) => one.type === 'IDAT')!;
    return inflateSync(file.subarray(c.from + 8, c.to - 4));
  };
  expect(data(out).equals(data(made))).toBe(true);
  expect(() => pngHead(out.subarray(0, 60))).toThrow('breaks off');
  expect(() => pngHead(Buffer.from('GIF89a'))).toThrow('no PNG');
});

const LIES: readonly Lies[] = [
  { kind: 'flat', x: 20.5, y: 30.25, width: 200, height: 150 },
  {
    kind: 'corners',
    points: [
      { x: 60, y: 20 },
      { x: 280, y: 70 },
      { x: 260, y: 290 },
      { x: 30, y: 250 },
    ],
  },
  {
    kind: 'mesh',
    columns: 2,
    rows: 2,
    points: [
      [20, 20],
      [150, 34],
      [280, 16],
      [26, 150],
      [160, 170],
      [286, 146],
      [18, 280],
      [148, 292],
      [280, 276],
    ].map(([x, y]) => ({ x: x!, y: y! })),
  },
  { kind: 'cylinder', x: 150, y: 150, radius: 120, height: 200, from: -75, to: 75, sink: 24 },
];

test.each(LIES)('each point of an area on a $kind is drawn within half a pixel of its formula', (lies) => {
  const warp = warpOf(lies, { width: 300, height: 300 });
  const seen = seenAt(lies);
  let [looked, worst] = [0, 0];
  for (let y = 0; y < warp.height; y++)
    for (let x = 0; x < warp.width; x++) {
      const at = (y * warp.width + x) * 2;
      const [u, v] = [warp.uv[at]!, warp.uv[at + 1]!];
      if (Number.isNaN(u) || u < 0 || u > 1 || v < 0 || v > 1) continue;
      const p = seen(u, v);
      worst = Math.max(worst, Math.hypot(p.x - (warp.x + x + 0.5), p.y - (warp.y + y + 0.5)));
      looked++;
    }
  expect(looked).toBeGreaterThan(15_000);
  expect(worst).toBeLessThan(0.5);
});

const plain = (width: number, height: number, ...rgba: number[]) => ({
  width,
  height,
  data: Uint8ClampedArray.from({ length: width * height * 4 }, (_, k) => rgba[k % 4]!),
});

test('goods take the colour of the blank, print lies on goods alone, and a darker shade darkens it more', () => {
  const side = 40;
  const goods = plain(side, side, 255, 255, 255, 255);
  // The right half is no goods.
  for (let k = 0; k < side * side; k++) if (k % side >= side / 2) goods.data[k * 4 + 3] = 0;
  const parts = { ground: plain(side, side, 10, 200, 30, 255), goods, shade: null, light: null, front: null };
  const warp = warpOf({ kind: 'flat', x: 0, y: 0, width: side, height: side }, { width: side, height: side });
  const half = plain(8, 8, 200, 100, 0, 255);
  const at = (p: { data: Uint8ClampedArray | Uint8Array }, x: number, y: number) => [
    ...p.data.subarray((y * side + x) * 4, (y * side + x) * 4 + 3),
  ];
  expect(at(mockUp(stageOf(parts, '#336699'), []), 5, 5)).toEqual([0x33, 0x66, 0x99]);
  const printed = mockUp(stageOf(parts, '#336699'), [{ warp, pixels: half }]);
  expect(at(printed, 5, 5)).toEqual([200, 100, 0]);
  expect(at(printed, 30, 5)).toEqual([10, 200, 30]);
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 255 }), fc.integer({ min: 0, max: 255 }), (a, b) => {
      const red = (grey: number) =>
        at(
          mockUp(stageOf({ ...parts, shade: plain(side, side, grey, grey, grey, 255) }, '#ffffff'), [
            { warp, pixels: half },
          ]),
          5,
          5,
        )[0]!;
      expect(Math.sign(red(a) - red(b)) * Math.sign(a - b)).toBeGreaterThanOrEqual(0);
    }),
    { numRuns: 20 },
  );
});

test('file names have no signs that a file system refuses, and none comes twice', () => {
  const used = new Set<string>();
  const name = (design: string) => fileNameBy('{design} {size}', { design, size: 'A4' }, 'png', used);
  expect([name('Moon/phases: 1'), name('moon-phases- 1'), name('月の満ち欠け'), name('')]).toEqual([
    'Moon-phases- 1 A4.png',
    'moon-phases- 1 A4-2.png',
    '月の満ち欠け A4.png',
    'A4.png',
  ]);
  expect(name('x'.repeat(300)).length).toBeLessThan(130);
});

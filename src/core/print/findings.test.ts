import {
  ALIKE,
  type BlankArea,
  CENTRED,
  differenceOf,
  type Finding,
  findingInWords,
  findingsOf,
  type LookedAt,
  lookAt,
  type Placement,
} from '.';

const area: BlankArea = {
  id: 'front',
  name: 'Front',
  shape: 'rectangle',
  technique: { name: 'Ink', halfTones: false, opaque: false, underprint: false, finestLine: 0.5 },
  bleed: 5,
  safe: 20,
  extra: 0,
  // 500 × 700 mm.
  files: { '*': { width: 2_953, height: 4_134, dpi: 150 } },
};
const look = {
  half: 0,
  transparent: true,
  bounds: [0, 0, 1, 1] as const,
  palette: [{ r: 20, g: 30, b: 60, share: 1 }],
  finest: null,
  hash: '0'.repeat(16),
};
const design = (change: Partial<LookedAt> = {}): LookedAt => ({
  id: 'd',
  width: 1_800,
  height: 1_800,
  drawing: false,
  bounds: [0, 0, 1, 1],
  look,
  ...change,
});
const WHITE = [{ name: 'White', hex: '#ffffff' }];
const found = (
  placement: Partial<Placement>,
  d = design(),
  on = area,
  background: string | null = null,
): Finding[] =>
  findingsOf(
    on,
    '',
    { background, layers: [{ id: 'l', design: 'd', trim: false, placement: { ...CENTRED, ...placement } }] },
    (id) => (id === 'd' ? d : undefined),
    WHITE,
  );

test('a design of too few pixels is soft, with the size up to which it is sharp', () => {
  // 460 mm of 1,800 pixels are 99 an inch; 150 an inch are 304.8 mm.
  const [finding] = found({});
  expect(finding).toMatchObject({ kind: 'soft', dpi: 99, width: expect.closeTo(304.8, 1) });
  expect(findingInWords(finding!)).toBe('99 DPI, prints soft; sharp up to 305 × 305 mm.');
  expect(found({ scale: 0.6 })).toEqual([]);
  expect(found({}, design({ drawing: true }))).toEqual([]);
});

test('what reaches over the safe line, or into the bleed and not through it, is told with its millimetres', () => {
  const sharp = design({ drawing: true });
  expect(found({ within: 'file', scale: 0.98 }, sharp)).toEqual([
    { kind: 'over the safe line', by: expect.closeTo(15, 1) },
    // A square as wide as 490 of 500 mm ends 5 mm before the edge: just at the cut.
  ]);
  expect(found({ within: 'file', scale: 0.99 }, sharp)).toContainEqual({
    kind: 'bleeds short',
    by: expect.closeTo(2.5, 1),
  });
  expect(found({ how: 'fill', within: 'file' }, sharp)).toEqual([]);
});

test('half tones, fine lines, little contrast, transparency and what is missing are found', () => {
  const kinds = (d: LookedAt, on = area, background: string | null = null) =>
    found({}, { ...d, drawing: true }, on, background).map((f) => f.kind);
  expect(kinds(design({ look: { ...look, half: 0.4 } }))).toEqual(['half transparent']);
  // A line of a thousandth of 460 mm.
  expect(kinds(design({ look: { ...look, finest: 0.001 } }))).toEqual(['fine lines']);
  const pale = design({ look: { ...look, palette: [{ r: 250, g: 246, b: 235, share: 1 }] } });
  expect(kinds(pale)).toEqual(['hardly seen']);
  expect(kinds(pale, area, '#101020')).toEqual([]);
  const paper = { ...area, technique: { ...area.technique, opaque: true } };
  expect(kinds(design(), paper)).toEqual(['not opaque']);
  expect(kinds(design(), paper, '#ffffff')).toEqual([]);
  expect(findingsOf(area, '', { background: null, layers: [] }, () => undefined, WHITE)).toEqual([
    { kind: 'empty' },
  ]);
});

/** Pixels by a rule of place. */
function pixels(
  width: number,
  height: number,
  at: (x: number, y: number) => readonly [number, number, number, number],
) {
  const data = new Uint8ClampedArray(width * height * 4);
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) data.set(at(x, y), (y * width + x) * 4);
  return { width, height, data };
}

test('margins, half tones, main colours and fine lines are seen in the pixels', () => {
  const seen = lookAt(
    pixels(100, 80, (x, y) => {
      if (x < 20 || x >= 90 || y < 8 || y >= 72) return [0, 0, 0, 0];
      // Two lines of two pixels on a disc of half tones.
      if (x === 40 || x === 41) return [200, 0, 0, 255];
      return x > 60 ? [0, 0, 120, 128] : [0, 0, 120, 255];
    }),
  );
  expect(seen.bounds).toEqual([0.2, 0.1, 0.9, 0.9]);
  // All but the rim of the half-transparent part: 28 of its 29 columns, 62 of 64 rows.
  expect(seen.half).toBeCloseTo((28 * 62) / (70 * 64), 6);
  expect(seen.palette.map((c) => Math.round(c.share * 100))).toEqual([97, 3]);
  const lines = lookAt(pixels(200, 200, (x, y) => (x % 40 < 3 && y > 20 ? [0, 0, 0, 255] : [0, 0, 0, 0])));
  expect(lines.finest).toBeCloseTo(3 / 200, 6);
  expect(lookAt(pixels(50, 50, () => [9, 9, 9, 255])).finest).toBeNull();
});

test('a copy in another size looks alike, another picture does not', () => {
  const wave = (n: number, f: number) =>
    lookAt(
      pixels(n, n, (x, y) => [
        Math.round(127 + 120 * Math.sin((f * x) / n) * Math.cos((5 * y) / n)),
        90,
        60,
        255,
      ]),
    ).hash;
  expect(differenceOf(wave(240, 9), wave(120, 9))).toBeLessThanOrEqual(ALIKE);
  expect(differenceOf(wave(240, 9), wave(240, 15))).toBeGreaterThan(ALIKE);
});

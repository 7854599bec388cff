import fc from 'fast-check';
import {
  type Box,
  beyond,
  boundsOf,
  boxOf,
  CENTRED,
  covers,
  type Field,
  HOWS,
  type Natural,
  type Placement,
  pixelsOf,
  placementAt,
  REPEATS,
  tilesOf,
} from '.';

const field = (across: number, down: number, dpi = 150, safe = 10): Field => ({
  ...{ across, down, dpi, safe, bleed: 3 },
  width: Math.round(pixelsOf(across, dpi)),
  height: Math.round(pixelsOf(down, dpi)),
});
const held = fc.constantFrom(-1 as const, 0 as const, 1 as const);
const aField = fc
  .record({ across: fc.integer({ min: 40, max: 900 }), down: fc.integer({ min: 40, max: 900 }) })
  .map(({ across, down }) => field(across, down));
const aNatural: fc.Arbitrary<Natural> = fc.record({
  width: fc.integer({ min: 16, max: 9_000 }),
  height: fc.integer({ min: 16, max: 9_000 }),
});
const aPlacement: fc.Arbitrary<Placement> = fc.record({
  how: fc.constantFrom(...HOWS),
  within: fc.constantFrom('file' as const, 'safe' as const),
  scale: fc.double({ min: 0.05, max: 4, noNaN: true }),
  holdX: held,
  holdY: held,
  x: fc.double({ min: -1, max: 1, noNaN: true }),
  y: fc.double({ min: -1, max: 1, noNaN: true }),
  turn: fc.integer({ min: -360, max: 360 }),
  mirror: fc.boolean(),
  repeat: fc.constant(null),
});
const near = (a: Box, b: Box) => {
  for (const name of ['cx', 'cy', 'width', 'height', 'turn'] as const)
    expect(a[name]).toBeCloseTo(b[name], 6);
};

test('a design that fits in is nowhere cut, however it is turned and held, and touches two sides', () => {
  fc.assert(
    fc.property(
      aField,
      aNatural,
      fc.integer({ min: 0, max: 359 }),
      held,
      held,
      (f, n, turn, holdX, holdY) => {
        for (const within of ['file', 'safe'] as const) {
          const box = boxOf({ ...CENTRED, within, turn, holdX, holdY }, f, n);
          const inset = within === 'file' ? 0 : f.safe;
          expect(beyond(box, f, inset)).toBeLessThan(1e-6);
          const around = boundsOf(box);
          const left = Math.min(f.across - 2 * inset - around.width, f.down - 2 * inset - around.height);
          expect(left).toBeCloseTo(0, 6);
        }
      },
    ),
  );
});

test('a design that fills leaves no gap, however it is turned', () => {
  fc.assert(
    fc.property(aField, aNatural, fc.integer({ min: 0, max: 359 }), (f, n, turn) => {
      expect(covers(boxOf({ ...CENTRED, how: 'fill', within: 'file', turn }, f, n), f)).toBe(true);
    }),
  );
});

test('where a hand put a design is found again from its placement, and carried to another area and back it lies the same', () => {
  fc.assert(
    fc.property(aPlacement, aField, aField, aNatural, (p, here, there, n) => {
      const box = boxOf(p, here, n);
      near(boxOf(placementAt(box, p, here, n), here, n), box);
      // Laid there by the same words, taken for what a hand did there, and brought back.
      const carried = placementAt(boxOf(p, there, n), p, there, n);
      near(boxOf(carried, here, n), box);
    }),
  );
});

test('turned four times by a quarter it lies as before, to the last digit', () => {
  const f = field(200, 300);
  const n = { width: 1_000, height: 700 };
  const once = boxOf(CENTRED, f, n);
  const turned = boxOf({ ...CENTRED, turn: 360 }, f, n);
  expect({ ...turned, turn: 0 }).toEqual(once);
  expect(boundsOf({ ...once, turn: 90 })).toEqual({ width: once.height, height: once.width });
});

test('one placement means the same in mm at any resolution', () => {
  fc.assert(
    fc.property(aPlacement, aNatural, fc.constantFrom(72, 150, 300, 600), (p, n, dpi) => {
      const [low, high] = [field(210, 297, 100), field(210, 297, dpi)];
      near(boxOf(p, low, n), boxOf(p, high, n));
    }),
  );
});

test('repeats cover the area without a gap and meet edge to edge', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...REPEATS),
      fc.integer({ min: 7, max: 90 }),
      fc.integer({ min: 7, max: 90 }),
      fc.integer({ min: -50, max: 250 }),
      fc.integer({ min: -50, max: 250 }),
      (kind, width, height, cx, cy) => {
        const area = { width: 200, height: 160 };
        const box = { cx, cy, width, height, turn: 0, mirror: false };
        const tiles = tilesOf(box, { kind, gap: 0 }, area, Math.round);
        const shift = (k: number) => ((k % 1) + 1) % 1;
        for (let k = 0; k < 40; k++) {
          const [x, y] = [((k * 37) % 200) + 0.5, ((k * 53) % 160) + 0.5];
          const over = tiles.filter(
            (t) => Math.abs(x - t.cx) <= width / 2 && Math.abs(y - t.cy) <= height / 2,
          ).length;
          expect(over).toBeGreaterThan(0);
        }
        // Whole steps: the same fraction of a pixel for all, so that rounding cannot open a seam.
        expect(new Set(tiles.map((t) => shift(t.cx - cx).toFixed(6))).size).toBe(1);
      },
    ),
  );
});

test('bricks and half-drops stand half a tile aside, and mirrored neighbours face each other', () => {
  const box = { cx: 50, cy: 50, width: 20, height: 10, turn: 0, mirror: false };
  const area = { width: 100, height: 100 };
  const at = (kind: 'brick' | 'half-drop' | 'mirror' | 'grid', cx: number, cy: number) =>
    tilesOf(box, { kind, gap: 0 }, area).find((t) => t.cx === cx && t.cy === cy);
  expect(at('grid', 70, 60)).toBeDefined();
  expect(at('brick', 60, 60)).toBeDefined();
  expect(at('brick', 70, 60)).toBeUndefined();
  expect(at('half-drop', 70, 55)).toBeDefined();
  expect(at('mirror', 70, 60)).toMatchObject({ mirrorX: true, mirrorY: true });
  expect(at('mirror', 50, 60)).toMatchObject({ mirrorX: false, mirrorY: true });
});

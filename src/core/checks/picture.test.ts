import fc from 'fast-check';
import { fittedPicture, ownPicture, ownPictureName, pictureProblems } from '.';

const hash = 'a'.repeat(64);
const side = fc.integer({ min: 1, max: 4000 });

test('a picture that is fitted has nothing wrong with it, shows all of what it showed, and is fitted once', () => {
  fc.assert(
    fc.property(
      side,
      side,
      fc.integer({ min: 0, max: 1600 }),
      fc.boolean(),
      (width, height, shortest, square) => {
        const rules = { least: 0, most: 5, shortest, square };
        const name = ownPictureName({ width, height, hash, fitted: false });
        const fitted = fittedPicture(name, rules);
        expect(fittedPicture(fitted, rules)).toBe(fitted);
        if (!pictureProblems([name], rules, 'Site').length) expect(fitted).toBe(name);
        if (fitted === name) return;
        expect(pictureProblems([fitted], rules, 'Site')).toEqual([]);
        const own = ownPicture(fitted)!;
        expect(own.fitted).toBe(true);
        expect(Math.min(own.width / width, own.height / height)).toBeGreaterThanOrEqual(1);
      },
    ),
  );
});

test('the address of a supplier is left as it is, and so is what would be enlarged beyond use', () => {
  const rules = { least: 1, most: 5, shortest: 1000, square: true };
  expect(fittedPicture('/pictures/a.svg', rules)).toBe('/pictures/a.svg');
  const tiny = ownPictureName({ width: 300, height: 300, hash, fitted: false });
  expect(fittedPicture(tiny, rules)).toBe(tiny);
});

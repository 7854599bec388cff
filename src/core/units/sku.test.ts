import fc from 'fast-check';
import { skuBy } from '.';

const fields = { sku: 'BW-010001', number: '010001', brand: 'Fellmoor & Söhne', colour: 'Night blue' };

test.each([
  ['DD-{number}', 'DD-010001'],
  ['{sku}', 'BW-010001'],
  ['{brand:3}-{number}-{Colour:2}', 'FEL-010001-NI'],
  ['{brand}', 'FELLMOOR-SOHNE'],
  ['{size}-{number}', '010001'],
  ['{number}-{size}-{colour}', '010001-NIGHT-BLUE'],
  ['{__proto__}{number}', '010001'],
])('pattern %s gives %s', (pattern, sku) => {
  expect(skuBy(pattern, fields)).toBe(sku);
});

test('no pattern makes a SKU with blanks or hyphens at its ends', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 30 }), fc.string({ maxLength: 30 }), (brand, colour) => {
      expect(skuBy('{brand}-{number}-{colour:4}', { ...fields, brand, colour })).toMatch(
        /^[A-Z0-9.]+(-[A-Z0-9.]+)*$/,
      );
    }),
  );
});

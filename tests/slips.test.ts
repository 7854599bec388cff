import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { PDFDocument } from 'pdf-lib';
import { slipOf } from '@/core/slip';
import { drawSlips, fontFile, SLIP_FONTS } from '@/work/browser/draw/slip-pdf';

const bytes = (weight: 400 | 700) =>
  SLIP_FONTS.map((part) => new Uint8Array(readFileSync(join('public', 'fonts', fontFile(part, weight)))));
const FONTS = { regular: bytes(400), bold: bytes(700) };

const slip = (name: string, part: Partial<Parameters<typeof slipOf>[0]> = {}) =>
  slipOf({
    shop: 'Dusk & Dipper',
    contact: 'hello@dusk.example',
    number: 'PW-1',
    day: '27 Nov 2026',
    address: { name, line1: '4 Otter Row', line2: '', town: 'Bath', postcode: 'BA1 5TT', country: 'GB' },
    lines: [{ units: 2, title: 'Red torch', words: '' }],
    message: 'Clear skies',
    gift: '',
    ...part,
  });

test('slips are one page each in one file, in the scripts that are shipped; letters that no font has are named', async () => {
  const some = [
    slip('Ida Roe'),
    slip('Łukasz Żółć', { address: { ...slip('').address, country: 'PL' } }),
    slip('Анна Иванова'),
    slip('Νίκος'),
    slip('山田 Ida', { number: 'PW-5' }),
    slip('Bo', {
      lines: Array.from({ length: 200 }, (_, k) => ({
        units: 1,
        title: `Goods ${k} ${'long '.repeat(30)}`,
        words: '',
      })),
    }),
    slip('X'.repeat(500)),
    slip('Bo', { gift: 'Happy birthday, dear Bo! '.repeat(60), message: 'Thank you. '.repeat(80) }),
  ];
  const drawn = (await drawSlips(some, FONTS))!;
  expect((await PDFDocument.load(drawn.bytes)).getPageCount()).toBe(some.length);
  expect(drawn.lacking).toEqual([{ number: 'PW-5', letters: ['山', '田'] }]);
  expect(some[1]!.language).toBe('pl');
});

test('it can be stopped between slips', async () => {
  const seen: number[] = [];
  const some = Array.from({ length: 90 }, () => slip('Ida Roe'));
  const goesOn = (done: number) => seen.push(done) < 2;
  expect(await drawSlips(some, FONTS, goesOn)).toBeNull();
  expect(seen).toEqual([20, 40]);
});

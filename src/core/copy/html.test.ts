import fc from 'fast-check';
import { cleanHtml, plainText } from '.';

test.each([
  ['Cable <2m long', 'Cable <2m long'],
  ['<3 Love mug', '<3 Love mug'],
  ['Width < 5 cm, height > 3 cm', 'Width < 5 cm, height > 3 cm'],
  ['a<b>c</b>d', 'acd'],
  ['<p>One</p><p>two</p>', 'One two'],
  ['Lens 5 <x', 'Lens 5 <x'],
  ['Acme&copy; &amp; &#x27;Son&#x27; &eacute;', 'Acme© & ‘Son‘ é'.replaceAll('‘', "'")],
  ['Salt &not pepper & AT&T &copy 2020', 'Salt &not pepper & AT&T &copy 2020'],
  ['&lt;b&gt; is markup', '<b> is markup'],
  ['👨‍👩‍👧 family mug', '👨‍👩‍👧 family mug'],
  ['می‌خواهم', 'می‌خواهم'],
  ['क्‍ष', 'क्‍ष'],
  [' ‍ joiner alone ‌', 'joiner alone'],
  ['soft­hyphen and zero​width', 'softhyphen and zerowidth'],
  ['Torch<script>alert(1)</script> red', 'Torch red'],
  ['<svg><text>no</text></svg>yes<embed>too', 'yestoo'],
  ['x <!-- hidden --> y', 'x y'],
])('plain text of “%s” is “%s”', (text, plain) => {
  expect(plainText(text)).toBe(plain);
});

test.each([
  ['<p>Width < 5 cm, height > 3 cm</p>', '<p>Width &lt; 5 cm, height &gt; 3 cm</p>'],
  ['Cable <2m long', 'Cable &lt;2m long'],
  ['<p>x</p><script>', '<p>x</p>'],
  ['<P CLASS=x>Big<BR/>lens', '<p>Big<br>lens'],
  ['<textarea><p>t</textarea><b onclick=x()>go</b>', '&lt;p&gt;t<b>go</b>'],
  ['<p>it <i', '<p>it &lt;i'],
])('cleaned, “%s” is “%s”', (html, clean) => {
  expect(cleanHtml(html)).toBe(clean);
});

const pieces = fc.array(
  fc.constantFrom(
    '<',
    '>',
    '&',
    ';',
    '&amp;',
    '&#60;',
    '<b>',
    '</b>',
    '<script>',
    '</script>',
    '<svg',
    '"',
    "'",
    ' ',
    '=',
    '/',
    '!--',
    '-->',
    'a',
    '‍',
    '\n',
    '5',
  ),
  { maxLength: 30 },
);

test('of any text cleaning leaves only formatting, and cleaning it again changes nothing', () => {
  fc.assert(
    fc.property(pieces, (p) => {
      const clean = cleanHtml(p.join(''));
      expect(clean.replace(/<\/?(p|br|ul|ol|li|b|strong|i|em|h3|h4|table|tbody|tr|td|th)>/g, '')).not.toMatch(
        /[<>]/,
      );
      expect(cleanHtml(clean)).toBe(clean);
      const plain = plainText(p.join(''));
      expect(plain).not.toMatch(/^ | {2}| $|\n/);
    }),
    { numRuns: 500 },
  );
});

test('the work grows with the length of the text, whatever stands in it', () => {
  for (const unit of ['&a', '<a', '< ', '<b ', '<!--', '&#', '"', '  ‍', '‍'])
    for (const clean of [plainText, cleanHtml]) expect(typeof clean(unit.repeat(50_000))).toBe('string');
});

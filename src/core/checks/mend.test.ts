import fc from 'fast-check';
import { cleanHtml } from '../copy';
import { type Draft, isShouted, mendsFor, missingFor, type Site, USUAL_LIMITS } from './index';

const SITE: Site = {
  name: 'Pennywharf UK',
  currency: 'GBP',
  zone: 'Europe/London',
  titleLimit: 40,
  descriptionLimit: 120,
  needsDescription: true,
  pictures: { least: 1, most: 3, shortest: 0, square: false },
  bannedWords: ['best', 'mass produced'],
  shipsTo: ['GB'],
  fees: { rules: [], tax: { model: 'none', rate: 0 } },
  tags: { most: 3, longest: 10 },
  drafts: false,
  attributes: [],
  limits: USUAL_LIMITS,
  carriers: [],
  categories: [{ id: 'all', name: 'All', words: [], needsBrand: false, needsGtin: false }],
};
const DRAFT: Draft = {
  title: 'Red torch',
  description: '<p>For the field.</p>',
  brand: '',
  gtin: null,
  category: 'all',
  pictures: ['/p'],
  tags: ['torch'],
  copy: null,
  attributes: {},
  priceProblem: null,
};
const mended = (draft: Draft): Draft => {
  const fixes = new Map(mendsFor(draft, SITE).map((m) => [m.field, m.fix]));
  const tags = fixes.get('tags');
  return {
    ...draft,
    title: fixes.get('title') ?? draft.title,
    description: fixes.get('description') ?? draft.description,
    tags: tags === undefined ? draft.tags : tags.split(', ').filter(Boolean),
  };
};

test.each([
  ['The best red torch', 'The red torch'],
  ['RECHARGEABLE HEADLAMP WITH LED STRAP', 'Rechargeable Headlamp With LED Strap'],
  ['A mass produced torch', 'A torch'],
  ['Red head torch, rechargeable, with strap and case', 'Red head torch, rechargeable, with strap'],
  ['BEST RECHARGEABLE TORCH EVER MADE ANYWHERE ON EARTH', 'Rechargeable Torch Ever Made Anywhere on'],
])('a title “%s” becomes “%s”', (title, better) => {
  expect(mendsFor({ ...DRAFT, title }, SITE)).toMatchObject([{ field: 'title', fix: better }]);
});

test('what is right is left alone, and what only a person can mend too', () => {
  expect(mendsFor(DRAFT, SITE)).toEqual([]);
  const wrong: Draft = { ...DRAFT, gtin: '4006381333932', pictures: [] };
  expect(missingFor(wrong, SITE)).toHaveLength(2);
  expect(mendsFor(wrong, SITE)).toEqual([]);
  // A title of nothing but what is not taken cannot be mended by leaving it out.
  expect(mendsFor({ ...DRAFT, title: 'Best' }, SITE)).toEqual([]);
  expect(isShouted('NASA LED USB torch')).toBe(false);
});

test('mending comes within every limit, is mending once, and leaves nothing that mending could mend', () => {
  const word = fc.constantFrom(
    'best',
    'BEST',
    'Torch',
    'RECHARGEABLE',
    'HEADLAMP',
    'a',
    'mass',
    'produced',
    'X200-B',
    'für',
    'ÜBERGROSS',
    ',',
    '–',
  );
  const part = fc.constantFrom(
    '<p>',
    '</p>',
    '<script>x</script>',
    '<a href="//y">',
    'word ',
    '<ul><li>',
    '</li></ul>',
    '&amp;',
  );
  fc.assert(
    fc.property(
      fc.array(word, { maxLength: 14 }),
      fc.array(part, { maxLength: 40 }),
      fc.array(fc.string({ minLength: 1, maxLength: 14 }), { maxLength: 6 }),
      (words, parts, tags) => {
        const draft: Draft = {
          ...DRAFT,
          title: words.join(' '),
          description: parts.join(''),
          tags: tags.map((t) => t.replace(/[,;\s]/g, 'x')),
        };
        const after = mended(draft);
        expect(mendsFor(after, SITE)).toEqual([]);
        const left = missingFor(after, SITE).map((m) => m.field);
        if (after.title !== '' && mendsFor({ ...DRAFT, title: draft.title }, SITE).length)
          expect(left).not.toContain('title');
        expect(left).not.toContain('tags');
        // Where nothing stays, only a person can write another one.
        if (cleanHtml(draft.description) === '') return;
        expect(
          missingFor(after, SITE).filter((m) => m.field === 'description' && !/missing/.test(m.reason)),
        ).toEqual([]);
      },
    ),
    { numRuns: 500 },
  );
});

import fc from 'fast-check';
import {
  type BuyerField,
  boundsOfOutlines,
  drawWords,
  type Face,
  horizontal,
  newField,
  type PersonalWorld,
  PRINT_FONTS,
  problemInWords,
  problemsOf,
  readBuyersDay,
  readWords,
  settable,
  setWords,
  siderealTime,
  type TextField,
  writeValues,
} from '@/core/personal';
import { shippedLettering } from '../demo/lettering';

const lettering = shippedLettering();
let world: PersonalWorld;
beforeAll(async () => {
  world = {
    ...(await lettering(
      PRINT_FONTS.map((f) => f.id),
      true,
    )),
    forbidden: ['Comet Cola'],
  };
});

const NAME = newField('text', 'name', 'Name') as TextField;
const DATE = newField('date', 'date', 'Date');
const PLACE = newField('place', 'place', 'Place');
const SKY = { ...PLACE, as: 'sky' } as BuyerField;
const COLOUR = newField('choice', 'colour', 'Colour');
const ALL = [NAME, DATE, SKY, COLOUR];
const AREA = { across: 500, down: 700 };

const kinds = (fields: readonly BuyerField[], values: Record<string, string>) =>
  problemsOf(fields, values, world.forbidden, world.places).map((p) => p.kind);

describe('what a buyer wrote is read into the fields', () => {
  const values = { name: 'Ida & Bo', date: '21 June 2026', place: 'Leeds', colour: 'Rust' };

  test('by rows with the names of fields, in any case and order; what belongs to none is left', () => {
    const text = 'DATE = 21 June 2026\r\nname: Ida & Bo\nplace : Leeds\nColour: Rust\nplease hurry!';
    expect(readWords(text, ALL)).toEqual({ values, left: 'please hurry!' });
  });

  test('by the site’s pattern, before anything else', () => {
    const pattern = 'For {Name}, on {Date}';
    expect(readWords('Hello! For Ida & Bo, on 21 June 2026', ALL, pattern)).toEqual({
      values: { name: 'Ida & Bo', date: '21 June 2026' },
      left: 'Hello!',
    });
    expect(readWords('something else', [NAME], pattern).values).toEqual({ name: 'something else' });
  });

  test('all of it into the only field; row by row where there are as many; else nothing is guessed', () => {
    expect(readWords('Ida; Bo', [NAME]).values).toEqual({ name: 'Ida; Bo' });
    expect(readWords('Ida & Bo | 21 June 2026', [NAME, DATE]).values).toEqual({
      name: 'Ida & Bo',
      date: '21 June 2026',
    });
    expect(readWords('Ida, Bo and the cat', ALL)).toEqual({ values: {}, left: 'Ida, Bo and the cat' });
  });

  test('a pattern of many fields takes no longer for a long text that it does not fit', () => {
    const pattern = Array.from({ length: 12 }, (_, k) => `{f${k}}`).join('a');
    expect(readWords('a'.repeat(1_000), ALL, pattern).values).toBeDefined();
  });

  test('values that are written are read back as they were, whatever is in them', () => {
    const word = fc.string({ unit: 'grapheme', maxLength: 40 });
    fc.assert(
      fc.property(word, word, (name, place) => {
        const own = { name: `${name}\nDate: ${place}`, place };
        const kept = Object.fromEntries(
          Object.entries(own).flatMap(([id, v]) => (settable(v) ? [[id, settable(v)]] : [])),
        );
        const { values: read } = readWords(writeValues(own, ALL), ALL);
        const plain = (v: string | undefined) =>
          v
            ?.split('\n')
            .map((row) => row.trim())
            .join('\n');
        for (const id of ['name', 'place'] as const) expect(plain(read[id])).toBe(plain(kept[id]));
      }),
    );
  });
});

describe('what cannot be made is said before', () => {
  test.each([
    ['500 characters', { name: 'a'.repeat(500) }, ['long']],
    ['line breaks', { name: 'Ida\nBo\nCleo' }, ['lines']],
    ['another script', { name: 'Ида' }, ['script']],
    ['a script of nobody', { name: '星空' }, ['script']],
    ['nothing', {}, ['missing']],
    ['control characters and zero-width joins alone', { name: '\u0000\u200d\u202e\u0007' }, ['missing']],
    ['a word of the seller’s list', { name: 'COMET COLA!' }, ['forbidden']],
    ['a word that holds one of them', { name: 'Comet Colander' }, []],
    ['what may be printed', { name: 'Zoë & Łukasz' }, []],
  ])('%s', (_, values, expected) => {
    expect(kinds([NAME], values as Record<string, string>)).toEqual(expected);
  });

  test('a day that the calendar does not have, one that may be two, a place that does not exist or is there twice', () => {
    const ask = (date: string, place: string) => kinds([DATE, SKY], { date, place });
    expect(ask('31 February 2026', 'Leeds')).toEqual(['no such day', 'no day for the sky']);
    expect(ask('3/4/2026', 'Leeds')).toEqual(['which day', 'no day for the sky']);
    expect(ask('13/4/2026', 'Atlantis on Sea')).toEqual(['no such place']);
    expect(ask('21 June 2026', 'Newcastle')).toEqual(['which place']);
    expect(ask('21 June 2026 23:30', 'Newcastle, Tyne and Wear, GB')).toEqual([]);
    expect(kinds([COLOUR], { colour: 'Puce' })).toEqual(['no such choice']);
  });

  test('days as buyers write them', () => {
    const day = (typed: string) => readBuyersDay(typed);
    for (const typed of [
      '21 June 2026',
      '21.6.2026',
      '2026-06-21',
      'June 21st, 2026',
      '21. Juni 2026',
      '21/06/2026',
    ])
      expect(day(typed)).toEqual({ day: '2026-06-21', time: null });
    expect(day('21 June 2026 23:30')).toEqual({ day: '2026-06-21', time: '23:30' });
    expect(day('5.6.1931')).toEqual({ day: '1931-06-05', time: null });
    for (const typed of ['29.2.2025', '21 June', 'soon', '21 June 2026 25:00']) expect(day(typed)).toBeNull();
  });

  test('letters that the font lacks, and what is too long for the smallest letters, with how to mend it', () => {
    const said = (name: string, field: Partial<TextField> = {}) =>
      drawWords([{ ...NAME, ...field }], [{ ...NAME, ...field }], { name }, AREA, world).problems.map((p) =>
        problemInWords(p, 'Name'),
      );
    expect(said('Ida 🎉')).toEqual([
      'Name: the font Playfair Display has no “🎉”. Leave them out, or choose another font.',
    ]);
    expect(said('נועה', { scripts: ['Hebrew'] })[0]).toContain('has no');
    expect(said('Ida & Bo', { lettering: { ...NAME.lettering, least: 200, most: 300 } })[0]).toMatch(
      /it fits at \d+\.\d mm only/,
    );
  });
});

describe('words are set inside their box', () => {
  const faces = () => PRINT_FONTS.map((f) => world.face(f.id)!);

  test('whatever they are, in every font, straight or bent, broken or not', () => {
    const letters = fc.constantFrom(...'abcdefgijpqyzABCMWQÄÉÑøßłğ0123456789 &!?.,’–'.split(''), ' ', '\n');
    fc.assert(
      fc.property(
        fc.array(letters, { minLength: 1, maxLength: 60 }),
        fc.nat(PRINT_FONTS.length - 1),
        fc.integer({ min: -200, max: 200 }),
        fc.integer({ min: 1, max: 5 }),
        fc.double({ min: 5, max: 400, noNaN: true }),
        fc.double({ min: 5, max: 400, noNaN: true }),
        fc.constantFrom('left' as const, 'centre' as const, 'right' as const),
        (some, font, curve, lines, width, height, align) => {
          const face: Face = faces()[font]!;
          const lettering = { ...NAME.lettering, least: 0, most: 200, curve, align };
          const text = settable(some.join(''));
          fc.pre(text !== '');
          const set = setWords(text, lines, lettering, face, { width, height });
          if (!set.ok) return set.why === 'lacking';
          const b = boundsOfOutlines(set.words.outlines);
          if (!(b.right > b.left)) return true;
          const hair = 1e-6;
          return b.left >= -hair && b.top >= -hair && b.right <= width + hair && b.bottom <= height + hair;
        },
      ),
      { numRuns: 300 },
    );
  });

  test('as large as they fit, and no larger than they may be; more lines where that makes them larger', () => {
    const face = world.face('noto-sans')!;
    const size = (text: string, lines: number, most = 500) => {
      const set = setWords(text, lines, { ...NAME.lettering, least: 0, most }, face, {
        width: 100,
        height: 100,
      });
      return set.ok ? set.words : null;
    };
    const one = size('clear skies for Ida', 1)!;
    const three = size('clear skies for Ida', 3)!;
    expect(three.size).toBeGreaterThan(one.size);
    expect(three.lines.join(' ')).toBe('clear skies for Ida');
    const b = boundsOfOutlines(one.outlines);
    expect(b.right - b.left).toBeCloseTo(100, 0);
    expect(size('Ida', 1, 12)!.size).toBe(12);
  });

  test('nothing of a text is read as markup, and the same words give the same drawing', () => {
    const field = { ...NAME, most: 200, lettering: { ...NAME.lettering, font: 'noto-sans', least: 0.1 } };
    const draw = () =>
      drawWords([field], [field], { name: '"/></svg><script>alert(1)</script>' }, AREA, world).layers;
    const [layer] = draw();
    expect(layer).toMatchObject({ kind: 'drawing' });
    const svg = layer?.kind === 'drawing' ? layer.svg : '';
    expect(svg).toMatch(/^<svg [^<>]*><path d="[MLQCZ0-9.\- e]+" fill="#[0-9a-f]{6}"\/><\/svg>$/);
    expect(draw()).toEqual([layer]);
  });

  test('a choice sets font and colour, in another area, too', () => {
    const font: BuyerField = {
      ...(COLOUR as Extract<BuyerField, { kind: 'choice' }>),
      ...{ id: 'font', name: 'Font', of: 'font', sets: 'name' },
      choices: [{ name: 'Written', value: 'caveat' }],
    };
    const svg = (values: Record<string, string>) =>
      drawWords([NAME, font, COLOUR], [NAME], { name: 'Ida', ...values }, AREA, world).layers.map((l) =>
        l.kind === 'drawing' ? l.svg : '',
      )[0]!;
    expect(svg({ colour: 'rust' })).toContain('#9c4a2c');
    expect(svg({ font: 'written' })).not.toBe(svg({}));
  });
});

describe('the sky of a place and a day', () => {
  // Meeus, Astronomical Algorithms (2nd ed.), examples 12.a and 13.b.
  test('sidereal time', () => {
    expect(siderealTime(Date.UTC(1987, 3, 10, 19, 21)) / 15).toBeCloseTo(8 + 34 / 60 + 57.0896 / 3600, 4);
  });
  test('where Venus stood over Washington', () => {
    const { altitude, azimuth } = horizontal(347.3193375, -6.719892, 38.92138889, 128.7378734 - 77.06555556);
    expect(altitude).toBeCloseTo(15.1249, 2);
    expect(azimuth).toBeCloseTo(68.0337 + 180, 2);
  });
  test('the pole star stands where the place’s latitude says, at every hour', () => {
    for (const hour of [0, 90, 200])
      expect(horizontal(37.95, 89.26, 53.8, hour).altitude).toBeCloseTo(53.8, -0.3);
  });
  test('is drawn with hundreds of stars, at the hour that the buyer named', () => {
    const svg = (date: string) => {
      const [layer] = drawWords([DATE, SKY], [SKY], { date, place: 'Leeds' }, AREA, world).layers;
      return layer?.kind === 'drawing' ? layer.svg : '';
    };
    expect(svg('21 June 2026').match(/<circle/g)!.length).toBeGreaterThan(500);
    expect(svg('21 June 2026 23:00')).not.toBe(svg('21 June 2026'));
    expect(svg('21 June 2026 22:00')).toBe(svg('21 June 2026'));
  });
});

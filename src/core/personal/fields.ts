/** Where something of the buyer's lies in the file of an area, as shares of its width and height, before it is turned about its middle. */
export interface FieldBox {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  /** Degrees, clockwise. */
  readonly turn: number;
}

/** How words are set. Sizes are those of the font, mm. */
export interface Lettering {
  /** Id of a font that is shipped; see {@link PRINT_FONTS}. */
  readonly font: string;
  /** `#rrggbb` */
  readonly colour: string;
  readonly align: 'left' | 'centre' | 'right';
  /** Degrees over which a line bends, its middle upwards; 0 for a straight one. */
  readonly curve: number;
  readonly least: number;
  readonly most: number;
}

export const SCRIPTS = ['Latin', 'Greek', 'Cyrillic', 'Hebrew', 'Arabic'] as const;
export type Script = (typeof SCRIPTS)[number];

export const LETTER_CASES = ['as written', 'capitals', 'small letters'] as const;
export type LetterCase = (typeof LETTER_CASES)[number];

/** How a day is written on the goods. */
export const DATE_FORMS = [
  'd MMMM yyyy',
  'd MMM yyyy',
  'd.M.yyyy',
  'dd/MM/yyyy',
  'MMMM d, yyyy',
  'yyyy-MM-dd',
] as const;
export type DateForm = (typeof DATE_FORMS)[number];

interface FieldBase {
  readonly id: string;
  /** As the buyer is asked for it. Unique in a print. */
  readonly name: string;
  readonly required: boolean;
  /** What stands in the listing's pictures. */
  readonly example: string;
}

/** Words of the buyer's. */
export interface TextField extends FieldBase {
  readonly kind: 'text';
  readonly box: FieldBox;
  readonly lettering: Lettering;
  /** Characters as people count them. */
  readonly most: number;
  readonly lines: number;
  readonly scripts: readonly Script[];
  readonly letters: LetterCase;
}

/** A day. */
export interface DateField extends FieldBase {
  readonly kind: 'date';
  readonly box: FieldBox;
  readonly lettering: Lettering;
  readonly form: DateForm;
  /** ISO 639-1. */
  readonly language: string;
}

/** A place: its name, or the sky above it on the print's day. */
export interface PlaceField extends FieldBase {
  readonly kind: 'place';
  readonly box: FieldBox;
  readonly lettering: Lettering;
  readonly as: 'name' | 'sky';
  /** The hour of the sky where the buyer names none, there: `22:00`. */
  readonly hour: string;
}

/** A picture of the buyer's. */
export interface PictureField extends FieldBase {
  readonly kind: 'picture';
  readonly box: FieldBox;
  readonly how: 'fit' | 'fill';
}

export interface Choice {
  /** As the buyer names it. */
  readonly name: string;
  /** Id of a font, `#rrggbb`, or id of a design. */
  readonly value: string;
}

/** One of several: the font or colour of what is written, or a motif. */
export interface ChoiceField extends FieldBase {
  readonly kind: 'choice';
  readonly of: 'font' | 'colour' | 'motif';
  readonly choices: readonly Choice[];
  /** The field whose lettering it sets; '' for all. Of no meaning for a motif. */
  readonly sets: string;
  /** Where a motif lies. */
  readonly box: FieldBox;
}

/** Something that the buyer says, and how it comes onto the goods. */
export type BuyerField = TextField | DateField | PlaceField | PictureField | ChoiceField;
export type FieldKind = BuyerField['kind'];
export const FIELD_KINDS = [
  'text',
  'choice',
  'date',
  'place',
  'picture',
] as const satisfies readonly FieldKind[];

/** Whether a field is seen on the goods by itself. */
export const isSeen = (f: BuyerField): boolean => f.kind !== 'choice' || f.of === 'motif';

/** A font that is shipped for print. */
export interface PrintFont {
  readonly id: string;
  readonly name: string;
  /** Its files, each with a part of its letters: the first that has a letter draws it. */
  readonly parts: readonly string[];
}

export const PRINT_FONTS: readonly PrintFont[] = [
  {
    id: 'noto-sans',
    name: 'Noto Sans',
    parts: ['latin', 'latin-ext', 'cyrillic', 'cyrillic-ext', 'greek', 'vietnamese'],
  },
  { id: 'noto-serif', name: 'Noto Serif', parts: ['latin', 'latin-ext', 'cyrillic', 'greek', 'vietnamese'] },
  {
    id: 'playfair-display',
    name: 'Playfair Display',
    parts: ['latin', 'latin-ext', 'cyrillic', 'vietnamese'],
  },
  { id: 'caveat', name: 'Caveat', parts: ['latin', 'latin-ext', 'cyrillic'] },
  { id: 'dancing-script', name: 'Dancing Script', parts: ['latin', 'latin-ext', 'vietnamese'] },
  { id: 'bebas-neue', name: 'Bebas Neue', parts: ['latin', 'latin-ext'] },
  { id: 'special-elite', name: 'Special Elite', parts: ['latin', 'latin-ext'] },
];

/** Where a file of a font is among what ships with Sampan. */
export const printFontFile = (font: string, part: string): string =>
  `/fonts/${font === 'noto-sans' ? '' : 'print/'}${font}-${part}-400-normal.woff`;

const LETTERING: Lettering = {
  font: 'playfair-display',
  colour: '#1f2c4d',
  align: 'centre',
  curve: 0,
  least: 4,
  most: 40,
};

/** A new field of a kind, in the middle of its area. */
export function newField(kind: FieldKind, id: string, name: string): BuyerField {
  const base = { id, name, required: true };
  const box: FieldBox = { x: 0.15, y: 0.42, width: 0.7, height: 0.16, turn: 0 };
  switch (kind) {
    case 'text':
      return {
        ...base,
        ...{ kind, box, lettering: LETTERING, most: 24, lines: 1, scripts: ['Latin'] },
        ...{ letters: 'as written', example: 'Ida & Bo' },
      };
    case 'date':
      return {
        ...base,
        kind,
        box,
        lettering: LETTERING,
        form: 'd MMMM yyyy',
        language: 'en',
        example: '2026-06-21',
      };
    case 'place':
      return { ...base, kind, box, lettering: LETTERING, as: 'name', hour: '22:00', example: 'Leeds' };
    case 'picture':
      return { ...base, kind, box, how: 'fill', example: '' };
    case 'choice':
      return {
        ...base,
        ...{ kind, of: 'colour', sets: '', box, example: 'Night blue' },
        choices: [
          { name: 'Night blue', value: '#1f2c4d' },
          { name: 'Rust', value: '#9c4a2c' },
        ],
      };
  }
}

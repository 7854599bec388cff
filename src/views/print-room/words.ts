import type { Box, Field, Finding } from '../../core/print';
import { densityIn, SHARP } from '../../core/print';
import type { DesignNote, DesignRow } from '../../work/model';

const NOTES: Readonly<Record<DesignNote, string>> = {
  'turned by EXIF': 'The camera turned it; it is used upright.',
  'another profile': 'It has a colour profile of its own; its colours are brought to sRGB.',
  cmyk: 'It is in CMYK; its colours are brought to sRGB and may look different.',
  'deep colour': 'It has 16 bits for each colour; 8 are printed.',
  moves: 'It moves; its first frame is used.',
  letters: 'It has letters as text, which are not drawn: turn them into outlines.',
  'no size': 'It says no size; one was taken.',
};

/** What is to be known of a design before it is printed, in sentences. */
export const notesInWords = (design: DesignRow): string[] => design.notes.map((note) => NOTES[note]);

/** `3,000 × 2,400 pixels`, or the ratio of a drawing. */
export const sizeInWords = ({ width, height, drawing }: DesignRow): string =>
  drawing
    ? `drawing, ${(width / height).toFixed(2)} to 1`
    : `${width.toLocaleString('en-GB')} × ${height.toLocaleString('en-GB')} px`;

const mm = (length: number) => Math.round(length * 10) / 10;

/** How a design is printed, in one line: its size and whether it is sharp. */
export function printedInWords(box: Box, design: DesignRow, natural: { width: number }): string {
  const dpi = densityIn(box, { width: natural.width, height: 1 }, design.drawing);
  const size = `${mm(box.width)} × ${mm(box.height)} mm`;
  if (dpi === null) return `${size}, drawn sharp at any size`;
  const looks = dpi < SHARP / 2 ? 'prints coarse' : dpi < SHARP ? 'prints soft' : 'prints sharp';
  return `${size}, ${Math.floor(dpi)} DPI, ${looks}`;
}

/** One or two words for a finding, where there is no room for its sentence. */
export function findingInShort(finding: Finding): string {
  switch (finding.kind) {
    case 'soft':
      return `${finding.dpi} DPI`;
    case 'over the safe line':
      return `over safe line ${mm(finding.by)} mm`;
    case 'field over the safe line':
      return `${finding.field} over safe line ${mm(finding.by)} mm`;
    case 'bleeds short':
      return `bleeds short ${mm(finding.by)} mm`;
    case 'half transparent':
      return 'half transparent';
    case 'not opaque':
      return 'not opaque';
    case 'fine lines':
      return `lines ${finding.width.toFixed(2)} mm`;
    case 'hardly seen':
      return `hardly seen on ${finding.colour}`;
    case 'missing':
      return 'design missing';
    case 'empty':
      return 'nothing printed';
  }
}

export const areaOf = (field: Field): string =>
  `${Math.round(field.across)} × ${Math.round(field.down)} mm, ${field.width} × ${field.height} px at ${field.dpi} DPI`;

import fontkit from '@pdf-lib/fontkit';
import { PDFDocument, type PDFFont, type PDFPage, rgb } from 'pdf-lib';
import { lettersLacking, type Slip, wordsIn } from '../../../core/slip';
import type { SlipsDrawn } from '../../context/draw';

/** The fonts of slips, one for each part of the scripts that are shipped; the first that has a letter prints it. */
export const SLIP_FONTS = ['latin', 'latin-ext', 'cyrillic', 'cyrillic-ext', 'greek', 'vietnamese'] as const;
export const fontFile = (part: string, weight: 400 | 700): string =>
  `noto-sans-${part}-${weight}-normal.woff`;

export interface FontBytes {
  readonly regular: readonly Uint8Array[];
  readonly bold: readonly Uint8Array[];
}

/** A5, in points. */
const PAGE: [number, number] = [419.53, 595.28];
const MARGIN = 40;
const WIDTH = PAGE[0] - 2 * MARGIN;
const INK = rgb(0, 0, 0);
/** Slips between two looks whether it goes on. */
const AT_ONCE = 20;

export interface Face {
  readonly fonts: readonly { readonly font: PDFFont; readonly has: ReadonlySet<number> }[];
}

/** A text in pieces that one font prints each. */
export function runsOf({ fonts }: Face, text: string): { readonly font: PDFFont; readonly text: string }[] {
  const runs: { font: PDFFont; text: string }[] = [];
  for (const letter of text) {
    const code = letter.codePointAt(0)!;
    const font = (fonts.find((f) => f.has.has(code)) ?? fonts[0]!).font;
    const shown = fonts.some((f) => f.has.has(code)) ? letter : ' ';
    const last = runs.at(-1);
    if (last?.font === font) last.text += shown;
    else runs.push({ font, text: shown });
  }
  return runs;
}

/** Widths of single letters at size 1, since laying a text out to measure it is dear. */
const widths = new WeakMap<Face, Map<string, number>>();

function widthOf(face: Face, text: string, size: number): number {
  let known = widths.get(face);
  if (!known) {
    known = new Map();
    widths.set(face, known);
  }
  let width = 0;
  for (const letter of text) {
    let own = known.get(letter);
    if (own === undefined) {
      own = runsOf(face, letter).reduce((w, r) => w + r.font.widthOfTextAtSize(r.text, 1), 0);
      known.set(letter, own);
    }
    width += own;
  }
  return width * size;
}

/** Characters of one text that are printed. */
const MOST = 600;

/** Breaks a text at its words so that each row fits; a word that is too long is broken where it has to be. */
export function rowsOf(face: Face, text: string, size: number, width: number): string[] {
  const rows: string[] = [];
  for (const paragraph of text.slice(0, MOST).split('\n')) {
    let row = '';
    for (let word of paragraph.split(/\s+/).filter(Boolean)) {
      const next = row ? `${row} ${word}` : word;
      if (widthOf(face, next, size) <= width) {
        row = next;
        continue;
      }
      if (row) rows.push(row);
      while (widthOf(face, word, size) > width) {
        let n = word.length - 1;
        while (n > 1 && widthOf(face, word.slice(0, n), size) > width) n--;
        rows.push(word.slice(0, n));
        word = word.slice(n);
      }
      row = word;
    }
    rows.push(row);
  }
  return rows;
}

/** Writes from the top of a page down. */
class Pen {
  private y = PAGE[1] - MARGIN;

  constructor(private readonly page: PDFPage) {}

  get left(): number {
    return this.y - MARGIN;
  }

  down(by: number): void {
    this.y -= by;
  }

  write(face: Face, text: string, size: number, x = 0): void {
    let at = MARGIN + x;
    for (const run of runsOf(face, text)) {
      this.page.drawText(run.text, { x: at, y: this.y - size, size, font: run.font, color: INK });
      at += run.font.widthOfTextAtSize(run.text, size);
    }
    this.y -= size * 1.35;
  }

  rule(): void {
    this.y -= 5;
    const line = { x: MARGIN, y: this.y };
    this.page.drawLine({ start: line, end: { ...line, x: MARGIN + WIDTH }, thickness: 0.6, color: INK });
    this.y -= 7;
  }
}

function drawSlip(page: PDFPage, slip: Slip, regular: Face, bold: Face): void {
  const words = wordsIn(slip.language);
  const pen = new Pen(page);
  pen.write(bold, slip.shop || words.title, 17);
  if (slip.shop) pen.write(regular, words.title, 10);
  pen.rule();
  pen.write(regular, `${words.order} ${slip.number}, ${slip.day}`, 10);
  const { name, line1, line2, town, postcode, country } = slip.address;
  pen.down(6);
  pen.write(regular, `${words.to}:`, 9);
  for (const row of [name, line1, line2, `${postcode} ${town}`.trim(), country])
    if (row) for (const one of rowsOf(regular, row, 10.5, WIDTH)) pen.write(regular, one, 10.5);
  pen.rule();
  const gift = slip.gift ? [...rowsOf(regular, slip.gift, 12, WIDTH).slice(0, 12), ''] : [];
  const message = slip.message ? rowsOf(regular, slip.message, 11, WIDTH).slice(0, 12) : [];
  const foot = slip.contact ? rowsOf(regular, `${words.contact} ${slip.contact}`, 9, WIDTH).slice(0, 3) : [];
  const kept = (gift.length + message.length) * 15 + foot.length * 13 + 40;
  let shown = 0;
  for (const line of slip.lines) {
    const title = rowsOf(regular, line.title, 11, WIDTH - 34).slice(0, 3);
    const own = line.words ? rowsOf(regular, `“${line.words}”`, 9.5, WIDTH - 34).slice(0, 4) : [];
    if (pen.left - title.length * 15 - own.length * 13 - 14 < kept) break;
    pen.write(bold, `${line.units} ×`, 11);
    pen.down(-11 * 1.35);
    for (const row of title) pen.write(regular, row, 11, 34);
    for (const row of own) pen.write(regular, row, 9.5, 34);
    pen.down(3);
    shown++;
  }
  if (shown < slip.lines.length) pen.write(regular, words.more(slip.lines.length - shown), 10, 34);
  pen.rule();
  for (const row of gift) pen.write(regular, row, 12);
  for (const row of message) pen.write(regular, row, 11);
  pen.down(6);
  for (const row of foot) pen.write(regular, row, 9);
}

/** Fonts as a document has them, only with the letters that it needs. */
export async function faceOn(doc: PDFDocument, files: readonly Uint8Array[]): Promise<Face> {
  const fonts = [];
  for (const one of files) {
    const font = await doc.embedFont(one, { subset: true });
    fonts.push({ font, has: new Set(font.getCharacterSet()) });
  }
  return { fonts };
}

/**
 * Draws slips into one PDF, a page of A5 each, in black alone.
 * @param goesOn told how many are done; ends it where it says no
 * @returns null where it was stopped
 */
export async function drawSlips(
  slips: readonly Slip[],
  bytes: FontBytes,
  goesOn: (done: number) => boolean | Promise<boolean> = () => true,
): Promise<SlipsDrawn | null> {
  const doc = await PDFDocument.create();
  doc.registerFontkit(fontkit);
  doc.setTitle(slips.length === 1 ? `Packing slip ${slips[0]!.number}` : `${slips.length} packing slips`);
  const regular = await faceOn(doc, bytes.regular);
  const bold = await faceOn(doc, bytes.bold);
  const has = (code: number) => regular.fonts.some((f) => f.has.has(code));
  const lacking: { number: string; letters: string[] }[] = [];
  for (const [k, slip] of slips.entries()) {
    drawSlip(doc.addPage(PAGE), slip, regular, bold);
    const letters = lettersLacking(slip, has);
    if (letters.length) lacking.push({ number: slip.number, letters });
    if (k % AT_ONCE === AT_ONCE - 1 && !(await goesOn(k + 1))) return null;
  }
  return { bytes: new Uint8Array(await doc.save()), slips: slips.length, lacking };
}

const shipped = new Map<string, Promise<Uint8Array>>();

export function shippedFont(name: string): Promise<Uint8Array> {
  let font = shipped.get(name);
  if (!font) {
    font = fetch(`/fonts/${name}`).then(async (answer) => {
      if (!answer.ok) throw new Error(`The font ${name} cannot be loaded.`);
      return new Uint8Array(await answer.arrayBuffer());
    });
    font.catch(() => shipped.delete(name));
    shipped.set(name, font);
  }
  return font;
}

/** {@link drawSlips} with the fonts that ship with the application. */
export async function slips(
  some: readonly Slip[],
  goesOn: (done: number) => boolean | Promise<boolean>,
): Promise<SlipsDrawn | null> {
  const load = (weight: 400 | 700) =>
    Promise.all(SLIP_FONTS.map((part) => shippedFont(fontFile(part, weight))));
  return drawSlips(some, { regular: await load(400), bold: await load(700) }, goesOn);
}

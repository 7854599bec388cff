import fontkit from '@pdf-lib/fontkit';
import { PDFDocument, rgb } from 'pdf-lib';
import type { ProofOnPaper } from '../../context/draw';
import { type Face, faceOn, fontFile, rowsOf, runsOf, SLIP_FONTS, shippedFont } from './slip-pdf';

/** A4 in points, with three by three proofs. */
const PAGE: [number, number] = [595.28, 841.89];
const MARGIN = 36;
const ACROSS = 3;
const DOWN = 3;
const GAP = 14;
const WORDS = 62;
const INK = rgb(0, 0, 0);
const CELL = {
  width: (PAGE[0] - 2 * MARGIN - (ACROSS - 1) * GAP) / ACROSS,
  height: (PAGE[1] - 2 * MARGIN - (DOWN - 1) * GAP) / DOWN,
};

/**
 * Draws proofs into one PDF, nine to a page, each with its order and the words it is made with.
 * @param goesOn told how many are done; ends it where it says no
 * @returns null where it was stopped
 */
export async function proofsPdf(
  proofs: readonly ProofOnPaper[],
  goesOn: (done: number) => boolean | Promise<boolean>,
): Promise<Blob | null> {
  const doc = await PDFDocument.create();
  doc.registerFontkit(fontkit);
  doc.setTitle(`${proofs.length} proofs`);
  const load = (weight: 400 | 700) =>
    Promise.all(SLIP_FONTS.map((part) => shippedFont(fontFile(part, weight))));
  const regular = await faceOn(doc, await load(400));
  const bold = await faceOn(doc, await load(700));
  let page = doc.addPage(PAGE);
  for (const [k, proof] of proofs.entries()) {
    const at = k % (ACROSS * DOWN);
    if (k && !at) page = doc.addPage(PAGE);
    const x = MARGIN + (at % ACROSS) * (CELL.width + GAP);
    const top = PAGE[1] - MARGIN - Math.floor(at / ACROSS) * (CELL.height + GAP);
    const picture = await doc.embedJpg(await proof.picture.arrayBuffer());
    const size = picture.scaleToFit(CELL.width, CELL.height - WORDS);
    page.drawImage(picture, { x, y: top - size.height, ...size });
    page.drawRectangle({ x, y: top - size.height, ...size, borderColor: INK, borderWidth: 0.4 });
    let y = top - size.height - 12;
    const write = (face: Face, text: string, most: number) => {
      for (const row of rowsOf(face, text, 8.5, CELL.width).slice(0, most)) {
        let along = x;
        for (const run of runsOf(face, row)) {
          page.drawText(run.text, { x: along, y, size: 8.5, font: run.font, color: INK });
          along += run.font.widthOfTextAtSize(run.text, 8.5);
        }
        y -= 11;
      }
    };
    write(bold, `${proof.number}${proof.units > 1 ? `, ${proof.units} ×` : ''}`, 1);
    write(regular, proof.words, 4);
    if (!(await goesOn(k + 1))) return null;
  }
  return new Blob([new Uint8Array(await doc.save())], { type: 'application/pdf' });
}

import { strToU8, Zip, ZipDeflate } from 'fflate';
import type { WrittenCell } from '../../core/lists';

/** Signs that XML 1.0 has no place for. */
const NO_XML = /[^\P{Cc}\t\n\r]|[\uFFFE\uFFFF]/gu;

const escaped = (text: string): string =>
  text
    .replace(NO_XML, '')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;');

const XML = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
const SHEET = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006';
const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';

/** The parts of a workbook with one sheet besides the sheet itself (ECMA-376, part 1). */
const PARTS: Readonly<Record<string, string>> = {
  '[Content_Types].xml': `${XML}<Types xmlns="${PACKAGE}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/><Override PartName="/xl/styles.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.styles+xml"/></Types>`,
  '_rels/.rels': `${XML}<Relationships xmlns="${PACKAGE}/relationships"><Relationship Id="rId1" Type="${OFFICE}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
  'xl/workbook.xml': `${XML}<workbook xmlns="${SHEET}" xmlns:r="${OFFICE}"><sheets><sheet name="Sheet1" sheetId="1" r:id="rId1"/></sheets></workbook>`,
  'xl/_rels/workbook.xml.rels': `${XML}<Relationships xmlns="${PACKAGE}/relationships"><Relationship Id="rId1" Type="${OFFICE}/worksheet" Target="worksheets/sheet1.xml"/><Relationship Id="rId2" Type="${OFFICE}/styles" Target="styles.xml"/></Relationships>`,
  'xl/styles.xml': `${XML}<styleSheet xmlns="${SHEET}"><fonts count="2"><font/><font><b/></font></fonts><fills count="1"><fill/></fills><borders count="1"><border/></borders><cellStyleXfs count="1"><xf/></cellStyleXfs><cellXfs count="3"><xf/><xf fontId="1" applyFont="1"/><xf numFmtId="49" applyNumberFormat="1"/></cellXfs></styleSheet>`,
};

/** Style of the header row, and of texts: they stay as they are when they are edited. */
const BOLD = 1;
const TEXT = 2;

/** Rows that are written before others are heard. */
const AT_ONCE = 500;

/** `A`, `Z`, `AA`: the name of a column, counted from 0. */
const columnName = (n: number): string =>
  (n < 26 ? '' : columnName(Math.floor(n / 26) - 1)) + String.fromCharCode(65 + (n % 26));

const cellXml = (cell: WrittenCell, at: string, style: number): string =>
  cell === null || cell === ''
    ? ''
    : typeof cell === 'number'
      ? `<c r="${at}"><v>${cell}</v></c>`
      : `<c r="${at}" s="${style}" t="inlineStr"><is><t xml:space="preserve">${escaped(cell)}</t></is></c>`;

/**
 * A table as a workbook with one sheet (ECMA-376), texts as texts and numbers as numbers; the header row stays in sight.
 * Written and packed row by row: the package that writes workbooks packs them in workers of its own, which the content
 * security policy refuses, so that it never ends.
 * @param tell hears how many rows are written, and says whether to stop
 * @returns null where it was stopped
 */
export async function writeWorkbook(
  rows: readonly (readonly WrittenCell[])[],
  tell: (done: number) => Promise<boolean> = async () => false,
): Promise<Blob | null> {
  const columns = (rows[0] ?? []).map((_, c) => columnName(c));
  const packed: Uint8Array<ArrayBuffer>[] = [];
  let failed: Error | null = null;
  const zip = new Zip((error, data) => {
    if (error) failed = error;
    else packed.push(data as Uint8Array<ArrayBuffer>);
  });
  for (const [name, text] of Object.entries(PARTS)) {
    const part = new ZipDeflate(name);
    zip.add(part);
    part.push(strToU8(text), true);
  }
  const sheet = new ZipDeflate('xl/worksheets/sheet1.xml');
  zip.add(sheet);
  sheet.push(
    strToU8(
      `${XML}<worksheet xmlns="${SHEET}"><sheetViews><sheetView workbookViewId="0"><pane ySplit="1" topLeftCell="A2" activePane="bottomLeft" state="frozen"/></sheetView></sheetViews><sheetData>`,
    ),
  );
  for (let from = 0; from < rows.length; from += AT_ONCE) {
    const some = rows.slice(from, from + AT_ONCE);
    const xml = some.map(
      (row, k) =>
        `<row r="${from + k + 1}">${row.map((cell, c) => cellXml(cell, `${columns[c]}${from + k + 1}`, from + k === 0 ? BOLD : TEXT)).join('')}</row>`,
    );
    sheet.push(strToU8(xml.join('')));
    if (failed) throw failed;
    if (await tell(from + some.length)) return null;
  }
  sheet.push(strToU8('</sheetData></worksheet>'), true);
  zip.end();
  if (failed) throw failed;
  return new Blob(packed, {
    type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  });
}

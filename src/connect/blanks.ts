import { plainText } from '../core/copy';
import type { Blank, FileSize } from '../core/print';
import { minorOf } from './amounts';
import { BlankShape, FileSizeShape, shaped } from './shapes';

/** A blank with the places where it is printed. */
export interface MadeBlank extends Blank {
  readonly sites: readonly { readonly name: string; readonly country: string; readonly days: number }[];
}

/** Names of sizes in an object that came from outside. */
const SIZE_NAME = /^[^\p{Cc}]{1,60}$/u;
const MOST_SIZES = 100;

function readFiles(plain: object): Record<string, FileSize> | string {
  const files = Object.entries(plain);
  if (!files.length || files.length > MOST_SIZES) return 'an area has from 1 to 100 files';
  const read: [string, FileSize][] = [];
  for (const [size, file] of files) {
    const checked = shaped(FileSizeShape, file);
    if (!SIZE_NAME.test(size)) return 'a size has no name';
    if (!checked.ok) return `the file of ${size}: ${checked.reason}`;
    const { width, height, dpi } = checked.value;
    read.push([size, { width, height, dpi }]);
  }
  return Object.fromEntries(read);
}

function readBlank(plain: unknown, currency: string): MadeBlank | string {
  const checked = shaped(BlankShape, plain);
  if (!checked.ok) return checked.reason;
  const { id, name, category, care, forbidden, colours, sizes = [''], areas, items, sites } = checked.value;
  const read: Blank['areas'][number][] = [];
  for (const area of areas) {
    const files = readFiles(area.files);
    if (typeof files === 'string') return `${area.id}: ${files}`;
    const uncovered = sizes.find((size) => !files[size] && !files['*']);
    if (uncovered !== undefined) return `${area.id}: no file for the size ${uncovered}`;
    const { technique } = area;
    read.push({
      ...{ id: area.id, name: plainText(area.name), shape: area.shape, bleed: area.bleed, safe: area.safe },
      technique: { ...technique, name: plainText(technique.name) },
      extra: area.extra ? minorOf(area.extra, currency) : 0,
      files,
    });
  }
  const named = new Set(colours.map((c) => c.name));
  const stray = items.find((item) => !named.has(item.colour) || !sizes.includes(item.size));
  if (stray) return `${stray.sku} is of a colour or size that is not there`;
  return {
    id,
    name: plainText(name),
    category: plainText(category),
    care: plainText(care),
    forbidden: forbidden.map(plainText),
    colours: colours.map((c) => ({ name: plainText(c.name), hex: c.hex.toLowerCase() })),
    sizes,
    areas: read,
    ...(checked.value.personal && { personal: minorOf(checked.value.personal, currency) }),
    items: items.map(({ sku, colour, size }) => ({ sku, colour, size })),
    sites: sites.map((site) => ({ name: plainText(site.name), country: site.country, days: site.days })),
  };
}

/** Reads blanks as a maker describes them. One that cannot be read does not keep the others out. */
export function readBlanks(
  plain: readonly unknown[],
  currency: string,
): { readonly blanks: readonly MadeBlank[]; readonly refused: readonly string[] } {
  const blanks = new Map<string, MadeBlank>();
  const refused: string[] = [];
  for (const one of plain) {
    const id = String((one as { id?: unknown } | null)?.id ?? '(no id)').slice(0, 40);
    let read: MadeBlank | string;
    try {
      read = readBlank(one, currency);
    } catch (error) {
      read = (error as Error).message;
    }
    if (typeof read === 'string') refused.push(`${id}: ${read}`);
    else if (blanks.has(read.id)) refused.push(`${id}: came twice`);
    else blanks.set(read.id, read);
  }
  return { blanks: [...blanks.values()], refused };
}

import { isDateLike, isShortened } from './cells';
import { LONGEST_SKU } from './guess';

/** Signs that nobody sees (Unicode, UAX 44): zero-width ones, soft hyphens, marks of direction. Two SKUs that differ in them alone are one. */
const UNSEEN = /\p{Default_Ignorable_Code_Point}/gu;

/** What spreadsheets write into a cell that they could not work out. */
const ERROR_CELL =
  /^#(n\/a|nv|ref!|bezug!|value!|wert!|name\?|num!|zahl!|null!|div\/0!|spill!|calc!|getting_data)$/i;

/** A SKU as a cell has it, without signs that nobody sees. */
export const skuIn = (text: string): string => text.replace(UNSEEN, '').trim();

/** Why a SKU is not the item's own any more; null where it is. */
export function lostSku(sku: string): string | null {
  if (sku.length > LONGEST_SKU)
    return `the SKU has ${sku.length} characters, at most ${LONGEST_SKU} are taken`;
  if (ERROR_CELL.test(sku)) return `“${sku}” is an error of a spreadsheet, no SKU`;
  if (!/[\p{L}\p{N}]/u.test(sku)) return `“${sku}” has no letter or digit: it is no SKU`;
  if (isShortened(sku)) return `a spreadsheet turned the SKU into ${sku}, its last digits are lost`;
  return isDateLike(sku) ? `“${sku}” looks as if a spreadsheet turned the SKU into a date` : null;
}

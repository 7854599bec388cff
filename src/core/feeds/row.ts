import { fieldKey, fillTemplate, parseTemplate, shortenAtWord, type Template } from '../copy';
import { isGtin } from '../units';
import { type FeedField, type FeedRecord, MENDED_AT } from './fields';
import type { ColumnKind, FeedColumn, FeedForm } from './form';

/** What is wrong with a value. */
export type Fault =
  | { readonly is: 'missing' }
  | { readonly is: 'short'; readonly limit: number; readonly has: number }
  /** A text is cut; half of anything else would be a wrong one. */
  | { readonly is: 'long'; readonly limit: number; readonly has: number; readonly cut: boolean }
  | { readonly is: 'kind'; readonly kind: ColumnKind; readonly value: string }
  | { readonly is: 'allowed'; readonly value: string };

/** What is wrong in one column of a product. */
export interface ColumnFault {
  readonly column: string;
  readonly fault: Fault;
  /** How it is mended; '' where that is not known. */
  readonly mend: string;
}

/** A product as a feed has it: its values by column, or why it is left out. */
export interface FeedRow {
  readonly id: string;
  readonly values: readonly string[];
  /** A required column has no value that can go: the product is left out. */
  readonly out: boolean;
  readonly faults: readonly ColumnFault[];
}

/** Characters that neither XML 1.0 nor a reader of text takes. */
const UNFIT = /(?![\t\n\r])[\p{Cc}\p{Cs}\ufffe\uffff]/gu;

/** A text without characters that no format takes. */
export const readable = (text: string): string => text.replace(UNFIT, '');

const NUMBER = /^-?\d+(\.\d+)?$/;
const DATE = /^\d{4}-\d{2}-\d{2}(T\d{2}:\d{2}(:\d{2}(\.\d+)?)?(Z|[+-]\d{2}:\d{2}))?$/;

/** An address as the web takes it: absolute, without blanks, of this scheme. */
function isAddress(text: string): boolean {
  if (!/^https?:\/\/[!-~]+$/i.test(text) || /[<>"{}|\\^`]/.test(text) || !URL.canParse(text)) return false;
  return new URL(text).hostname.length > 0;
}

/** Whether a value is what a column's must be. */
export function isOfKind(kind: ColumnKind, value: string): boolean {
  switch (kind) {
    case 'text':
      return true;
    case 'number':
      return NUMBER.test(value);
    case 'whole number':
      return /^-?\d+$/.test(value);
    case 'price':
      // `24.99`, or with its currency behind it.
      return /^\d+(\.\d{1,4})?( [A-Z]{3})?$/.test(value) && Number.parseFloat(value) > 0;
    case 'address':
      return isAddress(value);
    case 'barcode':
      return isGtin(value);
    case 'date':
      return DATE.test(value) && !Number.isNaN(Date.parse(value));
  }
}

/** Turns what is known of products into rows of a feed. Its templates are read once. */
export class FeedRows {
  private readonly templates: readonly (Template | null)[];

  constructor(private readonly columns: FeedForm['columns']) {
    this.templates = columns.map(({ from }) => {
      const read = 'template' in from ? parseTemplate(from.template) : null;
      return read?.ok ? read.template : null;
    });
  }

  row(record: FeedRecord): FeedRow {
    const faults: ColumnFault[] = [];
    let out = false;
    const values = this.columns.map((column, k) => {
      const raw = readable(this.valueOf(column, k, record)).trim();
      const { value, fault } = checked(column, raw);
      if (fault) {
        faults.push({ column: column.name, fault, mend: mendOf(column) });
        out ||= column.required && value === '';
      }
      return value;
    });
    return { id: record.id ?? '', values, out, faults };
  }

  private valueOf({ from }: FeedColumn, k: number, record: FeedRecord): string {
    if ('value' in from) return from.value;
    if ('field' in from) return valueIn(record, from.field);
    const template = this.templates[k];
    return template ? fillTemplate(template, (field) => valueIn(record, field)).text : '';
  }
}

/** The value of a field by its name, as templates mean it; '' where there is none. */
export const valueIn = (record: FeedRecord, field: string): string => {
  const key = fieldKey(field);
  return Object.hasOwn(record, key) ? record[key]! : '';
};

const mendOf = ({ from }: FeedColumn): string =>
  'field' in from ? (MENDED_AT[from.field as FeedField] ?? '') : '';

/** A value as it goes into its column, and what was wrong with it: one that cannot go is empty, a long text is cut. */
function checked(column: FeedColumn, raw: string): { readonly value: string; readonly fault: Fault | null } {
  const { kind, required, shortest, longest, allowed } = column;
  if (!raw) return { value: '', fault: required ? { is: 'missing' } : null };
  if (!isOfKind(kind, raw)) return { value: '', fault: { is: 'kind', kind, value: raw.slice(0, 80) } };
  if (allowed.length && !allowed.includes(raw))
    return { value: '', fault: { is: 'allowed', value: raw.slice(0, 80) } };
  const has = raw.length > (longest ?? Number.POSITIVE_INFINITY) || shortest ? [...raw].length : raw.length;
  if (shortest !== null && has < shortest) return { value: '', fault: { is: 'short', limit: shortest, has } };
  if (longest !== null && has > longest) {
    const cut = kind === 'text';
    return { value: cut ? shortenAtWord(raw, longest) : '', fault: { is: 'long', limit: longest, has, cut } };
  }
  return { value: raw, fault: null };
}

const KIND_WORDS: Readonly<Record<ColumnKind, string>> = {
  text: 'a text',
  number: 'a number',
  'whole number': 'a whole number',
  price: 'a price over 0',
  address: 'an address that begins with https:// or http://',
  barcode: 'a GTIN with the right check digit',
  date: 'a date such as 2026-12-02',
};

/** What is wrong in a column without the value, as it is counted over many: `gtin is not a GTIN with the right check digit`. */
export function reasonInWords({ column, fault }: ColumnFault, out: boolean): string {
  const then = out ? '' : ', left empty';
  switch (fault.is) {
    case 'missing':
      return `${column} has no value`;
    case 'short':
      return `${column} is too short${then}`;
    case 'long':
      return `${column} is too long${fault.cut ? ', cut' : then}`;
    case 'kind':
      return `${column} is not ${KIND_WORDS[fault.kind]}${then}`;
    case 'allowed':
      return `${column} is not one of the values that are taken${then}`;
  }
}

/** `title is longer than 150 characters (163) and is cut.` */
export function faultInWords({ column, fault }: ColumnFault, required: boolean): string {
  const then = required ? '' : ' and is left empty';
  switch (fault.is) {
    case 'missing':
      return `${column} has no value.`;
    case 'short':
      return `${column} has ${fault.has} of at least ${fault.limit} characters${then}.`;
    case 'long':
      return `${column} has ${fault.has} of at most ${fault.limit} characters${fault.cut ? ' and is cut' : then}.`;
    case 'kind':
      return `${column}: “${fault.value}” is not ${KIND_WORDS[fault.kind]}${then}.`;
    case 'allowed':
      return `${column}: “${fault.value}” is not one of the values that are taken${then}.`;
  }
}

import { fold } from '../copy';
import { decimalOf, type Parsed, parsePrice } from '../money';
import { sameMeaning } from './value-words';

/** One of the values that an attribute may have. */
export interface AttributeChoice {
  readonly id: string;
  readonly name: string;
}

/**
 * Something a site asks of a listing besides its texts: material and colour, but also condition, handling time, returns,
 * the tax class or the address of a video. What it holds is told as text.
 */
export interface SiteAttribute {
  readonly id: string;
  readonly name: string;
  /** `number` is a whole one of {@link SiteAttribute.unit}; `amount` is money in the site's currency. */
  readonly kind: 'choice' | 'text' | 'number' | 'amount' | 'link';
  /** For `choice`; empty for others. */
  readonly choices: readonly AttributeChoice[];
  /** What a number counts; '' for nothing. */
  readonly unit: string;
  /** Ids of the categories that have it; null for all. */
  readonly categories: readonly string[] | null;
  readonly needed: boolean;
  /** What the site would put there for most sellers; '' where it does not say. */
  readonly usual: string;
  /** The least and the most of a number, as the site says; missing for no limit. */
  readonly least?: number;
  readonly most?: number;
  /** It holds the price before a sale, which is told by itself while one is on. */
  readonly isBefore?: boolean;
}

/** Longest text of an attribute. */
const LONGEST = 200;

/** The attributes of a site that a category has. */
export const attributesIn = (
  attributes: readonly SiteAttribute[],
  category: string | null,
): readonly SiteAttribute[] =>
  attributes.filter((a) => a.categories === null || (category !== null && a.categories.includes(category)));

/**
 * Reads a text as a value of an attribute: choices by their id or name in any of the languages known, numbers with their
 * unit or without, amounts in the site's currency.
 * @returns the value as the site is told, or why it is none
 */
export function readAttribute(attribute: SiteAttribute, typed: string, currency: string): Parsed<string> {
  const text = typed.trim();
  const { name, unit } = attribute;
  const wrong = (reason: string): Parsed<string> => ({ ok: false, reason });
  switch (attribute.kind) {
    case 'choice': {
      const found = choiceFor(attribute.choices, text);
      if (found) return { ok: true, value: found.id };
      const some = attribute.choices.slice(0, 12).map((c) => c.name);
      return wrong(
        `“${text}” is none of ${name}’s values: ${some.join('; ')}${attribute.choices.length > 12 ? ' …' : ''}.`,
      );
    }
    case 'number': {
      const [, digits = ''] = /^(\d{1,6})(?:\s*\p{L}+\.?)?$/u.exec(text) ?? [];
      if (!digits) return wrong(`“${text}” is no whole number${unit && ` of ${unit}`}.`);
      const { least = 0, most = Number.MAX_SAFE_INTEGER } = attribute;
      return Number(digits) >= least && Number(digits) <= most
        ? { ok: true, value: String(Number(digits)) }
        : wrong(`${name} is from ${least} to ${most}${unit && ` ${unit}`}, not ${digits}.`);
    }
    case 'amount': {
      const amount = parsePrice(text, currency);
      return amount.ok ? { ok: true, value: decimalOf(amount.value, currency) } : amount;
    }
    case 'link':
      return /^https:\/\/[^\s<>"]{3,}$/i.test(text) && text.length <= LONGEST
        ? { ok: true, value: text }
        : wrong(`“${text.slice(0, 80)}” is no address: it begins with https:// and has no blanks.`);
    case 'text':
      return text.length <= LONGEST && !/[<>]/.test(text)
        ? { ok: true, value: text }
        : wrong(`${name} takes up to ${LONGEST} characters without < and >.`);
  }
}

/**
 * The choice that a text means: by id or name, else by a word for the same in another language, else by one of its words
 * (`Night blue` is blue) where no other of them means another choice.
 */
export function choiceFor(choices: readonly AttributeChoice[], word: string): AttributeChoice | undefined {
  const meant = fold(word.trim());
  if (!meant) return undefined;
  const means = (text: string) =>
    choices.find((c) => fold(c.id) === text || fold(c.name) === text) ??
    choices.find((c) => sameMeaning(fold(c.name), text));
  const whole = means(meant);
  if (whole || !/[^\p{L}]/u.test(meant)) return whole;
  const parts = new Set(
    meant.split(/[^\p{L}]+/u).flatMap((part) => (part.length > 2 ? (means(part) ?? []) : [])),
  );
  return parts.size === 1 ? [...parts][0] : undefined;
}

/** A value as people read it: the name of a choice, a number with its unit. */
export function attributeInWords(attribute: SiteAttribute, value: string): string {
  if (attribute.kind === 'choice') return attribute.choices.find((c) => c.id === value)?.name ?? value;
  return attribute.kind === 'number' && attribute.unit && value ? `${value} ${attribute.unit}` : value;
}

/** Why a site would refuse the attributes of a listing, by attribute; empty where it would not. */
export function attributeProblems(
  attributes: readonly SiteAttribute[],
  category: { readonly id: string; readonly name: string } | undefined,
  values: Readonly<Record<string, string>>,
  currency: string,
): string[] {
  return attributesIn(attributes, category?.id ?? null).flatMap((a) => {
    const value = Object.hasOwn(values, a.id) ? values[a.id]! : '';
    if (!value)
      return a.needed
        ? [`${a.name} is missing${a.categories && category ? `: “${category.name}” asks for it` : ''}.`]
        : [];
    const read = readAttribute(a, value, currency);
    return read.ok ? [] : [read.reason];
  });
}

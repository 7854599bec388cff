import { fieldKey, fillTemplate, parseTemplate } from '../copy';

/** Events at which a buyer can be written to. */
export const MESSAGES = ['thanks', 'shipped', 'delayed', 'delivered', 'cancelled'] as const;
export type MessageKind = (typeof MESSAGES)[number];

/** Whether buyers of a marketplace are written to at an event, and what: a template in the form of copy templates. */
export interface MessageRule {
  readonly on: boolean;
  readonly text: string;
}

/** Rules by marketplace and event; what is not named is off. */
export type Messages = Readonly<Record<string, Readonly<Partial<Record<MessageKind, MessageRule>>>>>;

/** What the seller would write first, by the language of the site. */
const USUAL: Readonly<Record<string, Readonly<Record<MessageKind, string>>>> = {
  en: {
    thanks:
      'Hello {{first name}},\n\nthank you for your order {{order}}: {{goods}}. It is sent soon; you will hear from us then.\n\n{{shop}}',
    shipped:
      'Hello {{first name}},\n\n{{goods}} left today{{#carrier}} with {{carrier}}{{/carrier}}. Tracking number: {{tracking}}.\n\n{{shop}}',
    delayed:
      'Hello {{first name}},\n\nyour order {{order}} takes a little longer than we said. We are looking after it and are sorry for the wait.\n\n{{shop}}',
    delivered:
      'Hello {{first name}},\n\nyour parcel should be with you. If anything is not right, write to us.\n\n{{shop}}',
    cancelled:
      'Hello {{first name}},\n\nyour order {{order}} was cancelled, and you are refunded. We are sorry.\n\n{{shop}}',
  },
  de: {
    thanks:
      'Guten Tag {{first name}},\n\nvielen Dank für Ihre Bestellung {{order}}: {{goods}}. Sie geht bald auf die Reise; dann melden wir uns.\n\n{{shop}}',
    shipped:
      'Guten Tag {{first name}},\n\n{{goods}} ist heute{{#carrier}} mit {{carrier}}{{/carrier}} abgegangen. Sendungsnummer: {{tracking}}.\n\n{{shop}}',
    delayed:
      'Guten Tag {{first name}},\n\nIhre Bestellung {{order}} dauert etwas länger als angekündigt. Wir kümmern uns darum und bitten um Entschuldigung.\n\n{{shop}}',
    delivered:
      'Guten Tag {{first name}},\n\nIhr Paket sollte angekommen sein. Wenn etwas nicht stimmt, schreiben Sie uns.\n\n{{shop}}',
    cancelled:
      'Guten Tag {{first name}},\n\nIhre Bestellung {{order}} wurde storniert und wird Ihnen erstattet. Das tut uns leid.\n\n{{shop}}',
  },
};

export const usualText = (kind: MessageKind, language: string): string =>
  (USUAL[language] ?? USUAL.en!)[kind];

/** The rule that holds for a marketplace and event; null where buyers are not written to. */
export function ruleFor(
  messages: Messages | undefined,
  marketplace: string,
  kind: MessageKind,
): MessageRule | null {
  const rule = messages?.[marketplace]?.[kind];
  return rule?.on && rule.text.trim() ? rule : null;
}

/** Fields that a message can name. */
export interface MessageFields {
  readonly buyer: string;
  readonly order: string;
  readonly goods: string;
  readonly tracking: string;
  readonly carrier: string;
  readonly shop: string;
}

/** A message as the buyer gets it, or why its template cannot be filled in. Fields that it does not know are empty. */
export function messageText(
  template: string,
  fields: MessageFields,
):
  | { readonly ok: true; readonly text: string; readonly unknown: readonly string[] }
  | { readonly ok: false; readonly reason: string } {
  const parsed = parseTemplate(template);
  if (!parsed.ok) return { ok: false, reason: parsed.problem.reason };
  const values: Readonly<Record<string, string>> = {
    ...fields,
    'first name': fields.buyer.trim().split(/\s+/)[0] ?? '',
  };
  const known = new Map(Object.entries(values).map(([name, value]) => [fieldKey(name), value]));
  const filled = fillTemplate(parsed.template, (field) => known.get(field) ?? '');
  const unknown = parsed.template.fields.filter((field) => !known.has(field));
  return { ok: true, text: filled.text.replace(/\n{3,}/g, '\n\n').trim(), unknown };
}

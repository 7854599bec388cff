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
  fr: {
    thanks:
      'Bonjour {{first name}},\n\nmerci pour votre commande {{order}} : {{goods}}. Elle part bientôt ; nous vous écrirons à ce moment-là.\n\n{{shop}}',
    shipped:
      'Bonjour {{first name}},\n\n{{goods}} est en route depuis aujourd’hui{{#carrier}} avec {{carrier}}{{/carrier}}. Numéro de suivi : {{tracking}}.\n\n{{shop}}',
    delayed:
      'Bonjour {{first name}},\n\nvotre commande {{order}} prend un peu plus de temps que prévu. Nous nous en occupons et vous prions de nous excuser pour l’attente.\n\n{{shop}}',
    delivered:
      'Bonjour {{first name}},\n\nvotre colis devrait être arrivé. Si quelque chose ne va pas, écrivez-nous.\n\n{{shop}}',
    cancelled:
      'Bonjour {{first name}},\n\nvotre commande {{order}} a été annulée et vous sera remboursée. Nous en sommes désolés.\n\n{{shop}}',
  },
  nl: {
    thanks:
      'Beste {{first name}},\n\nbedankt voor je bestelling {{order}}: {{goods}}. Die gaat binnenkort op weg; dan hoor je weer van ons.\n\n{{shop}}',
    shipped:
      'Beste {{first name}},\n\n{{goods}} is vandaag verzonden{{#carrier}} met {{carrier}}{{/carrier}}. Trackingnummer: {{tracking}}.\n\n{{shop}}',
    delayed:
      'Beste {{first name}},\n\nje bestelling {{order}} duurt iets langer dan we hadden gezegd. We zijn ermee bezig en het spijt ons dat je moet wachten.\n\n{{shop}}',
    delivered:
      'Beste {{first name}},\n\nje pakket zou nu bij je moeten zijn. Is er iets niet in orde, schrijf ons dan.\n\n{{shop}}',
    cancelled:
      'Beste {{first name}},\n\nje bestelling {{order}} is geannuleerd en wordt terugbetaald. Het spijt ons.\n\n{{shop}}',
  },
  pl: {
    thanks:
      'Dzień dobry {{first name}},\n\ndziękujemy za zamówienie {{order}}: {{goods}}. Wkrótce je wyślemy i damy o tym znać.\n\n{{shop}}',
    shipped:
      'Dzień dobry {{first name}},\n\n{{goods}}: wysłane dzisiaj{{#carrier}} przez {{carrier}}{{/carrier}}. Numer przesyłki: {{tracking}}.\n\n{{shop}}',
    delayed:
      'Dzień dobry {{first name}},\n\nrealizacja zamówienia {{order}} trwa trochę dłużej, niż zapowiadaliśmy. Zajmujemy się tym i przepraszamy za zwłokę.\n\n{{shop}}',
    delivered:
      'Dzień dobry {{first name}},\n\npaczka powinna być już u Państwa. Jeśli coś jest nie tak, prosimy o wiadomość.\n\n{{shop}}',
    cancelled:
      'Dzień dobry {{first name}},\n\nzamówienie {{order}} zostało anulowane, a pieniądze zostaną zwrócone. Przepraszamy.\n\n{{shop}}',
  },
  es: {
    thanks:
      'Hola, {{first name}}:\n\ngracias por tu pedido {{order}}: {{goods}}. Saldrá pronto; te avisaremos entonces.\n\n{{shop}}',
    shipped:
      'Hola, {{first name}}:\n\n{{goods}} ha salido hoy{{#carrier}} con {{carrier}}{{/carrier}}. Número de seguimiento: {{tracking}}.\n\n{{shop}}',
    delayed:
      'Hola, {{first name}}:\n\ntu pedido {{order}} tarda un poco más de lo que dijimos. Estamos en ello y sentimos la espera.\n\n{{shop}}',
    delivered:
      'Hola, {{first name}}:\n\ntu paquete ya debería estar contigo. Si algo no está bien, escríbenos.\n\n{{shop}}',
    cancelled:
      'Hola, {{first name}}:\n\ntu pedido {{order}} se ha cancelado y se te devolverá el importe. Lo sentimos.\n\n{{shop}}',
  },
  it: {
    thanks:
      'Ciao {{first name}},\n\ngrazie per il tuo ordine {{order}}: {{goods}}. Partirà presto; ti avviseremo.\n\n{{shop}}',
    shipped:
      'Ciao {{first name}},\n\n{{goods}} è partito oggi{{#carrier}} con {{carrier}}{{/carrier}}. Numero di spedizione: {{tracking}}.\n\n{{shop}}',
    delayed:
      'Ciao {{first name}},\n\nil tuo ordine {{order}} richiede un po’ più tempo del previsto. Ce ne stiamo occupando e ci scusiamo per l’attesa.\n\n{{shop}}',
    delivered:
      'Ciao {{first name}},\n\nil tuo pacco dovrebbe essere arrivato. Se qualcosa non va, scrivici.\n\n{{shop}}',
    cancelled:
      'Ciao {{first name}},\n\nil tuo ordine {{order}} è stato annullato e ti verrà rimborsato. Ci dispiace.\n\n{{shop}}',
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

/** The fixed words of a packing slip. */
export interface SlipWords {
  readonly title: string;
  readonly order: string;
  readonly to: string;
  readonly more: (n: number) => string;
  readonly contact: string;
}

const WORDS: Readonly<Record<string, SlipWords>> = {
  en: {
    title: 'Packing slip',
    order: 'Order',
    to: 'For',
    more: (n) => `and ${n} more`,
    contact: 'Questions?',
  },
  de: {
    title: 'Lieferschein',
    order: 'Bestellung',
    to: 'Für',
    more: (n) => `und ${n} weitere`,
    contact: 'Fragen?',
  },
  fr: {
    title: 'Bon de livraison',
    order: 'Commande',
    to: 'Pour',
    more: (n) => `et ${n} de plus`,
    contact: 'Une question ?',
  },
  nl: { title: 'Pakbon', order: 'Bestelling', to: 'Voor', more: (n) => `en nog ${n}`, contact: 'Vragen?' },
  pl: {
    title: 'Lista pakowa',
    order: 'Zamówienie',
    to: 'Dla',
    more: (n) => `i jeszcze ${n}`,
    contact: 'Pytania?',
  },
  es: { title: 'Albarán', order: 'Pedido', to: 'Para', more: (n) => `y ${n} más`, contact: '¿Preguntas?' },
  it: {
    title: 'Distinta di imballaggio',
    order: 'Ordine',
    to: 'Per',
    more: (n) => `e altri ${n}`,
    contact: 'Domande?',
  },
};

const BY_COUNTRY: Readonly<Record<string, string>> = {
  DE: 'de',
  AT: 'de',
  CH: 'de',
  FR: 'fr',
  BE: 'nl',
  NL: 'nl',
  PL: 'pl',
  ES: 'es',
  IT: 'it',
};

/** The language of a buyer, by the country that it goes to; English where none of ours is spoken. */
export const languageOf = (country: string): string => BY_COUNTRY[country] ?? 'en';

export const wordsIn = (language: string): SlipWords => WORDS[language] ?? WORDS.en!;

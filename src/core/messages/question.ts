/** How a question about the buyer's words begins, by language: with the name, the order and what stands in the way. */
const QUESTION: Readonly<Record<string, readonly [hello: string, about: string, ask: string]>> = {
  en: ['Hello', 'before we make your order', 'Please tell us how it should read.'],
  de: ['Guten Tag', 'bevor wir Ihre Bestellung anfertigen', 'Bitte schreiben Sie uns, wie es heißen soll.'],
  fr: ['Bonjour', 'avant de fabriquer votre commande', 'Merci de nous dire ce qui doit y figurer.'],
  it: ['Ciao', 'prima di realizzare il tuo ordine', 'Scrivici come deve essere il testo.'],
  es: ['Hola', 'antes de fabricar tu pedido', 'Dinos cómo debe quedar el texto.'],
  nl: ['Hallo', 'voordat we je bestelling maken', 'Laat ons weten hoe het moet worden.'],
  pl: ['Dzień dobry', 'zanim wykonamy zamówienie', 'Prosimy napisać, jak ma brzmieć tekst.'],
};

/** A question to begin with. @param what stands in the way, in sentences */
export function usualQuestion(
  language: string,
  { buyer, order, shop }: { readonly buyer: string; readonly order: string; readonly shop: string },
  what: string,
): string {
  const [hello, about, ask] = QUESTION[language] ?? QUESTION.en!;
  const first = buyer.trim().split(/\s+/)[0] ?? '';
  return [`${hello} ${first},`.replace(' ,', ','), '', `${about} ${order}: ${what}`.trim(), ask, '', shop]
    .join('\n')
    .trim();
}

import { wordsOf } from '../catalogue';
import { fold } from '../copy';

/**
 * Words for colours and sizes in English, German, French, Polish, Spanish, Italian and Dutch. Each line is
 * one meaning; its first word stands for it. Folded: without accents.
 */
const MEANINGS = `
black schwarz noir noire czarny czarna czarne negro negra nero zwart
white weiss weisse blanc blanche bialy biala biale blanco blanca bianco wit
grey gray grau gris szary szara szare grigio grijs
red rot rouge czerwony czerwona czerwone rojo roja rosso rood
blue blau bleu bleue niebieski niebieska niebieskie azul blu blauw
green grun gruen vert verte zielony zielona zielone verde groen
yellow gelb jaune zolty zolta zolte amarillo amarilla giallo geel
brown braun brun marron brazowy brazowa brazowe marrone bruin
orange pomaranczowy naranja arancione oranje
pink rosa rose rozowy rozowa rosado roze
purple violett lila violet fioletowy morado viola paars
slate schiefer ardoise lupkowy pizarra ardesia leisteen
moss moos mousse mech musgo muschio mos
sand sable piaskowy arena sabbia zand
rust rost rouille rdza oxido ruggine roest
nightblue nachtblau marine nuit granatowy marino navy
small klein klein petit petite maly mala pequeno pequena piccolo s
medium mittel moyen moyenne sredni srednia mediano mediana medio m
large gross grosse grand grande duzy duza groot l
xlarge xl extralarge
xxlarge xxl
xsmall xs extrasmall
`;

const meaning = new Map<string, string>();
for (const line of MEANINGS.trim().split('\n')) {
  const [first, ...others] = line.trim().split(' ');
  for (const word of [first!, ...others]) if (!meaning.has(word)) meaning.set(word, first!);
}

/** Names of options, so that they are no words of a value. */
const COMPOUNDS: readonly (readonly [RegExp, string])[] = [
  [
    /\b(night blue|midnight blue|bleu nuit|bleu marine|navy blue|azul noche|azul marino|blu notte|nocny blekit)\b/g,
    'nightblue',
  ],
  [/\b(extra large|extra gross|tres grand)\b/g, 'xlarge'],
  [/\b(extra small|extra klein)\b/g, 'xsmall'],
];

const UNITS: Readonly<Record<string, { readonly base: string; readonly times: number }>> = {
  mm: { base: 'mm', times: 1 },
  cm: { base: 'mm', times: 10 },
  m: { base: 'mm', times: 1000 },
  ml: { base: 'ml', times: 1 },
  cl: { base: 'ml', times: 10 },
  l: { base: 'ml', times: 1000 },
  litre: { base: 'ml', times: 1000 },
  liter: { base: 'ml', times: 1000 },
  litres: { base: 'ml', times: 1000 },
  g: { base: 'g', times: 1 },
  gr: { base: 'g', times: 1 },
  kg: { base: 'g', times: 1000 },
  v: { base: 'v', times: 1 },
  w: { base: 'w', times: 1 },
};

/**
 * What a text says, as words of one meaning and as measures: `0,5 l Flasche, schwarz` → words `flasche
 * black`, measures `500ml`.
 */
export interface Meaning {
  readonly words: readonly string[];
  /**
   * Numbers, with their unit in its smallest form, and codes of models. What differs here is another thing.
   */
  readonly measures: ReadonlySet<string>;
}

export function meaningOf(text: string): Meaning {
  let plain = fold(text).replace(/ß/g, 'ss').replace(/ł/g, 'l');
  for (const [pattern, word] of COMPOUNDS) plain = plain.replace(pattern, word);
  const measures = new Set<string>();
  const rest = plain.replace(
    /(?<![\p{L}\p{N}])(\d+(?:[.,]\d+)?)\s*(mm|cm|ml|cl|litres|litre|liter|kg|gr|g|l|m|v|w|"|%|°)?(?![\p{L}\p{N}])/gu,
    (_, number: string, unit: string | undefined) => {
      const n = Number(number.replace(',', '.'));
      const known = unit ? UNITS[unit] : undefined;
      measures.add(known ? `${Math.round(n * known.times * 1000) / 1000}${known.base}` : `${n}${unit ?? ''}`);
      return ' ';
    },
  );
  // Letters and figures together name a model: another code is another thing, as another measure is.
  for (const word of wordsOf(rest)) if (/\d/.test(word) && /\p{L}/u.test(word)) measures.add(word);
  return { words: [...new Set(wordsOf(rest).map((w) => meaning.get(w) ?? stem(w)))], measures };
}

/** Plurals of English, so that “straps” meets “strap”. */
const stem = (word: string) =>
  word.length > 4 && word.endsWith('s') && !word.endsWith('ss') ? word.slice(0, -1) : word;

/**
 * The meanings of an option's value, in one text that can be compared: `Größe: Groß` and `Size: Large` agree.
 * Values repeat: each is worked out once.
 */
export function valueMeaning(value: string): string {
  let known = values.get(value);
  if (known === undefined) {
    const { words, measures } = meaningOf(value);
    known = [...words, ...measures].sort().join(' ');
    if (values.size < 5_000) values.set(value, known);
  }
  return known;
}

const values = new Map<string, string>();

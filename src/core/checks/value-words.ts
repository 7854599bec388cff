import { fold } from '../copy';

/** Words for the same value in English, German, French and Dutch: colours, sizes and materials as suppliers write them. */
const SAME: readonly (readonly string[])[] = [
  ['black', 'schwarz', 'noir', 'zwart', 'blk'],
  ['white', 'weiß', 'weiss', 'blanc', 'wit', 'wht'],
  [
    'grey',
    'gray',
    'grau',
    'gris',
    'grijs',
    'anthracite',
    'anthrazit',
    'charcoal',
    'slate',
    'schiefer',
    'ardoise',
    'leisteen',
  ],
  ['red', 'rot', 'rouge', 'rood', 'crimson'],
  ['orange', 'oranje'],
  ['yellow', 'gelb', 'jaune', 'geel', 'amber'],
  ['green', 'grün', 'gruen', 'vert', 'groen', 'olive', 'oliv', 'moss'],
  ['blue', 'blau', 'bleu', 'blauw', 'navy', 'marine', 'nachtblau'],
  ['purple', 'violet', 'lila', 'violett', 'paars'],
  ['pink', 'rosa', 'rose', 'roze'],
  ['brown', 'braun', 'brun', 'marron', 'bruin', 'tan', 'oak'],
  ['beige', 'sand', 'sable', 'cream', 'creme'],
  ['silver', 'silber', 'argent', 'zilver'],
  ['gold', 'golden', 'doré', 'goud'],
  ['multicolour', 'multicolor', 'bunt', 'multicolore', 'mehrfarbig', 'assorted'],
  ['extra small', 'xs'],
  ['small', 's', 'klein', 'petit', 'sm'],
  ['medium', 'm', 'mittel', 'moyen', 'middel', 'med'],
  ['large', 'l', 'groß', 'gross', 'grand', 'groot', 'lge'],
  ['extra large', 'xl', 'sehr groß'],
  ['one size', 'einheitsgröße', 'taille unique', 'one-size', 'os'],
  ['cotton', 'baumwolle', 'coton', 'katoen'],
  ['wool', 'wolle', 'laine', 'wol', 'merino'],
  ['leather', 'leder', 'cuir', 'leer'],
  ['wood', 'holz', 'bois', 'hout'],
  ['metal', 'metall', 'métal', 'metaal'],
  ['steel', 'stahl', 'acier', 'staal', 'stainless steel', 'edelstahl'],
  ['aluminium', 'aluminum', 'alu'],
  ['plastic', 'kunststoff', 'plastique', 'plastik'],
  ['glass', 'glas', 'verre'],
  ['paper', 'papier'],
];

const groups = new Map(SAME.flatMap((words, group) => words.map((word) => [fold(word), group] as const)));

/** Whether two folded words are known to mean the same value. */
export const sameMeaning = (a: string, b: string): boolean => {
  const group = groups.get(a);
  return group !== undefined && group === groups.get(b);
};

import { type Instant, instantOf } from '../units';
import { dayInForm, readBuyersDay } from './days';
import type { BuyerField, ChoiceField, FieldBox, Lettering } from './fields';
import { type Face, pathOf, setWords } from './lettering';
import { type FindPlaces, isWarning, type Place, type Problem, problemsOf } from './problems';
import type { Values } from './reading';
import { type SkyChart, skySvg } from './sky';
import { comparable, settable } from './words';

/** Something of the buyer's as it is drawn into an area. */
export type PersonalLayer =
  /** A drawing of the size of its box, mm. */
  | { readonly kind: 'drawing'; readonly box: FieldBox; readonly svg: string }
  /** One of the seller's designs. */
  | { readonly kind: 'motif'; readonly box: FieldBox; readonly design: string }
  | { readonly kind: 'picture'; readonly box: FieldBox; readonly file: string; readonly how: 'fit' | 'fill' };

/** What is needed besides the buyer's words. */
export interface PersonalWorld {
  /** Null where the font is not shipped. */
  readonly face: (font: string) => Face | null;
  readonly places: FindPlaces;
  readonly chart: SkyChart;
  /** Words that the seller does not print. */
  readonly forbidden: readonly string[];
}

export interface DrawnWords {
  /** From the lowest up. */
  readonly layers: readonly PersonalLayer[];
  readonly problems: readonly Problem[];
}

const chosen = (field: ChoiceField, values: Values) =>
  field.choices.find((c) => comparable(c.name) === comparable(values[field.id] ?? ''));

/** How a field is set, once the buyer has chosen. */
function letteringOf(
  id: string,
  lettering: Lettering,
  fields: readonly BuyerField[],
  values: Values,
): Lettering {
  let out = lettering;
  for (const f of fields) {
    if (f.kind !== 'choice' || f.of === 'motif' || (f.sets && f.sets !== id)) continue;
    const value = chosen(f, values)?.value;
    if (value) out = { ...out, ...(f.of === 'font' ? { font: value } : { colour: value }) };
  }
  return out;
}

const svgOf = ({ width, height }: { width: number; height: number }, inside: string): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">${inside}</svg>`;

/** A colour as SVG takes it; black where it is none. */
const colourOf = (colour: string): string => (/^#[0-9a-f]{6}$/i.test(colour) ? colour : '#000000');

function written(field: BuyerField, value: string, places: FindPlaces): string {
  const text = settable(value);
  switch (field.kind) {
    case 'text':
      return field.letters === 'capitals'
        ? text.toLocaleUpperCase()
        : field.letters === 'small letters'
          ? text.toLocaleLowerCase()
          : text;
    case 'date': {
      const day = readBuyersDay(text);
      return day && 'day' in day ? dayInForm(day.day, field.form, field.language) : '';
    }
    case 'place': {
      // The name as it is written there, where it is known; what stands behind it told which was meant.
      const [place] = text.includes(',') ? places(text) : [];
      return place ? place.name : text;
    }
    default:
      return '';
  }
}

/** The instant of a sky: the day of the print's date, at the hour that the buyer named or the field has, there. */
function instantOfSky(
  fields: readonly BuyerField[],
  values: Values,
  place: Place,
  hour: string,
): Instant | null {
  const date = fields.find((f) => f.kind === 'date');
  const day = date ? readBuyersDay(settable(values[date.id] ?? '')) : null;
  return day && 'day' in day ? instantOf(`${day.day}T${day.time ?? hour}`, place.zone) : null;
}

/**
 * Draws what a buyer said into the fields of an area. Words become outlines here, so that what is drawn later is the same
 * wherever it is drawn, and nothing of a text is ever read as markup.
 * @param fields of the whole print: a choice in one area may set another @param own those of this area
 * @param area of the file, mm
 */
export function drawWords(
  fields: readonly BuyerField[],
  own: readonly BuyerField[],
  values: Values,
  area: { readonly across: number; readonly down: number },
  world: PersonalWorld,
): DrawnWords {
  const problems: Problem[] = problemsOf(fields, values, world.forbidden, world.places).filter((p) =>
    own.some((f) => f.id === p.field),
  );
  const stuck = new Set(problems.filter((p) => !isWarning(p)).map((p) => p.field));
  const layers: PersonalLayer[] = [];
  for (const field of own) {
    const value = settable(values[field.id] ?? '');
    if (!value || stuck.has(field.id)) continue;
    const { box } = field;
    const size = { width: box.width * area.across, height: box.height * area.down };
    if (field.kind === 'picture') layers.push({ kind: 'picture', box, file: value, how: field.how });
    else if (field.kind === 'choice') {
      const motif = field.of === 'motif' ? chosen(field, values)?.value : undefined;
      if (motif) layers.push({ kind: 'motif', box, design: motif });
    } else if (field.kind === 'place' && field.as === 'sky') {
      const [place] = world.places(value);
      const at = place ? instantOfSky(fields, values, place, field.hour) : null;
      if (!place || at === null) continue;
      const colour = colourOf(letteringOf(field.id, field.lettering, fields, values).colour);
      layers.push({ kind: 'drawing', box, svg: svgOf(size, skySvg(world.chart, at, place, colour, size)) });
    } else {
      const lettering = letteringOf(field.id, field.lettering, fields, values);
      const face = world.face(lettering.font);
      if (!face) {
        problems.push({
          field: field.id,
          kind: 'lacking',
          letters: [...value].slice(0, 1),
          font: lettering.font,
        });
        continue;
      }
      const lines = field.kind === 'text' ? field.lines : 1;
      const set = setWords(written(field, value, world.places), lines, lettering, face, size);
      if (!set.ok) {
        problems.push(
          set.why === 'lacking'
            ? { field: field.id, kind: 'lacking', letters: set.letters, font: face.font.name }
            : { field: field.id, kind: 'does not fit', size: set.size, least: lettering.least },
        );
        continue;
      }
      const path = pathOf(set.words.outlines);
      if (path)
        layers.push({
          kind: 'drawing',
          box,
          svg: svgOf(size, `<path d="${path}" fill="${colourOf(lettering.colour)}"/>`),
        });
    }
  }
  return { layers, problems };
}

/** What a field says where no buyer has said anything yet. */
export const examplesOf = (fields: readonly BuyerField[]): Values =>
  Object.fromEntries(fields.map((f) => [f.id, f.example]));

import { plainText } from '../copy';
import { isDateLike } from './cells';
import type { Match } from './match';
import { KEPT_LENGTH, MOST_KEPT, once } from './once';
import { placesOf, type Row } from './row';

const MOST_OPTIONS = 6;
const NONE: Readonly<Record<string, string>> = {};

/** Values of the first options of a row, and what further options make of them. */
interface Choice {
  readonly path: readonly string[];
  chosen: Readonly<Record<string, string>> | null;
  /** One of them looks like a date. */
  readonly dated: boolean;
  readonly next: Map<string, Choice>;
}

/**
 * Reads which options a row is: its colour, its size. The same come again and again: they are one object, made once and
 * found by one option after the other.
 */
export class ChosenOptions {
  private readonly options: readonly { readonly place: number; readonly name: string }[];
  private readonly valueOf = once((text) => plainText(text).slice(0, 120));
  private readonly first = new Map<string, Choice>();
  private kept = 0;

  constructor(
    match: Match,
    private readonly row: Row,
  ) {
    this.options = placesOf(match, 'option').map((place) => ({
      place,
      name: plainText(match.header[place] ?? '').slice(0, 40) || `Option ${place + 1}`,
    }));
  }

  /** Whether the row at hand has any. */
  some(): boolean {
    return this.options.some(({ place }) => this.row.text(place));
  }

  /** Those of the row at hand; what looks like a date is told. */
  read(): Readonly<Record<string, string>> {
    let next = this.first;
    let found: Choice | undefined;
    for (const { place } of this.options) {
      found = this.choice(next, found, this.row.text(place));
      next = found.next;
    }
    if (!found) return NONE;
    if (found.dated) this.tellDates();
    found.chosen ??= this.chosenBy(found.path);
    return found.chosen;
  }

  private choice(among: Map<string, Choice>, before: Choice | undefined, text: string): Choice {
    const known = among.get(text);
    if (known) return known;
    const made: Choice = {
      path: [...(before?.path ?? []), text],
      chosen: null,
      dated: before?.dated || isDateLike(text),
      next: new Map(),
    };
    if (this.kept++ < MOST_KEPT && text.length < KEPT_LENGTH) among.set(text, made);
    return made;
  }

  private chosenBy(path: readonly string[]): Readonly<Record<string, string>> {
    const named = path.flatMap((text, o) => {
      const value = this.valueOf(text);
      return value ? [[this.options[o]!.name, value] as const] : [];
    });
    return Object.fromEntries(named.slice(0, MOST_OPTIONS));
  }

  private tellDates(): void {
    for (const { place } of this.options) {
      const text = this.row.text(place);
      if (isDateLike(text)) this.row.tell(place, `“${text}” looks as if a spreadsheet turned it into a date`);
    }
  }
}

import { fold } from '../copy';
import type { Catalogue } from './catalogue';
import { wordsOf } from './words';

/**
 * Which places have a word: rows of a catalogue by their titles, or codes of a list by its texts. Words in
 * alphabetical order, their places end to end, so that all places with words of one beginning stand together.
 * Titles of 200,000 items with 80,000 different words: some 80 ms to make, 25 bytes an item.
 */
export interface Postings {
  readonly words: readonly string[];
  readonly places: Int32Array;
  /** Places of word w: `places[starts[w]]` to before `places[starts[w + 1]]`. */
  readonly starts: Int32Array;
}

/**
 * @param each tells every word, by its number in `list`, with a place that has it; the same each time it is
 * called
 */
function make(
  list: readonly string[],
  each: (tell: (word: number, place: number) => void) => void,
): Postings {
  const words = [...list].sort();
  const numberOf = new Map(words.map((word, w) => [word, w]));
  const sorted = Int32Array.from(list, (word) => numberOf.get(word)!);
  const starts = new Int32Array(words.length + 1);
  each((word) => {
    starts[sorted[word]! + 1]!++;
  });
  for (let w = 1; w < starts.length; w++) starts[w]! += starts[w - 1]!;
  const places = new Int32Array(starts.at(-1)!);
  const next = starts.slice();
  each((word, place) => {
    places[next[sorted[word]!]!++] = place;
  });
  return { words, places, starts };
}

/** What is made of a list whose texts are searched: as they are compared, and by their words. */
export interface SearchedList {
  readonly folded: readonly string[];
  readonly postings: Postings;
}

function makeList(list: readonly string[]): SearchedList {
  const numbers = new Map<string, number>();
  const wordsIn = list.map((text) =>
    wordsOf(text).map((word) => {
      const known = numbers.get(word) ?? numbers.size;
      numbers.set(word, known);
      return known;
    }),
  );
  const postings = make([...numbers.keys()], (tell) => {
    for (const [code, words] of wordsIn.entries()) for (const word of words) tell(word, code);
  });
  return { folded: list.map(fold), postings };
}

const SEARCHED = ['brand', 'category', 'options', 'shipsFrom'] as const;

type SearchedLists = Readonly<Record<(typeof SEARCHED)[number], SearchedList>>;

interface Made {
  readonly pieces: number;
  titles: Postings | null;
  lists: SearchedLists | null;
}
const made = new WeakMap<Catalogue, Made>();

/** What was made of a catalogue as it is now; all is made again once a piece was applied. */
function madeOf(c: Catalogue): Made {
  let known = made.get(c);
  if (known?.pieces !== c.pieces) {
    known = { pieces: c.pieces, titles: null, lists: null };
    made.set(c, known);
  }
  return known;
}

/** Whether the words of a catalogue are at hand, so that a search need not wait until they are made. */
export const hasWords = (c: Catalogue): boolean => madeOf(c).titles !== null && madeOf(c).lists !== null;

/** Rows by the words of their titles. */
export function titlesOf(c: Catalogue): Postings {
  const known = madeOf(c);
  const { words, wordStart, wordCount } = c;
  known.titles ??= make(c.lists.word, (tell) => {
    for (let row = 0; row < c.length; row++)
      for (let w = wordStart[row]!, end = w + wordCount[row]!; w < end; w++) tell(words[w]!, row);
  });
  return known.titles;
}

/** The lists that items share, made ready to be searched. */
export function listsOf(c: Catalogue): SearchedLists {
  const known = madeOf(c);
  known.lists ??= Object.fromEntries(
    SEARCHED.map((name) => [name, makeList(c.lists[name])]),
  ) as SearchedLists;
  return known.lists;
}

/** The first word that is not before `text`. */
function placeFrom(words: readonly string[], text: string): number {
  let low = 0;
  let high = words.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (words[middle]! < text) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Places with a word that begins so; a place comes once for each such word. Cost: two searches by halves. */
export function placesBeginning({ words, places, starts }: Postings, begin: string): Int32Array {
  return places.subarray(starts[placeFrom(words, begin)]!, starts[placeFrom(words, `${begin}\uffff`)]!);
}

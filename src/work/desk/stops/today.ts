import { work } from '../../browser/browser';
import { noteFailure } from '../../context/failure';
import { lastChanges } from '../../memory/history';
import { takeAlert } from '../../overview/alerts';
import { type Course, keepCourse, keptCourse, readCourse } from '../../overview/course';
import { digestOf } from '../../overview/digest';
import { bound } from '../bound';
import { type Feed, stored } from '../feed';
import { AT_ONCE, assortment, book, built, builtBook, changing, rest, source, stands } from '../memory';

/** Questions and acts of Today, the digest and alerts. */
export const todayDesk = {
  /** Answered once the page has what it began with: what runs beside it may begin. */
  settled: () => ready.promise,
  digestOf: async (day: string) => {
    await builtBook();
    return digestOf(work, day, book);
  },
  takeAlert: bound(takeAlert),
};

/** The course is drawn again at most this often. */
const CALM = 400;
const OF_COURSE = [
  'journal',
  'plans',
  'connections',
  'stated',
  'health',
  'jobs',
  'outbox',
  'changes',
  'doubts',
];

/** Milliseconds after the first course in which nothing else is begun. */
const WARM = 300;

/** Reads what other views will ask for, one after the other, while nothing is asked. */
async function warm(): Promise<void> {
  await builtBook();
  await source.ready(rest);
  for (const [place, full] of assortment.all()) {
    assortment.columns.wordsOf(place, full);
    if (place % AT_ONCE === 0) await rest();
  }
}

let warmed = false;

/** Settled once what other views ask for is read, or could not be. */
const ready = Promise.withResolvers<void>();

/** Counts and needs now; with them, later, what other views will ask for. */
async function courseNow(): Promise<Course> {
  await stands.promise;
  await Promise.all([built(), builtBook()]);
  const course = await readCourse(work, book);
  // Who looks is told at once; storage may be busy.
  keepCourse(work, course).catch(noteFailure);
  if (!warmed) setTimeout(() => warm().catch(noteFailure).finally(ready.resolve), WARM);
  warmed = true;
  return course;
}

export const todayFeeds = {
  /** Counts and needs along the course, whenever they may have changed, and at least each half minute as time passes. */
  course: ((tell, fail) => {
    let told = false;
    // What was drawn last stands until the shop is read.
    keptCourse(work).then((kept) => kept && !told && tell(kept), noteFailure);
    const follow = changing(OF_COURSE, { calm: CALM, often: CALM, atLeast: 30_000 }, courseNow);
    return follow((course) => {
      told = true;
      tell(course);
    }, fail);
  }) satisfies Feed<[], Course>,
  lastChanges: stored(lastChanges),
};

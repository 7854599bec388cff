import type { WireItem, WireItemPage } from '../src/connect/wire';
import { type Answer, problem, type Request } from './answer';

/** Ways in which a page of the catalogue can be wrong. */
export const SPOILS = [
  'broken-json',
  'negative-cost',
  'absurd-number',
  'other-currency',
  'markup',
  'missing-fields',
  'huge-page',
] as const;
export type Spoil = (typeof SPOILS)[number];

/** What is provoked at one service; numbers count down with each request they touch. */
export interface FaultSettings {
  outage: boolean;
  slowMs: number;
  tooMany: number;
  /** The next answers to requests that change something are lost after they were carried out. */
  loseAnswers: number;
  /** Reading by cursor repeats what was read before. */
  duplicate: boolean;
  /** Changes come only after they were asked for this many times. */
  late: number;
  spoil: Spoil | null;
  /**
   * The next answers to requests that change something are replaced, after they were carried out, by a page
   * of somebody between.
   */
  stray: number;
  /**
   * Chance of each, for tests: refuse the connection, lose the answer, 503, 429, a 404 or 413 from between
   * (before or after it was carried out).
   */
  random: { drop: number; lose: number; fail: number; tooMany: number; stray?: number } | null;
}

export interface Fate {
  wait: number;
  before: Answer | 'drop' | null;
  lose: boolean;
  /** What is answered instead of the service's own word. */
  instead: Answer | null;
  spoil: ((answer: Answer) => Answer) | null;
}

/** What a proxy says of its own: JSON, but no problem document of the contract. */
const strayAnswer = (status: number): Answer => ({
  status,
  headers: { 'content-type': 'application/json' },
  body: { error: 'from a proxy' },
});

export class Faults {
  settings: FaultSettings = {
    outage: false,
    slowMs: 0,
    tooMany: 0,
    loseAnswers: 0,
    duplicate: false,
    late: 0,
    stray: 0,
    spoil: null,
    random: null,
  };
  /** How many requests each fault touched, for figures. */
  readonly injected = { drop: 0, lose: 0, fail: 0, tooMany: 0, stray: 0 };

  constructor(private readonly luck: () => number = Math.random) {}

  fate(request: Request): Fate {
    const s = this.settings;
    const fate: Fate = { wait: s.slowMs, before: null, lose: false, instead: null, spoil: null };
    const changes = request.method !== 'GET' && request.path.startsWith('/v1/');
    const limited = problem({
      status: 429,
      type: 'urn:wire:too-many',
      title: 'Too many requests',
      detail: 'Come back later.',
    });
    limited.headers = { ...limited.headers, 'retry-after': s.random ? '0' : '3' };
    if (s.outage)
      fate.before = problem({
        status: 503,
        type: 'urn:wire:outage',
        title: 'Out of service',
        detail: 'We are mending something.',
      });
    else if (s.tooMany > 0) {
      s.tooMany--;
      fate.before = limited;
    } else if (s.loseAnswers > 0 && changes) {
      s.loseAnswers--;
      fate.lose = true;
    } else if (s.stray > 0 && changes) {
      s.stray--;
      fate.instead = strayAnswer(404);
    } else if (s.random) {
      const r = this.luck();
      const { drop, lose, fail, tooMany, stray = 0 } = s.random;
      if (r < drop) {
        this.injected.drop++;
        fate.before = 'drop';
      } else if (r < drop + lose) {
        this.injected.lose++;
        fate.lose = true;
      } else if (r < drop + lose + fail) {
        this.injected.fail++;
        fate.before = problem({ status: 503, title: 'Out of service' });
      } else if (r < drop + lose + fail + tooMany) {
        this.injected.tooMany++;
        fate.before = limited;
      } else if (r < drop + lose + fail + tooMany + stray) {
        this.injected.stray++;
        const answer = strayAnswer(this.luck() < 0.5 ? 404 : 413);
        if (this.luck() < 0.5) fate.before = answer;
        else fate.instead = answer;
      }
    }
    if (s.spoil && request.path === '/v1/items') {
      // A page said to be unchanged could not be spoiled.
      request.headers = { ...request.headers, 'if-none-match': undefined };
      fate.spoil = spoiler(s.spoil);
    }
    return fate;
  }

  set(change: Partial<FaultSettings>): void {
    this.settings = { ...this.settings, ...change };
  }
}

function spoiler(how: Spoil): (answer: Answer) => Answer {
  return (answer) => {
    if (answer.status !== 200) return answer;
    if (how === 'broken-json')
      return {
        ...answer,
        headers: { 'content-type': 'application/json' },
        body: `${JSON.stringify(answer.body).slice(0, 4000)}…`,
      };
    if (how === 'huge-page')
      return {
        ...answer,
        headers: { 'content-type': 'application/json' },
        body: `{"items":"${'x'.repeat(50_000_000)}"}`,
      };
    const page = structuredClone(answer.body) as WireItemPage;
    if (how === 'other-currency') page.currency = 'XTS';
    const first = page.items[0] as (WireItem & Record<string, unknown>) | undefined;
    if (first) {
      if (how === 'negative-cost') first.cost = '-3.20';
      if (how === 'absurd-number') first.stock = 9e15;
      if (how === 'markup')
        first.title = `<img src=x onerror=alert(1)>${first.title}<script>alert(2)</script>`;
      if (how === 'missing-fields') (first as Partial<WireItem>).cost = undefined;
    }
    return { ...answer, headers: { ...answer.headers, etag: '"spoiled"' }, body: page };
  };
}

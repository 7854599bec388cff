import type { Condition } from '../query';
import { type Instant, nextTime, timetableInWords } from '../units';

/** When an order that passed its checks is bought. */
export type Going =
  | { readonly kind: 'at once' }
  /** After a time in which buyer or seller can still change it. */
  | { readonly kind: 'wait'; readonly minutes: number }
  /** At set hours of a zone; days of the week as ISO 8601 counts them. */
  | {
      readonly kind: 'hours';
      readonly zone: string;
      readonly days: readonly number[];
      readonly times: readonly string[];
    }
  | { readonly kind: 'by hand' };

/** Orders of a condition go at some time. Of several rules the first that fits counts. */
export interface ForwardingRule {
  readonly id: string;
  readonly name: string;
  readonly on: boolean;
  readonly when: Condition;
  readonly going: Going;
}

/** When an order goes that passed its checks at an instant; null where a person has to say so. */
export function goesAt(going: Going, passed: Instant): Instant | null {
  switch (going.kind) {
    case 'at once':
      return passed;
    case 'wait':
      return passed + going.minutes * 60_000;
    case 'hours': {
      const { zone, days } = going;
      if (!days.length || !going.times.length) return null;
      return Math.min(...going.times.map((time) => nextTime({ time, days }, passed, zone)));
    }
    case 'by hand':
      return null;
  }
}

/** `45 minutes`, `2 hours`. */
function minutesInWords(minutes: number): string {
  if (minutes % 60 === 0 && minutes > 0) return minutes === 60 ? 'an hour' : `${minutes / 60} hours`;
  return minutes === 1 ? 'a minute' : `${minutes} minutes`;
}

export function goingInWords(going: Going): string {
  switch (going.kind) {
    case 'at once':
      return 'at once';
    case 'wait':
      return `after ${minutesInWords(going.minutes)}`;
    case 'hours':
      return `${timetableInWords({ time: [...going.times].sort().join(' and '), days: going.days })}, ${going.zone} time`;
    case 'by hand':
      return 'when you say so';
  }
}

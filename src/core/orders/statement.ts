import type { Instant } from '../units';
import type { Unclear } from './cases';
import { byLine, type LineUnits, unitsOf } from './line-units';
import {
  type AcceptedPurchase,
  type Charge,
  isAccepted,
  type MakerStage,
  type Parcel,
  type Purchase,
  type PurchaseLine,
  packedIn,
  parcelsOf,
} from './order';
import type { ClaimState } from './return';

/** Pieces of a supplier's item; of which line of ours, where the supplier says so. */
export interface Count {
  readonly line: string | null;
  readonly sku: string;
  readonly quantity: number;
}

/** All that a supplier says of one purchase at a time. */
export interface Statement {
  readonly reference: string;
  readonly number: string;
  readonly status: 'accepted' | 'part shipped' | 'shipped' | 'delivered' | 'cancelled';
  /** Rises with each change; null where the supplier does not count them. */
  readonly revision: number | null;
  readonly lines: readonly Count[];
  /** Null where it does not say. */
  readonly charge: Charge | null;
  readonly acceptedAt: Instant;
  readonly parcels: readonly {
    readonly carrier: string;
    readonly tracking: string;
    readonly shippedAt: Instant;
    readonly deliveredAt: Instant | null;
    /** Null where it is all that is left. */
    readonly lines: readonly Count[] | null;
  }[];
  /** All that was taken out of it so far. */
  readonly cancelled: readonly Count[];
  /** Of goods that are made to order: the name of the site, and how far it is. */
  readonly site?: string;
  readonly stage?: MakerStage;
  /** What is printed again; missing where nothing is said of it. */
  readonly reprints?: readonly {
    readonly id: string;
    readonly state: 'asked' | 'granted' | 'refused' | 'sent';
    readonly says: string;
    readonly carrier: string;
    readonly tracking: string | null;
  }[];
  /** Returns that it was asked about; missing where nothing is said of any. Amounts in its currency. */
  readonly returns?: readonly {
    /** The case's. */
    readonly id: string;
    readonly state: ClaimState;
    readonly answer: string;
    readonly answerBy: Instant | null;
    readonly credit: number;
    readonly restocking: number;
    /** The goods are back with it. */
    readonly isBack: boolean;
    readonly carrier: string;
    readonly tracking: string | null;
  }[];
  /** Parcels that their carrier brings back; missing for none. */
  readonly back?: readonly {
    readonly tracking: string;
    readonly why: string;
    /** Until when they are held at no cost; null where it does not say. */
    readonly heldUntil: Instant | null;
    /** It goes out again, and what that is charged; null while it does not. */
    readonly again: { readonly charged: number } | null;
  }[];
}

/** An SKU of which it cannot be told what was meant. */
export type Guess = Pick<Unclear, 'item' | 'tracking' | 'units' | 'why'>;

const isOf = (l: PurchaseLine, c: Count) => c.line === l.line && (c.sku === l.item || c.sku === '');

/**
 * Shares pieces out over a purchase's lines. What names no line is given to the lines of its SKU in their order,
 * personalised ones last, first to those that it is expected of.
 * @param room pieces that each line takes at most
 * @param expected pieces that are expected of each line
 */
function allot(
  counts: readonly Count[],
  lines: readonly PurchaseLine[],
  room: readonly number[],
  expected: readonly number[],
): { readonly pieces: number[]; readonly guessed: string[]; readonly surplus: string[] } {
  const pieces = lines.map(() => 0);
  const guessed: string[] = [];
  const surplus: string[] = [];
  const give = (k: number, wanted: number) => {
    const given = Math.max(0, Math.min(wanted, room[k]! - pieces[k]!));
    pieces[k]! += given;
    return given;
  };
  for (const c of counts) {
    if (c.line === null) continue;
    let left = c.quantity;
    for (const [k, l] of lines.entries()) if (isOf(l, c)) left -= give(k, left);
    if (left > 0) surplus.push(c.sku);
  }
  for (const c of counts) {
    if (c.line !== null) continue;
    const own = lines.map((l, k) => ({ l, k })).filter(({ l }) => l.item === c.sku);
    const inOrder = [...own].sort(
      (a, b) => Number(a.l.personalisation !== null) - Number(b.l.personalisation !== null),
    );
    let left = c.quantity;
    for (const { k } of inOrder) left -= give(k, Math.min(left, expected[k]! - pieces[k]!));
    if (left <= 0) continue;
    const open = inOrder.filter(({ k }) => room[k]! > pieces[k]!);
    const texts = new Set(open.map(({ l }) => l.personalisation));
    const space = open.reduce((n, { k }) => n + room[k]! - pieces[k]!, 0);
    if (texts.size > 1 && left < space) guessed.push(c.sku);
    for (const { k } of open) left -= give(k, left);
    if (left > 0) surplus.push(c.sku);
  }
  return { pieces, guessed, surplus };
}

/**
 * A purchase after its supplier said where it stands, unit by unit. News may come late, twice, or before the answer to
 * the purchase: what is older than what is known changes nothing, and nothing that was cancelled or sent is ever taken
 * back by it. Of what is shipped as a whole, units in no parcel will not come.
 * @param asked units that the supplier was asked to take back and has not answered for
 * @param dispatched tracking numbers that the marketplace has
 */
export function afterStatement(
  p: Purchase,
  said: Statement,
  asked: readonly LineUnits[],
  dispatched: readonly string[],
  at: Instant,
): { readonly purchase: AcceptedPurchase; readonly guesses: readonly Guess[] } {
  const known = isAccepted(p) ? p : null;
  const isStale = known?.revision != null && said.revision !== null && said.revision < known.revision;
  if (known && isStale) return { purchase: known, guesses: [] };
  const lines = asOrdered(p, said);
  const guesses: Guess[] = [];
  const guess = (
    why: Guess['why'],
    skus: readonly string[],
    tracking: string | null,
    given: readonly number[],
  ) => {
    for (const item of skus)
      guesses.push({
        item,
        tracking,
        why,
        units: byLine(lines.map((l, k) => ({ line: l.line, units: l.item === item ? given[k]! : 0 }))),
      });
  };

  // Parcels that say what is in them; a parcel's units are those that are whole with it.
  const packed = lines.map(() => 0);
  const unitsAt = (k: number) => Math.floor(packed[k]! / lines[k]!.pack);
  const fill = (pieces: readonly number[]): number[] =>
    pieces.map((n, k) => {
      const before = unitsAt(k);
      packed[k]! += n;
      return unitsAt(k) - before;
    });
  const insideOf = (units: readonly number[]) =>
    byLine(lines.map((l, k) => ({ line: l.line, units: units[k]! })));
  const inside = new Map<string, LineUnits[]>();
  const before = new Map(parcelsOf(p).map((one) => [one.tracking, one]));
  const keep = (parcel: Parcel) => {
    const left = new Map(parcel.inside.map((u) => [u.line, u.units]));
    for (const [k, l] of lines.entries()) {
      const units = Math.min(left.get(l.line) ?? 0, l.units - unitsAt(k));
      packed[k]! += units * l.pack;
      left.set(l.line, (left.get(l.line) ?? 0) - units);
    }
    inside.set(parcel.tracking, [...parcel.inside]);
  };
  const named = new Set(said.parcels.map((one) => one.tracking));
  for (const parcel of before.values()) {
    const now = said.parcels.find((one) => one.tracking === parcel.tracking);
    if (!named.has(parcel.tracking) || !now?.lines?.every((c) => c.line !== null)) keep(parcel);
  }
  for (const parcel of said.parcels) {
    if (!parcel.lines || inside.has(parcel.tracking)) continue;
    // What was cancelled before stays so, whatever is said to be in a parcel.
    const room = lines.map((l, k) => Math.max(0, (l.units - l.calledOff) * l.pack - packed[k]!));
    const { pieces, guessed, surplus } = allot(
      parcel.lines,
      lines,
      room,
      room.map(() => 0),
    );
    const units = fill(pieces);
    guess('which', guessed, parcel.tracking, units);
    guess('surplus', surplus, parcel.tracking, units);
    inside.set(parcel.tracking, insideOf(units));
  }

  // What will not come: as said, never less than was known, never what lies in a parcel.
  const unpacked = lines.map((l, k) => (l.units - unitsAt(k)) * l.pack);
  const expected = lines.map((l, k) =>
    Math.min(unpacked[k]!, (l.calledOff + Math.min(unitsOf(asked, l.line), l.units)) * l.pack),
  );
  const out = allot(said.cancelled, lines, unpacked, expected);
  const over = said.status === 'cancelled';
  const calledOff = lines.map((l, k) => {
    const free = l.units - unitsAt(k);
    const units = over ? free : Math.ceil(out.pieces[k]! / l.pack);
    return Math.min(free, Math.max(l.calledOff, units));
  });
  if (!over)
    guess(
      'which',
      out.guessed,
      null,
      calledOff.map((n, k) => n - lines[k]!.calledOff),
    );
  for (const parcel of said.parcels) {
    if (inside.has(parcel.tracking)) continue;
    const units = fill(lines.map((l, k) => (l.units - calledOff[k]!) * l.pack - packed[k]!));
    inside.set(parcel.tracking, insideOf(units));
  }
  const whole = said.status === 'shipped' || said.status === 'delivered';
  const made = lines.map((l, k) => ({
    ...l,
    calledOff: whole ? l.units - unitsAt(k) : calledOff[k]!,
  }));

  const news = said.parcels.map(({ lines: _, ...parcel }): Parcel => {
    const one = before.get(parcel.tracking);
    return {
      ...parcel,
      deliveredAt: one?.deliveredAt ?? parcel.deliveredAt,
      inside: inside.get(parcel.tracking)!,
      toldAt: one?.toldAt ?? (dispatched.includes(parcel.tracking) ? at : null),
    };
  });
  const { reference, supplier, lane, currency, expected: cost, service, sites } = p;
  const site = said.site ?? known?.site;
  const stage = said.stage ?? known?.stage;
  return {
    purchase: {
      ...{ reference, supplier, lane, currency, expected: cost, at: p.at },
      ...(service && { service }),
      ...(sites && { sites }),
      ...(site && { site }),
      ...(stage && { stage }),
      state: 'accepted',
      lines: made,
      number: said.number,
      acceptedAt: known?.acceptedAt ?? said.acceptedAt,
      charged: said.charge ?? known?.charged ?? null,
      parcels: [...[...before.values()].filter((one) => !named.has(one.tracking)), ...news],
      revision: said.revision ?? known?.revision ?? null,
    },
    guesses,
  };
}

/**
 * A purchase's lines with the units that the supplier says were ordered: the same reference may have been bought with
 * others, from a copy of the shop of another age.
 */
function asOrdered(p: Purchase, said: Statement): readonly PurchaseLine[] {
  if (!said.lines.length) return p.lines;
  const most = p.lines.map(() => Number.MAX_SAFE_INTEGER);
  const usual = p.lines.map((l) => l.units * l.pack);
  const { pieces } = allot(said.lines, p.lines, most, usual);
  return p.lines.map((l, k) => {
    const units = Math.floor(pieces[k]! / l.pack);
    return units === l.units ? l : { ...l, units, calledOff: Math.min(l.calledOff, units) };
  });
}

/** Units of a purchase's lines that are with its supplier and in no parcel. */
export const unpackedIn = (p: Purchase): LineUnits[] => {
  const living = byLine(
    p.lines.map((l) => ({
      line: l.line,
      units: p.state === 'refused' || p.state === 'withdrawn' ? 0 : l.units - l.calledOff,
    })),
  );
  return byLine(living.map(({ line, units }) => ({ line, units: units - packedIn(p, line) })));
};

import type { CategoryTable, Site, SiteLimits } from '../core/checks';
import type { ListingFileColumn } from '../core/lists';
import type { Ppm } from '../core/money';
import type { AddressLimits, DeliveryNotice } from '../core/orders';
import type { Buyers, CostRules, FeeTable, ShippingBand } from '../core/pricing';
import type { Condition } from '../core/query';
import type { PrintSite, ShippingService, Transit } from '../core/sourcing';
import type { Instant } from '../core/units';
import type { MarketLanes, SupplierLanes } from './outbox';

export type Credential =
  | { readonly kind: 'account'; readonly account: string; readonly key: string }
  | {
      readonly kind: 'consent';
      readonly token: string;
      /** By which a new token is had; missing where there is none. */
      readonly refresh?: string | null;
      /** When the token ends; missing where it was not said. */
      readonly until?: Instant | null;
    };

/** The credential of a service. Written where it is connected, read where it is asked, and nowhere else. */
export interface CredentialRow {
  readonly id: string;
  readonly credential: Credential;
}

/** What a supplier says of itself. */
export interface SupplierAccount {
  readonly currency: string;
  readonly zone: string;
  readonly shipping: readonly ShippingBand[];
  readonly shipsTo: readonly string[];
  /** What its carrier takes of an address; missing for anything. */
  readonly takes?: AddressLimits;
  /** From where it delivers to which countries, in how many days; missing where nothing is promised. */
  readonly delivery?: readonly Delivery[];
  /** Ways of shipping besides the usual one; missing for none. */
  readonly services?: readonly ShippingService[];
  /** Where it prints; missing where it makes nothing, or says nothing of it. */
  readonly sites?: readonly PrintSite[];
  /** What holds of its deliveries for the time being; missing for nothing. */
  readonly notices?: readonly DeliveryNotice[];
}

/** Days in which a supplier promises parcels from one of its places to be in some countries. */
export interface Delivery {
  /** ISO 3166-1 alpha-2. */
  readonly from: string;
  readonly to: readonly string[];
  readonly days: number;
}

interface ConnectionRowBase {
  readonly id: string;
  /** '' where no service is used. */
  readonly service: string;
  readonly name: string;
  readonly paused: boolean;
  readonly connectedAt: Instant;
}

/**
 * A supplier as the seller has it: who it is, and what he set. What its service says of itself stands in {@link StatedRow};
 * of one without a service he says it here.
 */
export interface SupplierRow extends ConnectionRowBase, Partial<SupplierAccount> {
  readonly role: 'supplier';
  readonly lanes: SupplierLanes;
  /** What buying from it costs besides; missing for nothing. */
  readonly costs?: CostRules | null;
  /**
   * Share of its items (in millionths) from which it is asked whether what a list does not name is gone; more
   * than 1,000,000 is never.
   */
  readonly askFrom: Ppm;
  /**
   * Where its price list comes from where it has no service: files by hand, or an address read on a schedule.
   */
  readonly list: { readonly kind: 'file' } | { readonly kind: 'address'; readonly url: string } | null;
  /** Missing for {@link STARTING_LEAP_RULE}. */
  readonly leap?: LeapRule | null;
}

/** When a cost that moved waits for a person, and what is shown meanwhile. */
export interface LeapRule {
  /** By more than how many times, up or down. */
  readonly times: number;
  readonly meanwhile: 'keep' | 'show none';
}

export const STARTING_LEAP_RULE: LeapRule = { times: 3, meanwhile: 'keep' };

/** Whose fees hold: those of a version of what the marketplace says, or the seller's own. */
export type FeesOf =
  | { readonly of: 'marketplace'; readonly version: number }
  | { readonly of: 'seller'; readonly table: FeeTable };

/**
 * A marketplace as the seller has it: who it is, what he set, and up to which version of its rules he has agreed. What its
 * service says stands in {@link StatedRow}; of one without a service he says it here.
 */
export interface MarketRow extends ConnectionRowBase {
  readonly role: 'marketplace';
  readonly lanes: MarketLanes;
  /** What it asks and takes; only where it has no service. */
  readonly site?: Site;
  readonly agreed?: number;
  readonly fees?: FeesOf;
  /** Goods that are not sold there; missing for none. */
  readonly keptOff?: readonly Condition[] | null;
  /** Where its buyers are; missing for the first country that it ships to. */
  readonly buyers?: Buyers | null;
  /** Ids of the optional fees that the seller has opted in to. */
  readonly optedIn: readonly string[];
  /** The columns of its listing file; missing for Sampan's own. */
  readonly fileColumns?: readonly ListingFileColumn[];
  /** How that file names pictures: by their address where it works elsewhere, or all as files beside it; missing for the first. */
  readonly filePictures?: 'addresses' | 'beside';
  /** The act on edits made on the site itself; missing for asking. */
  readonly drift?: 'ask' | 'theirs' | 'ours';
  /** The site's category for each of the suppliers' that the seller confirmed; missing while there are none. */
  readonly categories?: CategoryTable;
  /** Presets for its attributes, in order: the first that covers a listing counts. Missing for none. */
  readonly presets?: readonly Preset[];
}

/** The value of an attribute in a preset: one for all, or a field of the goods, translated by a table of words. */
export type PresetFill =
  | { readonly from: 'value'; readonly value: string }
  | { readonly from: 'field'; readonly field: string; readonly words: Readonly<Record<string, string>> };

/** Named values for the attributes and the category of whatever a search line matches on one marketplace. */
export interface Preset {
  readonly id: string;
  readonly name: string;
  readonly on: boolean;
  /** The goods that it covers. */
  readonly filter: Condition;
  /** The site's category; null where it leaves that alone. */
  readonly category: string | null;
  /** By the attribute's id; what is not named is left alone. */
  readonly fills: Readonly<Record<string, PresetFill>>;
}

/** The seller's own record of a connection: named changes write it, undo takes them back. */
export type ConnectionRow = SupplierRow | MarketRow;

/** What a marketplace asks and takes, but for how much it may be asked at once. */
export type SiteRules = Omit<Site, 'limits'>;

/** The statement of a service about itself, with its time; written only where it is read. */
export type StatedRow =
  | ({ readonly id: string; readonly role: 'supplier'; readonly at: Instant } & SupplierAccount)
  | {
      readonly id: string;
      readonly role: 'marketplace';
      readonly at: Instant;
      /** Holds as it is said. */
      readonly limits: SiteLimits;
      /** Rules as they were said, oldest first: the seller has agreed to one of them. */
      readonly versions: readonly {
        readonly version: number;
        readonly at: Instant;
        readonly rules: SiteRules;
      }[];
    };

/** Why a connection does not work now. */
export interface ConnectionTrouble {
  readonly kind: 'credentials' | 'unreachable' | 'outage' | 'limit' | 'nonsense';
  readonly says: string;
  readonly since: Instant;
}

/** How it goes with a connection; written by what asks it. */
export interface HealthRow {
  readonly id: string;
  readonly trouble: ConnectionTrouble | null;
  /** Failures in a row; from the third on the circuit is open until the instant. */
  readonly failures: number;
  readonly openUntil: Instant | null;
  /** Position in the other side's feed of changes. */
  readonly cursor: string | null;
  /** Prepaid, in the supplier's currency; null where it is paid otherwise. */
  readonly balance: number | null;
  /** In which state the list at the supplier's address was fetched last. */
  readonly fetched: {
    readonly url: string;
    readonly etag: string | null;
    readonly modified: string | null;
  } | null;
  /** Days that a supplier's parcels really took lately, by country; missing while too few came. */
  readonly transit?: Readonly<Record<string, Transit>>;
}

export type SupplierConnection = SupplierRow & SupplierAccount;

export type MarketConnection = MarketRow & {
  /** The rules in force: the version that was agreed to, with the seller’s own fees where there are any. */
  readonly site: Site;
  /** Its newest rules, where they changed since and nobody looked at them yet. */
  readonly siteNow: Site | null;
  /** The version of its rules that was stated last; 0 where it has no service. */
  readonly newest: number;
  /** The fees that the marketplace says, where the seller put others in their place. */
  readonly theirFees: FeeTable | null;
};

/** A connection as it holds: derived of what the seller set and what the other side said. */
export type Connection = SupplierConnection | MarketConnection;

/** How it goes with a connection that nothing has happened to yet. */
export const cleanHealth = (id: string): HealthRow => ({
  id,
  trouble: null,
  failures: 0,
  openUntil: null,
  cursor: null,
  balance: null,
  fetched: null,
});

/** What a supplier says of itself, apart from what else stands with it. */
export const accountPart = ({
  currency,
  zone,
  shipping,
  shipsTo,
  takes,
  delivery,
  services,
  sites,
  notices,
}: SupplierAccount): SupplierAccount => ({
  ...{ currency, zone, shipping, shipsTo },
  ...(takes && { takes }),
  ...(delivery && { delivery }),
  ...(services?.length && { services }),
  ...(sites?.length && { sites }),
  ...(notices?.length && { notices }),
});

/** The terms of a supplier as its service stated them, or as the seller entered them where it has no service. */
function accountOf(row: SupplierRow, stated: StatedRow | undefined): SupplierAccount | null {
  if (stated?.role === 'supplier') return stated;
  const { currency, zone, shipping, shipsTo } = row;
  return currency && zone && shipping && shipsTo
    ? accountPart({ ...row, currency, zone, shipping, shipsTo })
    : null;
}

/** @throws RangeError where nothing is on record of what the other side takes */
export function connectionOf(row: ConnectionRow, stated: StatedRow | undefined): Connection {
  if (row.role === 'supplier') {
    const account = accountOf(row, stated);
    if (!account) throw new RangeError(`Nothing is on record of what ${row.name} charges.`);
    return { ...accountPart(account), ...row };
  }
  if (row.site) return { ...row, site: row.site, siteNow: null, newest: 0, theirFees: null };
  if (stated?.role !== 'marketplace') throw new RangeError(`Nothing is on record of what ${row.name} takes.`);
  const { versions, limits } = stated;
  const rulesOf = (version: number | undefined) =>
    // Of a version that is not kept any more the oldest that is.
    (versions.find((v) => v.version === version) ?? versions[0]!).rules;
  const newest = versions.at(-1)!;
  const own = row.fees?.of === 'seller' ? row.fees.table : null;
  const agreedFees =
    row.fees?.of === 'marketplace' ? rulesOf(row.fees.version).fees : rulesOf(row.agreed).fees;
  const site: Site = { ...rulesOf(row.agreed), fees: own ?? agreedFees, limits };
  const asked: Site = { ...newest.rules, fees: own ?? newest.rules.fees, limits };
  const isAgreed =
    row.agreed === newest.version && (row.fees?.of !== 'marketplace' || row.fees.version === newest.version);
  const siteNow = isAgreed || JSON.stringify(asked) === JSON.stringify(site) ? null : asked;
  return { ...row, site, siteNow, newest: newest.version, theirFees: own && newest.rules.fees };
}

/** Versions of a marketplace's rules that are kept. */
const KEPT_VERSIONS = 40;

/**
 * What a marketplace has stated, with what it says now: a version more where its rules changed.
 * @param agreed versions that somebody has agreed to: they stay
 */
export function stateSite(
  known: StatedRow | undefined,
  id: string,
  { limits, ...rules }: Site,
  at: Instant,
  agreed: readonly (number | undefined)[] = [],
): StatedRow & { role: 'marketplace' } {
  const versions = known?.role === 'marketplace' ? known.versions : [];
  const newest = versions.at(-1);
  const base = { id, role: 'marketplace', at, limits } as const;
  if (newest && JSON.stringify(newest.rules) === JSON.stringify(rules)) return { ...base, versions };
  const version = (newest?.version ?? 0) + 1;
  const kept = versions.filter((v) => v.version > version - KEPT_VERSIONS || agreed.includes(v.version));
  return { ...base, versions: [...kept, { version, at, rules }] };
}

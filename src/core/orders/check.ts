import type { Account } from '../ledger';
import { type Currency, formatMinor } from '../money';
import type { Address } from './order';

/** Every check made before money is spent, in the order shown. */
export const CHECKS = [
  'linked',
  'supplier',
  'stock',
  'profit',
  'address',
  'personalised',
  'balance',
  'bought',
] as const;
export type CheckKind = (typeof CHECKS)[number];

export interface Check {
  readonly kind: CheckKind;
  readonly passed: boolean;
  readonly says: string;
}

/** What the checks look at; the caller gathers it at the moment of checking. Amounts in minor units. */
export interface CheckInput {
  readonly currency: Currency;
  readonly supplier: string;
  /** Suppliers of the lines: one order goes to one of them. */
  readonly suppliers: number;
  /** Whether the supplier takes orders by a service. */
  readonly takesOrders: boolean;
  readonly lines: readonly {
    readonly title: string;
    readonly quantity: number;
    readonly personalisation: string | null;
    /** Null where no listing of ours is linked to a supplier item. */
    readonly item: { readonly stock: number } | null;
  }[];
  readonly address: Address;
  readonly shipsTo: readonly string[];
  /** At today's cost; null where it cannot be told (not linked, too heavy). */
  readonly account: Account | null;
  readonly smallestProfit: number;
  /** The supplier's prepaid balance less what is already being forwarded; null for other ways of payment. */
  readonly balance: number | null;
  readonly boughtAlready: string | null;
}

/** Royal Mail postcode shape, from the BS 7666 pattern. */
const GB_POSTCODE = /^([A-Z]{1,2}\d[A-Z\d]?) ?\d[ABD-HJLNP-UW-Z]{2}$/;

/** What an address lacks, or null where it is complete and plausible. */
export function addressProblem(address: Address, shipsTo: readonly string[]): string | null {
  if (!address.name.trim()) return 'The name is missing.';
  if (!address.line1.trim()) return 'The street is missing.';
  if (!address.town.trim()) return 'The town is missing.';
  if (!/^[A-Z]{2}$/.test(address.country)) return `“${address.country}” is not a country code.`;
  if (!shipsTo.includes(address.country)) return `The supplier does not ship to ${address.country}.`;
  if (address.country === 'GB' && !GB_POSTCODE.test(address.postcode.trim().toUpperCase())) {
    return address.postcode.trim()
      ? `“${address.postcode}” is not a postcode of the United Kingdom.`
      : 'The postcode is missing.';
  }
  if (!address.postcode.trim() && address.country !== 'IE') return 'The postcode is missing.';
  return null;
}

/** Runs every check. A failed one holds the order until it is mended, or released by a person. */
export function checkOrder(input: CheckInput): Check[] {
  const money = (minor: number, plus = false) => formatMinor(minor, input.currency, plus);
  const unlinked = input.lines.filter((l) => l.item === null);
  const short = input.lines.filter((l) => l.item !== null && l.item.stock < l.quantity);
  const address = addressProblem(input.address, input.shipsTo);
  const personalised = input.lines.filter((l) => l.personalisation !== null);
  const spend = input.account ? input.account.goods + input.account.shipping : null;
  const enough = input.balance === null || spend === null || input.balance >= spend;
  return [
    unlinked.length
      ? {
          kind: 'linked',
          passed: false,
          says: `Not linked to a supplier item: ${unlinked.map((l) => l.title).join(', ')}.`,
        }
      : { kind: 'linked', passed: true, says: 'Every line is linked to a supplier item.' },
    input.suppliers > 1
      ? {
          kind: 'supplier',
          passed: false,
          says: `Its lines come from ${input.suppliers} suppliers: it cannot go to one. Order it by hand.`,
        }
      : input.takesOrders
        ? { kind: 'supplier', passed: true, says: `${input.supplier} takes it.` }
        : {
            kind: 'supplier',
            passed: unlinked.length > 0,
            says: unlinked.length
              ? 'The supplier cannot be told without a link.'
              : `${input.supplier} takes no orders through Sampan: order it by hand.`,
          },
    short.length
      ? {
          kind: 'stock',
          passed: false,
          says: short
            .map((l) => `${input.supplier} has ${l.item!.stock} of “${l.title}”, ${l.quantity} sold.`)
            .join(' '),
        }
      : {
          kind: 'stock',
          passed: unlinked.length === 0,
          says: unlinked.length ? 'Stock cannot be told without a link.' : `${input.supplier} has enough.`,
        },
    input.account === null
      ? {
          kind: 'profit',
          passed: false,
          says: 'Profit cannot be told: cost or shipping of a line is not known.',
        }
      : input.account.profit < input.smallestProfit
        ? {
            kind: 'profit',
            passed: false,
            says: `Profit at today’s cost is ${money(input.account.profit, true)}, at least ${money(input.smallestProfit)} is wanted.`,
          }
        : {
            kind: 'profit',
            passed: true,
            says: `Profit at today’s cost is ${money(input.account.profit, true)}, at least ${money(input.smallestProfit)} is wanted.`,
          },
    { kind: 'address', passed: address === null, says: address ?? 'The address is complete.' },
    personalised.length
      ? {
          kind: 'personalised',
          passed: false,
          says: `Personalised: “${personalised.map((l) => l.personalisation).join('”, “')}”. Read it before it is made.`,
        }
      : { kind: 'personalised', passed: true, says: 'Not personalised.' },
    {
      kind: 'balance',
      passed: enough,
      says:
        input.balance === null
          ? 'Paid on account.'
          : `${input.supplier}’s balance of ${money(input.balance)} ${enough ? 'is enough' : `does not cover ${money(spend!)}`}.`,
    },
    input.boughtAlready
      ? { kind: 'bought', passed: false, says: `Bought before as ${input.boughtAlready}.` }
      : { kind: 'bought', passed: true, says: 'Not bought before.' },
  ];
}

/**
 * Holds that no word of a person lifts: there is nothing to buy, nobody to buy it from, or it was bought
 * before.
 */
export const FIRM: readonly CheckKind[] = ['linked', 'supplier', 'bought'];

/** The checks that hold an order: failed and not released by a person. */
export function holdsOf(checks: readonly Check[], released: readonly CheckKind[]): Check[] {
  return checks.filter((c) => !c.passed && (FIRM.includes(c.kind) || !released.includes(c.kind)));
}

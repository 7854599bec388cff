import type { Case } from './cases';
import { holdsBack } from './cases';
import type { Effect, Surroundings } from './events';
import type { OrderFact } from './facts';
import type { OrderState, Purchase } from './order';
import { isFor, withPurchase } from './purchases';

/** One step while it is worked out: the order as it is by now, what it asks of the outside, and what happened. */
export class Course {
  readonly effects: Effect[] = [];
  readonly facts: OrderFact[] = [];
  readonly before: OrderState;

  constructor(
    public order: OrderState,
    readonly world: Surroundings,
  ) {
    this.before = order;
  }

  set(part: Partial<OrderState>): void {
    this.order = { ...this.order, ...part };
  }

  change(to: (c: Case) => Case): void {
    const cases = this.order.cases.map(to);
    if (cases.some((c, k) => c !== this.order.cases[k])) this.set({ cases });
  }

  /** Opens a case; one that is there already stays as it is. */
  open(made: Case): boolean {
    if (this.order.cases.some((c) => c.id === made.id)) return false;
    this.set({ cases: [...this.order.cases, made] });
    return true;
  }

  head(id: string) {
    return { id, at: this.world.at, seenAt: null };
  }

  purchase(supplier: string, reference: string): Purchase | undefined {
    return this.order.purchases.find((p) => isFor(p, supplier, reference));
  }

  put(p: Purchase): void {
    this.set({ purchases: withPurchase(this.order.purchases, p) });
  }

  /** A person has looked at what held it. */
  pass(): void {
    this.change((c) => (holdsBack(c) ? { ...c, seenAt: this.world.at } : c));
  }
}

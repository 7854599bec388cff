'use client';
import { GripVertical } from 'lucide-react';
import { digitsOf } from '../../core/money';
import { planIn, planInWords } from '../../core/pricing';
import { formatCount } from '../../core/units';
import { Sortable, useSorted } from '../../ui/sortable';
import type { PlanRow } from '../../work/model';
import type { PlanCatch } from '../../work/pricing/goods-caught';
import { goodsLine } from '../../work/quoting/goods';

interface Props {
  readonly plans: readonly PlanRow[];
  /** What each catches, in the same order; null while it is counted. */
  readonly caught: readonly PlanCatch[] | null;
  readonly currency: string;
  /** What a marketplace is called. */
  readonly nameOf: (marketplace: string) => string;
  readonly chosen: string;
  readonly onChoose: (id: string) => void;
  readonly onChange: (plans: readonly PlanRow[]) => void;
}

/** The plans in their order, dragged or moved by keys: the first that covers a listing sets its price. */
export function PlanList({ plans, caught, currency, nameOf, chosen, onChoose, onChange }: Props) {
  return (
    <Sortable
      ids={plans.map((p) => p.id)}
      onOrder={(ids) => onChange(ids.flatMap((id) => plans.find((p) => p.id === id) ?? []))}
    >
      <ol aria-label="Plans, the first that covers a listing wins">
        {plans.map((plan, at) => (
          <Row
            key={plan.id}
            plan={plan}
            caught={caught?.[at] ?? null}
            currency={currency}
            nameOf={nameOf}
            isChosen={plan.id === chosen}
            onChoose={() => onChoose(plan.id)}
            onSwitch={() => onChange(plans.map((p) => (p.id === plan.id ? { ...p, on: !p.on } : p)))}
          />
        ))}
      </ol>
    </Sortable>
  );
}

function Row({
  plan,
  caught,
  currency,
  nameOf,
  isChosen,
  onChoose,
  onSwitch,
}: {
  plan: PlanRow;
  caught: PlanCatch | null;
  currency: string;
  nameOf: Props['nameOf'];
  isChosen: boolean;
  onChoose: () => void;
  onSwitch: () => void;
}) {
  const { item, handle } = useSorted(plan.id);
  const taken = caught ? caught.covers - caught.holds : 0;
  const words = planInWords(planIn(plan, digitsOf(currency)), currency, nameOf);
  return (
    <li
      {...item}
      className={`flex items-start gap-2 border-b border-rule-soft px-3 py-1.5 ${isChosen ? 'bg-chosen' : 'bg-surface'}`}
    >
      <button
        {...handle}
        className="grid size-6 shrink-0 cursor-grab place-items-center text-muted"
        aria-label={`Move plan ${plan.name}`}
      >
        <GripVertical aria-hidden size={15} />
      </button>
      <input
        type="checkbox"
        aria-label={`${plan.name} is on`}
        checked={plan.on}
        onChange={onSwitch}
        className="mt-1 shrink-0 accent-river"
      />
      <span className="min-w-0 grow text-[13px]">
        <button
          type="button"
          aria-pressed={isChosen}
          className="text-left text-sm font-semibold text-river hover:underline"
          onClick={onChoose}
        >
          {plan.name || 'New plan'}
        </button>
        {!plan.on && <span className="text-muted"> draft</span>}
        <span className="block truncate text-muted" title={words}>
          {goodsLine(plan.filter) || 'everything'}: {words}
        </span>
        {plan.on && taken > 0 && (
          <span className="block text-xs text-muted">{formatCount(taken)} more go by earlier plans</span>
        )}
      </span>
      {caught && plan.on && <span className="shrink-0 text-[13px]">{formatCount(caught.holds)}</span>}
    </li>
  );
}

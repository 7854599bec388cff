'use client';
import type { ServiceRule } from '../../../core/forwarding';
import { formatMinor, parseMinor } from '../../../core/money';
import { EVERYTHING } from '../../../core/query';
import { AmountField } from '../../../ui/amount-field';
import { Button } from '../../../ui/button';
import { ConditionField } from './condition-field';

/** Days that can be wished for. */
const MOST_DAYS = 60;

const daysIn = (text: string) => {
  const days = Number(text.trim());
  return Number.isInteger(days) && days >= 1 && days <= MOST_DAYS
    ? ({ ok: true, value: days } as const)
    : ({ ok: false, reason: `A whole number of days from 1 to ${MOST_DAYS}.` } as const);
};

/** Which orders are sent by a faster service where the usual one takes too long, in their order. */
export function ServiceRules({
  rules,
  books,
  onChange,
}: {
  rules: readonly ServiceRule[];
  books: string;
  onChange: (rules: readonly ServiceRule[]) => void;
}) {
  const put = (rule: ServiceRule) => onChange(rules.map((r) => (r.id === rule.id ? rule : r)));
  return (
    <>
      <ol className="text-[13.5px]">
        {rules.map((rule, k) => (
          <li key={rule.id} className="flex flex-wrap items-end gap-2 border-b border-rule-soft py-1.5">
            <input
              type="checkbox"
              aria-label={`Shipping rule ${k + 1} is on`}
              checked={rule.on}
              className="mb-1.5 accent-river"
              onChange={() => put({ ...rule, on: !rule.on })}
            />
            <ConditionField
              label={`Orders of shipping rule ${k + 1}`}
              when={rule.when}
              onChange={(when) => put({ ...rule, when })}
            />
            <AmountField
              label="there within days"
              value={rule.within}
              write={String}
              parse={daysIn}
              onChange={(within) => within !== null && put({ ...rule, within })}
              className="w-16"
            />
            <AmountField
              label={`for up to ${books} more`}
              value={rule.upTo}
              write={(minor) => formatMinor(minor, books)}
              parse={(text) => parseMinor(text, books)}
              onChange={(upTo) => upTo !== null && put({ ...rule, upTo })}
              className="w-20"
            />
            <Button kind="text" onClick={() => onChange(rules.filter((r) => r.id !== rule.id))}>
              Remove
            </Button>
          </li>
        ))}
      </ol>
      <Button
        className="mt-2"
        onClick={() =>
          onChange([...rules, { id: crypto.randomUUID(), on: true, when: EVERYTHING, within: 2, upTo: 500 }])
        }
      >
        New shipping rule
      </Button>
      <p className="mt-1 text-[13px] text-muted">
        Of a supplier’s services the cheapest that is there in time is taken, where its usual shipping is not.
        By hand another is chosen in the order.
      </p>
    </>
  );
}

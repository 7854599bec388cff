'use client';
import { ALWAYS_HOLD, type CheckRule, type Weight, weightOf } from '../../../core/forwarding';
import { CHECKS, type CheckKind } from '../../../core/orders';
import { EVERYTHING, isEverything, readCondition } from '../../../core/query';
import { Button } from '../../../ui/button';
import { BUYING_FIELDS } from '../../../work/orders/buying';
import { ConditionField } from './condition-field';

const NAMES: Readonly<Record<CheckKind, string>> = {
  linked: 'A line is not linked to a supplier item',
  stock: 'The source has too few',
  stopped: 'Buying from the supplier is stopped',
  delivery: 'The supplier is delayed or sends nothing there for now',
  profit: 'Profit is below the least',
  costs: 'Costs are old',
  address: 'The address is incomplete, not plausible or not served',
  personalised: 'Made with the buyer’s own words',
  proof: 'The proof of the buyer’s words is not approved',
  note: 'The buyer left a note',
  unusual: 'Amount or quantity is unusual',
  repeat: 'Same buyer, same goods within a day',
  watched: 'The buyer is on the watch list',
  balance: 'The balance or credit does not cover it',
};

const SAYS: Readonly<Record<Weight, string>> = { hold: 'holds', warn: 'warns', pass: 'is let pass' };

/** An exception to begin with. */
const SMALL = readCondition('paid:<20', BUYING_FIELDS);

const SELECT = 'rounded-sm border border-edge bg-surface px-1.5 py-0.5';

/** What each check does when it fails, and for which orders it does something else. */
export function CheckRules({
  rules,
  onChange,
}: {
  rules: readonly CheckRule[];
  onChange: (rules: readonly CheckRule[]) => void;
}) {
  const put = (rule: CheckRule) => onChange(rules.map((r) => (r.id === rule.id ? rule : r)));
  return (
    <table className="w-full text-[13.5px]">
      <thead className="sr-only">
        <tr>
          <th scope="col">Check</th>
          <th scope="col">When it fails</th>
        </tr>
      </thead>
      <tbody>
        {CHECKS.map((check) => {
          const always = ALWAYS_HOLD.includes(check);
          const own = rules.filter((r) => r.check === check);
          const last = own.findLast((r) => isEverything(r.when));
          const others = own.filter((r) => r !== last);
          const usual = weightOf(check, last ? [last] : [], () => true);
          const setUsual = (weight: Weight) =>
            onChange([
              ...rules.filter((r) => r !== last),
              { id: last?.id ?? crypto.randomUUID(), check, weight, when: EVERYTHING },
            ]);
          return (
            <tr key={check} className="border-b border-rule-soft align-top">
              <th scope="row" className="w-80 py-1 pr-3 text-left font-normal">
                {NAMES[check]}
              </th>
              <td className="py-1">
                {always ? (
                  <span className="text-muted">always holds</span>
                ) : (
                  <>
                    <span className="flex flex-wrap items-center gap-2">
                      <WeightSelect label={NAMES[check]} weight={usual} onChange={setUsual} />
                      <Button
                        kind="text"
                        onClick={() =>
                          onChange([
                            { id: crypto.randomUUID(), check, weight: 'warn', when: SMALL },
                            ...rules,
                          ])
                        }
                      >
                        Except for …
                      </Button>
                    </span>
                    {others.map((rule) => (
                      <span key={rule.id} className="mt-1 flex flex-wrap items-center gap-2">
                        <WeightSelect
                          label={`${NAMES[check]}, for some orders`}
                          weight={rule.weight}
                          onChange={(weight) => put({ ...rule, weight })}
                        />
                        for
                        <ConditionField
                          label={`Orders for which it does so: ${NAMES[check]}`}
                          when={rule.when}
                          onChange={(when) => put({ ...rule, when })}
                        />
                        <Button kind="text" onClick={() => onChange(rules.filter((r) => r !== rule))}>
                          Remove
                        </Button>
                      </span>
                    ))}
                  </>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function WeightSelect({
  label,
  weight,
  onChange,
}: {
  label: string;
  weight: Weight;
  onChange: (weight: Weight) => void;
}) {
  return (
    <select
      aria-label={label}
      value={weight}
      onChange={(e) => onChange(e.target.value as Weight)}
      className={SELECT}
    >
      {Object.entries(SAYS).map(([id, says]) => (
        <option key={id} value={id}>
          {says}
        </option>
      ))}
    </select>
  );
}

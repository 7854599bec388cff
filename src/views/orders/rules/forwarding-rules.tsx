'use client';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { useState } from 'react';
import { examplesOf } from '../../../core/fields';
import { type ForwardingRule, type Going, goingInWords } from '../../../core/forwarding';
import { EVERYTHING, lineOf } from '../../../core/query';
import { Button } from '../../../ui/button';
import { BUYING_FIELDS } from '../../../work/orders/buying';
import { ConditionField } from './condition-field';
import { GoingFields } from './going-fields';

const FIELD = 'rounded-sm border border-edge bg-surface px-1.5 py-0.5';

const GOES = {
  'at once': 'go at once',
  wait: 'go after a wait',
  hours: 'go at set hours',
  'by hand': 'go when I say so',
} as const;

const EXAMPLES = examplesOf('buying').slice(2);

/** The rules by which orders go, in their order; one at a time is open to be changed. */
export function ForwardingRules({
  rules,
  zone,
  onChange,
}: {
  rules: readonly ForwardingRule[];
  zone: string;
  onChange: (rules: readonly ForwardingRule[]) => void;
}) {
  const [open, setOpen] = useState<string | null>(null);
  const put = (rule: ForwardingRule) => onChange(rules.map((r) => (r.id === rule.id ? rule : r)));
  const move = (from: number, by: number) => {
    const next = [...rules];
    const [one] = next.splice(from, 1);
    next.splice(from + by, 0, one!);
    onChange(next);
  };
  return (
    <>
      <ol className="text-[13.5px]">
        {rules.map((rule, k) => (
          <li key={rule.id} className="border-b border-rule-soft py-1.5">
            <div className="flex items-start gap-2">
              <input
                type="checkbox"
                aria-label={`${rule.name || 'This rule'} is on`}
                checked={rule.on}
                className="mt-1 accent-river"
                onChange={() => put({ ...rule, on: !rule.on })}
              />
              <span className={`min-w-0 grow ${rule.on ? '' : 'text-muted'}`}>
                <button
                  type="button"
                  aria-expanded={open === rule.id}
                  className="font-semibold text-river hover:underline"
                  onClick={() => setOpen(open === rule.id ? null : rule.id)}
                >
                  {rule.name || 'Without a name'}
                </button>
                <span className="block text-xs text-muted">
                  {lineOf(rule.when, BUYING_FIELDS) || 'all orders'}: {goingInWords(rule.going)}
                </span>
              </span>
              <Button
                kind="text"
                aria-label={`${rule.name} earlier`}
                disabled={k === 0}
                onClick={() => move(k, -1)}
              >
                <ArrowUp aria-hidden size={14} />
              </Button>
              <Button
                kind="text"
                aria-label={`${rule.name} later`}
                disabled={k === rules.length - 1}
                onClick={() => move(k, 1)}
              >
                <ArrowDown aria-hidden size={14} />
              </Button>
              <Button kind="text" onClick={() => onChange(rules.filter((r) => r.id !== rule.id))}>
                Remove
              </Button>
            </div>
            {open === rule.id && <OpenRule rule={rule} zone={zone} onChange={put} />}
          </li>
        ))}
      </ol>
      <Button
        className="mt-2"
        onClick={() => {
          const id = crypto.randomUUID();
          const going: Going = { kind: 'wait', minutes: 60 };
          onChange([...rules, { id, name: '', on: true, when: EVERYTHING, going }]);
          setOpen(id);
        }}
      >
        New forwarding rule
      </Button>
      <details className="mt-1 text-xs text-muted">
        <summary>What a rule can ask of an order</summary>
        <ul className="mt-1 columns-2">
          {EXAMPLES.map(({ example, means }) => (
            <li key={example}>
              <code>{example}</code> {means}
            </li>
          ))}
        </ul>
      </details>
    </>
  );
}

function OpenRule({
  rule,
  zone,
  onChange,
}: {
  rule: ForwardingRule;
  zone: string;
  onChange: (rule: ForwardingRule) => void;
}) {
  return (
    <div className="mt-1.5 ml-6 space-y-2">
      <div className="flex flex-wrap gap-2">
        <input
          aria-label="Name of the rule"
          placeholder="Name"
          value={rule.name}
          onChange={(e) => onChange({ ...rule, name: e.target.value.slice(0, 60) })}
          className={`${FIELD} w-44`}
        />
        <ConditionField
          label="Orders that it is for"
          when={rule.when}
          onChange={(when) => onChange({ ...rule, when })}
        />
      </div>
      <GoingFields
        label="When they go"
        going={rule.going}
        zone={zone}
        words={GOES}
        onChange={(going) => onChange({ ...rule, going })}
      />
    </div>
  );
}

'use client';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { useState } from 'react';
import { examplesOf } from '../../../core/fields';
import { type ForwardingRule, type Going, goingInWords } from '../../../core/forwarding';
import { EVERYTHING, lineOf } from '../../../core/query';
import { WEEKDAYS } from '../../../core/units';
import { Button } from '../../../ui/button';
import { BUYING_FIELDS } from '../../../work/orders/buying';
import { ConditionField } from './condition-field';

const FIELD = 'rounded-sm border border-edge bg-surface px-1.5 py-0.5';

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
  const { going } = rule;
  const begin: Record<Going['kind'], Going> = {
    'at once': { kind: 'at once' },
    wait: { kind: 'wait', minutes: 60 },
    hours: { kind: 'hours', zone, days: [1, 2, 3, 4, 5], times: ['09:00'] },
    'by hand': { kind: 'by hand' },
  };
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
      <div className="flex flex-wrap items-center gap-2">
        <select
          aria-label="When they go"
          value={going.kind}
          onChange={(e) => onChange({ ...rule, going: begin[e.target.value as Going['kind']] })}
          className={FIELD}
        >
          <option value="at once">go at once</option>
          <option value="wait">go after a wait</option>
          <option value="hours">go at set hours</option>
          <option value="by hand">go when I say so</option>
        </select>
        {going.kind === 'wait' && (
          <label>
            of{' '}
            <input
              type="number"
              min={1}
              max={10_080}
              value={going.minutes}
              onChange={(e) => {
                const minutes = Math.round(Number(e.target.value));
                if (minutes >= 1 && minutes <= 10_080) onChange({ ...rule, going: { ...going, minutes } });
              }}
              className={`${FIELD} w-20 text-right`}
            />{' '}
            minutes
          </label>
        )}
        {going.kind === 'hours' && (
          <>
            <label>
              at{' '}
              <input
                aria-label="Times of the day"
                defaultValue={going.times.join(', ')}
                onBlur={(e) => {
                  const times = e.target.value
                    .split(/[,; ]+/)
                    .filter((t) => /^([01]\d|2[0-3]):[0-5]\d$/.test(t));
                  if (times.length) onChange({ ...rule, going: { ...going, times: times.sort() } });
                  else e.target.value = going.times.join(', ');
                }}
                className={`${FIELD} w-32`}
              />
            </label>
            <span className="flex gap-1.5">
              {WEEKDAYS.map((name, at) => {
                const on = going.days.includes(at + 1);
                const days = on ? going.days.filter((d) => d !== at + 1) : [...going.days, at + 1].sort();
                return (
                  <label key={name} className="text-xs">
                    <input
                      type="checkbox"
                      className="mr-0.5 accent-river"
                      checked={on}
                      disabled={on && going.days.length === 1}
                      onChange={() => onChange({ ...rule, going: { ...going, days } })}
                    />
                    {name}
                  </label>
                );
              })}
            </span>
            <select
              aria-label="Time zone"
              value={going.zone}
              onChange={(e) => onChange({ ...rule, going: { ...going, zone: e.target.value } })}
              className={FIELD}
            >
              {[...new Set([going.zone, zone, ...Intl.supportedValuesOf('timeZone')])].map((z) => (
                <option key={z}>{z}</option>
              ))}
            </select>
          </>
        )}
      </div>
    </div>
  );
}

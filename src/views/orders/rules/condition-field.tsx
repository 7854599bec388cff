'use client';
import { useId } from 'react';
import { type Condition, problemInWords, problemsOf } from '../../../core/query';
import { useConditionLine } from '../../../ui/condition-line';
import { BUYING_FIELDS } from '../../../work/orders/buying';

/** The orders that a rule is for, as a search line. */
export function ConditionField({
  label,
  when,
  onChange,
}: {
  label: string;
  when: Condition;
  onChange: (when: Condition) => void;
}) {
  const id = useId();
  const [line, type] = useConditionLine(when, BUYING_FIELDS, onChange);
  const wrong = problemsOf(when, BUYING_FIELDS).map(problemInWords)[0];
  return (
    <span className="inline-flex min-w-56 grow flex-col">
      <label htmlFor={id} className="sr-only">
        {label}
      </label>
      <input
        id={id}
        value={line}
        placeholder="all orders"
        aria-invalid={wrong !== undefined}
        aria-describedby={wrong ? `${id}-wrong` : undefined}
        onChange={(e) => type(e.target.value)}
        className={`w-full rounded-sm border bg-surface px-1.5 py-0.5 ${wrong ? 'border-loss' : 'border-edge'}`}
      />
      {wrong && (
        <span id={`${id}-wrong`} className="text-xs text-loss">
          {wrong}
        </span>
      )}
    </span>
  );
}

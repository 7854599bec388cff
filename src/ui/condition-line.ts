'use client';
import { useState } from 'react';
import { type Condition, type FieldKinds, lineOf, readCondition } from '../core/query';

const same = (a: Condition, b: Condition) => JSON.stringify(a) === JSON.stringify(b);

/** A condition as the line it is typed as: what is typed stays as it is until the condition changes by something else. */
export function useConditionLine(
  condition: Condition,
  fields: FieldKinds,
  onChange: (condition: Condition) => void,
): [line: string, type: (line: string) => void] {
  const [typed, setTyped] = useState(() => lineOf(condition, fields));
  const line = same(readCondition(typed, fields), condition) ? typed : lineOf(condition, fields);
  return [
    line,
    (next) => {
      setTyped(next);
      onChange(readCondition(next, fields));
    },
  ];
}

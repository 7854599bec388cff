'use client';
import { useState } from 'react';
import { type Currency, digitsOf } from '../../core/money';
import { type Ending, type EndingBand, type EndingDigits, endingText, parseEnding } from '../../core/pricing';
import { Button } from '../../ui/button';
import type { PlanRow } from '../../work/model';
import { amountIn } from './amounts';
import { ChoiceSlot, NumberSlot, TextSlot } from './slot';

/** Endings to choose from, in a currency with so many digits after the point. */
const usualEndings = (digits: number): readonly EndingDigits[] => {
  const per = 10 ** digits;
  return digits
    ? [
        { minor: per - 1, per },
        { minor: Math.round(0.95 * per), per },
        { minor: per / 2 - 1, per: per / 2 },
        { minor: 0, per },
      ]
    : [
        { minor: 99, per: 100 },
        { minor: 80, per: 100 },
        { minor: 0, per: 10 },
      ];
};

interface SlotProps {
  readonly label: string;
  readonly ending: Ending | null;
  /** Of the currency after the point. */
  readonly digits: number;
  readonly onChange: (ending: Ending | null) => void;
}

const OWN = 'own';
const ANY = 'any';
const keyOf = ({ minor, per }: EndingDigits) => `${minor}/${per}`;

/** What prices end in: one of the usual endings, any digit, or one that is typed. */
function EndingSlot({ label, ending, digits, onChange }: SlotProps) {
  const usual = usualEndings(digits);
  const key = ending ? keyOf(ending) : ANY;
  const known = !ending || usual.some((e) => keyOf(e) === key);
  const [typing, setTyping] = useState(false);
  const own = typing || !known;
  const direction = ending?.direction ?? 'up';
  return (
    <>
      <ChoiceSlot
        label={label}
        value={own ? OWN : key}
        choices={[
          ...usual.map((e) => [keyOf(e), endingText(e, digits)] as const),
          [OWN, 'an ending of your own'],
          [ANY, 'any digit'],
        ]}
        onChange={(chosen) => {
          setTyping(chosen === OWN);
          if (chosen === OWN) return;
          const found = usual.find((e) => keyOf(e) === chosen);
          onChange(found ? { ...found, direction } : null);
        }}
      />
      {own && (
        <>
          {' '}
          <TypedEnding label={label} ending={ending} digits={digits} onChange={onChange} />
        </>
      )}
    </>
  );
}

function TypedEnding({ label, ending, digits, onChange }: SlotProps) {
  const [text, setText] = useState(ending ? endingText(ending, digits) : '');
  const read = (typed: string) => parseEnding(typed, digits);
  return (
    <TextSlot
      label={`${label}, the last digits`}
      value={text}
      none="which"
      problemOf={(typed) => {
        const found = typed ? read(typed) : null;
        return found && !found.ok ? found.reason : null;
      }}
      onChange={(typed) => {
        setText(typed);
        const found = read(typed);
        if (found.ok) onChange({ ...found.value, direction: ending?.direction ?? 'up' });
      }}
    />
  );
}

/** What prices end in, by price. */
export function EndingSlots({
  plan,
  currency,
  onChange,
}: {
  plan: PlanRow;
  currency: Currency;
  onChange: (part: Partial<PlanRow>) => void;
}) {
  const money = amountIn(currency);
  const setEnding = (at: number, part: Partial<EndingBand>) =>
    onChange({ endings: plan.endings.map((e, k) => (k === at ? { ...e, ...part } : e)) });
  return (
    <>
      {plan.endings.map((band, at) => (
        <span key={at}>
          {band.upTo !== null ? (
            <>
              Up to{' '}
              <NumberSlot
                label={`Ending ${at + 1} up to`}
                value={band.upTo}
                {...money}
                onChange={(upTo) => setEnding(at, { upTo })}
              />{' '}
              end
            </>
          ) : at ? (
            'above that'
          ) : (
            'End'
          )}{' '}
          in{' '}
          <EndingSlot
            label={at ? `Ending ${at + 1}` : 'Ending'}
            ending={band.ending}
            digits={digitsOf(currency)}
            onChange={(ending) => setEnding(at, { ending })}
          />
          {band.ending && (
            <>
              , rounding{' '}
              <ChoiceSlot
                label={at ? `Direction ${at + 1}` : 'Direction'}
                value={band.ending.direction}
                choices={[
                  ['up', 'up'],
                  ['down', 'down'],
                  ['nearest', 'to the nearest'],
                ]}
                onChange={(direction) => setEnding(at, { ending: { ...band.ending!, direction } })}
              />
            </>
          )}
          {at < plan.endings.length - 1 ? ', ' : '. '}
        </span>
      ))}
      {plan.endings.length < 3 ? (
        <Button
          kind="text"
          className="-my-1.5"
          onClick={() => {
            const last = plan.endings.at(-1)!;
            const from = plan.endings.at(-2)?.upTo ?? 0;
            onChange({ endings: [...plan.endings.slice(0, -1), { ...last, upTo: from + 2_000 }, last] });
          }}
        >
          Another ending above
        </Button>
      ) : (
        <Button kind="text" className="-my-1.5" onClick={() => onChange({ endings: [plan.endings.at(-1)!] })}>
          One ending for all
        </Button>
      )}
    </>
  );
}

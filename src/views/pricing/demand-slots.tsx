'use client';
import type { Currency } from '../../core/money';
import type { DemandRule, DemandStep } from '../../core/pricing';
import { Button } from '../../ui/button';
import { amountIn, shareUpTo, WHOLE_NUMBER } from './amounts';
import { NumberSlot } from './slot';

/** How the price follows demand. */
export function DemandSlots({
  rule,
  currency,
  onChange,
}: {
  rule: DemandRule | null;
  currency: Currency;
  onChange: (rule: DemandRule | null) => void;
}) {
  const money = amountIn(currency);
  const set = (part: Partial<DemandRule>) => {
    const next = { raise: rule?.raise ?? null, lower: rule?.lower ?? null, ...part };
    onChange(next.raise || next.lower ? next : null);
  };
  const step = (of: DemandStep, name: string, onStep: (part: Partial<DemandStep>) => void) => (
    <>
      <NumberSlot
        label={`${name} by a share`}
        value={of.rate}
        {...shareUpTo(1_000_000)}
        onChange={(rate) => onStep({ rate })}
      />{' '}
      and{' '}
      <NumberSlot
        label={`${name} by an amount`}
        value={of.minor}
        {...money}
        onChange={(minor) => onStep({ minor })}
      />
      , all steps together by at most{' '}
      <NumberSlot
        label={`${name} by at most`}
        value={of.most}
        {...shareUpTo(5_000_000)}
        onChange={(most) => onStep({ most })}
      />
    </>
  );
  const raise = rule?.raise;
  const lower = rule?.lower;
  return (
    <>
      {raise && (
        <>
          After each{' '}
          <NumberSlot
            label="Sales for a step up"
            value={raise.sales}
            {...WHOLE_NUMBER}
            onChange={(sales) => set({ raise: { ...raise, sales } })}
          />{' '}
          sold it rises by {step(raise, 'Raise', (part) => set({ raise: { ...raise, ...part } }))}.{' '}
          <Button kind="text" className="-my-1.5" onClick={() => set({ raise: null })}>
            Do not raise
          </Button>
        </>
      )}
      {lower && (
        <>
          {raise && <br />}
          After each{' '}
          <NumberSlot
            label="Days for a step down"
            value={lower.days}
            {...WHOLE_NUMBER}
            onChange={(days) => set({ lower: { ...lower, days } })}
          />{' '}
          days without a sale it falls by{' '}
          {step(lower, 'Lower', (part) => set({ lower: { ...lower, ...part } }))}.{' '}
          <Button kind="text" className="-my-1.5" onClick={() => set({ lower: null })}>
            Do not lower
          </Button>
        </>
      )}
      {!raise && !lower && 'The price does not follow demand. '}
      {!raise && (
        <Button
          kind="text"
          className="-my-1.5"
          onClick={() => set({ raise: { sales: 5, rate: 20_000, minor: 0, most: 100_000 } })}
        >
          Raise what sells
        </Button>
      )}
      {!lower && (
        <Button
          kind="text"
          className="-my-1.5"
          onClick={() => set({ lower: { days: 14, rate: 20_000, minor: 0, most: 100_000 } })}
        >
          Lower what does not
        </Button>
      )}
    </>
  );
}

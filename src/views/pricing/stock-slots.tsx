'use client';
import type { StockRule } from '../../core/stock';
import { Button } from '../../ui/button';
import { shareUpTo, WHOLE_NUMBER } from './amounts';
import { ChoiceSlot, NumberSlot, OptionalSlot } from './slot';

/** A stock rule as a sentence. */
export function StockSlots({ rule, onChange }: { rule: StockRule; onChange: (rule: StockRule) => void }) {
  const set = (part: Partial<StockRule>) => onChange({ ...rule, ...part });
  const { show, aging, topUp } = rule;
  return (
    <>
      Show{' '}
      <ChoiceSlot
        label="What is shown"
        value={show.is}
        choices={[
          ['share', 'a share'],
          ['number', 'a number'],
        ]}
        onChange={(is) =>
          set({ show: is === 'share' ? { is, share: 1_000_000 } : { is, units: rule.atMost } })
        }
      />{' '}
      {show.is === 'share' ? (
        <>
          of{' '}
          <NumberSlot
            label="Share of the supplier’s stock"
            value={show.share}
            {...shareUpTo(1_000_000)}
            onChange={(share) => set({ show: { is: 'share', share } })}
          />{' '}
          of what the supplier has, less{' '}
          <NumberSlot
            label="Safety amount"
            value={rule.safety}
            {...WHOLE_NUMBER}
            onChange={(safety) => set({ safety })}
          />{' '}
          for safety
        </>
      ) : (
        <>
          of{' '}
          <NumberSlot
            label="Number shown"
            value={show.units}
            {...WHOLE_NUMBER}
            onChange={(units) => set({ show: { is: 'number', units } })}
          />{' '}
          while the supplier has enough
        </>
      )}
      , at most{' '}
      <NumberSlot
        label="At most"
        value={rule.atMost}
        {...WHOLE_NUMBER}
        onChange={(atMost) => set({ atMost })}
      />
      , and as none where it would be fewer than{' '}
      <NumberSlot
        label="At least"
        value={rule.atLeast}
        {...WHOLE_NUMBER}
        onChange={(atLeast) => set({ atLeast })}
      />
      ; none once the supplier has{' '}
      <NumberSlot label="Out at" value={rule.outAt} {...WHOLE_NUMBER} onChange={(outAt) => set({ outAt })} />{' '}
      or fewer. With none it is{' '}
      <ChoiceSlot
        label="With none"
        value={rule.whenOut}
        choices={[
          ['pause', 'paused'],
          ['show none', 'on sale with none'],
          ['end', 'ended until there is stock'],
        ]}
        onChange={(whenOut) => set({ whenOut })}
      />
      . Stock read more than{' '}
      <OptionalSlot
        label="Hours after which stock is old"
        value={aging?.hours ?? null}
        none="any number of"
        {...WHOLE_NUMBER}
        onChange={(hours) =>
          set({ aging: hours === null ? null : { hours, share: aging?.share ?? 500_000 } })
        }
      />{' '}
      {aging?.hours === 1 ? 'hour' : 'hours'} ago counts
      {aging ? (
        <>
          {' '}
          <NumberSlot
            label="Old stock counts"
            value={aging.share}
            {...shareUpTo(1_000_000)}
            onChange={(share) => set({ aging: { ...aging, share } })}
          />
        </>
      ) : (
        ' whole'
      )}
      .{' '}
      {topUp ? (
        <>
          It sells down to{' '}
          <NumberSlot
            label="Sells down to"
            value={topUp.downTo}
            {...WHOLE_NUMBER}
            onChange={(downTo) => set({ topUp: { ...topUp, downTo } })}
          />{' '}
          and is filled up to{' '}
          <NumberSlot
            label="Filled up to"
            value={topUp.backTo}
            {...WHOLE_NUMBER}
            onChange={(backTo) => set({ topUp: { ...topUp, backTo } })}
          />
          .{' '}
          <Button kind="text" className="-my-1.5" onClick={() => set({ topUp: null })}>
            Follow the supplier at once
          </Button>
        </>
      ) : (
        <Button
          kind="text"
          className="-my-1.5"
          onClick={() => set({ topUp: { downTo: Math.min(2, rule.atMost - 1), backTo: rule.atMost } })}
        >
          Sell down before it is filled up
        </Button>
      )}
    </>
  );
}

'use client';
import type { Currency } from '../../core/money';
import { type PriceBand, spanProblem } from '../../core/pricing';
import { problemInWords, problemsOf } from '../../core/query';
import { STARTING_STOCK_RULE } from '../../core/stock';
import { Button } from '../../ui/button';
import { useConditionLine } from '../../ui/condition-line';
import { GoodsCaught } from '../../ui/goods-caught';
import type { MarketConnection, PlanRow } from '../../work/model';
import { GOODS } from '../../work/quoting/goods';
import { amountIn, shareUpTo, WHOLE_NUMBER } from './amounts';
import { ClockHint } from './clock-hint';
import { DemandSlots } from './demand-slots';
import { EndingSlots } from './ending-slots';
import { ChoiceSlot, NumberSlot, OptionalSlot, TextSlot } from './slot';
import { StockSlots } from './stock-slots';
import { TargetSlots } from './target-slots';

interface Props {
  readonly plan: PlanRow;
  readonly currency: Currency;
  readonly markets: readonly MarketConnection[];
  readonly onChange: (part: Partial<PlanRow>) => void;
}

/** A whole plan as a sentence of which every underlined part can be changed. */
export function PlanSentence(props: Props) {
  const { plan, currency, onChange } = props;
  return (
    <div className="text-[15px] leading-[1.9]">
      <Scope {...props} />
      <Bands {...props} />
      <br />
      <Guards {...props} />
      <br />
      <EndingSlots {...props} />
      <br />
      <Sale {...props} />
      <br />
      <DemandSlots
        rule={plan.demand ?? null}
        currency={currency}
        onChange={(demand) => onChange({ demand })}
      />
      <br />
      <Steps {...props} />
      <br />
      <Stock {...props} />
    </div>
  );
}

/** What it covers, where and when. */
function Scope({ plan, markets, onChange }: Props) {
  const [goods, typeGoods] = useConditionLine(plan.filter, GOODS, (filter) => onChange({ filter }));
  const one = plan.marketplaces?.length === 1 ? plan.marketplaces[0]! : 'all';
  return (
    <>
      For goods matching{' '}
      <TextSlot
        label="Goods, as in a search: torch brand:Fellmoor cost:>20"
        value={goods}
        none="anything"
        wide
        tellsItself
        problemOf={() => problemsOf(plan.filter, GOODS).map(problemInWords)[0] ?? null}
        onChange={typeGoods}
      >
        <GoodsCaught filter={plan.filter} marketplaces={plan.marketplaces} />
      </TextSlot>{' '}
      on{' '}
      <ChoiceSlot
        label="Marketplace"
        value={one}
        choices={[['all', 'all marketplaces'], ...markets.map((m) => [m.id, m.name] as const)]}
        onChange={(id) => onChange({ marketplaces: id === 'all' ? null : [id] })}
      />
      , from{' '}
      <TextSlot
        label="From, in the time of each marketplace"
        isTime
        value={plan.from ?? ''}
        none="now on"
        onChange={(from) => onChange({ from: from || null })}
      >
        <ClockHint local={plan.from} markets={markets} />
      </TextSlot>{' '}
      to{' '}
      <TextSlot
        label="To, in the time of each marketplace"
        isTime
        value={plan.to ?? ''}
        none="no end"
        problemOf={() => spanProblem(plan)}
        onChange={(to) => onChange({ to: to || null })}
      >
        <ClockHint local={plan.to} markets={markets} />
      </TextSlot>
      :
    </>
  );
}

/** What it aims for, by bands of landed cost. */
function Bands({ plan, currency, markets, onChange }: Props) {
  const money = amountIn(currency);
  const setBand = (at: number, part: Partial<PriceBand>) =>
    onChange({ bands: plan.bands.map((b, k) => (k === at ? { ...b, ...part } : b)) });
  return (
    <>
      <ul>
        {plan.bands.map((band, at) => (
          <li key={at}>
            {plan.bands.length > 1 &&
              (band.upTo === null ? (
                'above that'
              ) : (
                <>
                  up to a landed cost of{' '}
                  <NumberSlot
                    label={`Band ${at + 1} ends at`}
                    value={band.upTo}
                    {...money}
                    onChange={(upTo) => setBand(at, { upTo })}
                  />
                </>
              ))}{' '}
            aim for{' '}
            <TargetSlots
              target={band.target}
              currency={currency}
              markets={markets}
              elsewhere={(markets.find((m) => !plan.marketplaces?.includes(m.id)) ?? markets[0])?.id ?? ''}
              name={plan.bands.length > 1 ? ` of band ${at + 1}` : ''}
              onChange={(target) => setBand(at, { target })}
            />
            , plus{' '}
            <NumberSlot
              label={`Flat amount${plan.bands.length > 1 ? ` of band ${at + 1}` : ''}`}
              value={band.flat}
              {...money}
              write={(n) => (n ? money.write(n) : 'nothing')}
              onChange={(flat) => setBand(at, { flat })}
            />
            .{' '}
            {plan.bands.length > 1 && (
              <Button
                kind="text"
                className="-my-1.5"
                aria-label={`Remove band ${at + 1}`}
                onClick={() =>
                  onChange({
                    bands: plan.bands
                      .filter((_, k) => k !== at)
                      .map((b, k, all) => (k === all.length - 1 ? { ...b, upTo: null } : b)),
                  })
                }
              >
                Remove
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Button
        kind="text"
        className="-my-1.5 -ml-1.5"
        onClick={() => {
          const last = plan.bands.at(-1)!;
          const from = plan.bands.at(-2)?.upTo ?? 0;
          onChange({
            bands: [...plan.bands.slice(0, -1), { ...last, upTo: from + 1_250 }, last],
          });
        }}
      >
        Add a band of cost
      </Button>
    </>
  );
}

/** Between what a price stays, and what is done where that cannot be. */
function Guards({ plan, currency, onChange }: Props) {
  const money = amountIn(currency);
  return (
    <>
      Never under{' '}
      <ChoiceSlot
        label="MAP guard"
        value={plan.neverUnderMap ? 'yes' : 'no'}
        choices={[
          ['yes', 'MAP'],
          ['no', 'MAP (guard off)'],
        ]}
        onChange={(v) => onChange({ neverUnderMap: v === 'yes' })}
      />
      , a profit of{' '}
      <NumberSlot
        label="Smallest profit"
        value={plan.smallestProfit}
        {...money}
        onChange={(smallestProfit) => onChange({ smallestProfit })}
      />{' '}
      and{' '}
      <NumberSlot
        label="Smallest margin"
        value={plan.smallestMargin}
        {...shareUpTo(900_000)}
        onChange={(smallestMargin) => onChange({ smallestMargin })}
      />{' '}
      of the price, or{' '}
      <OptionalSlot
        label="Floor"
        value={plan.floor}
        none="no floor"
        {...money}
        onChange={(floor) => onChange({ floor })}
      />
      ; never over{' '}
      <OptionalSlot
        label="Share of MSRP"
        value={plan.mostOfMsrp}
        none="MSRP (guard off)"
        {...shareUpTo(5_000_000)}
        onChange={(mostOfMsrp) => onChange({ mostOfMsrp })}
      />{' '}
      {plan.mostOfMsrp !== null && 'of MSRP '}or{' '}
      <OptionalSlot
        label="Ceiling"
        value={plan.ceiling}
        none="no ceiling"
        {...money}
        onChange={(ceiling) => onChange({ ceiling })}
      />
      . Where no price keeps the guards,{' '}
      <ChoiceSlot
        label="Where guards contradict"
        value={plan.contradiction}
        choices={[
          ['show none', 'show none if a sale would lose, or break MAP or MSRP'],
          ['floor', 'sell at the floor'],
          ['stay', 'stay at the old price'],
        ]}
        onChange={(contradiction) => onChange({ contradiction })}
      />
      .
    </>
  );
}

/** From the next midnight on for a week, in local time. */
function nextWeek(): { from: string; to: string } {
  const day = (n: number) => {
    const at = new Date();
    at.setDate(at.getDate() + n);
    return `${at.getFullYear()}-${String(at.getMonth() + 1).padStart(2, '0')}-${String(at.getDate()).padStart(2, '0')}T00:00`;
  };
  return { from: day(1), to: day(8) };
}

/** Room for a sale, and the sale. */
function Sale({ plan, markets, onChange }: Props) {
  return (
    <>
      Leave room for a sale of{' '}
      <NumberSlot
        label="Room for a sale"
        value={plan.room}
        {...shareUpTo(900_000)}
        onChange={(room) => onChange({ room })}
      />
      .{' '}
      {plan.sale ? (
        <>
          Take{' '}
          <NumberSlot
            label="Sale"
            value={plan.sale.off}
            {...shareUpTo(900_000)}
            onChange={(off) => onChange({ sale: { ...plan.sale!, off } })}
          />{' '}
          off from{' '}
          <TextSlot
            label="The sale begins"
            isTime
            value={plan.sale.from}
            none="a time"
            onChange={(from) => onChange({ sale: { ...plan.sale!, from } })}
          >
            <ClockHint local={plan.sale.from} markets={markets} />
          </TextSlot>{' '}
          to{' '}
          <TextSlot
            label="The sale ends"
            isTime
            value={plan.sale.to}
            none="a time"
            problemOf={() => spanProblem(plan.sale!)}
            onChange={(to) => onChange({ sale: { ...plan.sale!, to } })}
          >
            <ClockHint local={plan.sale.to} markets={markets} />
          </TextSlot>
          .{' '}
          <Button kind="text" className="-my-1.5" onClick={() => onChange({ sale: null })}>
            No sale
          </Button>
        </>
      ) : (
        <Button
          kind="text"
          className="-my-1.5"
          onClick={() => onChange({ sale: { off: plan.room || 100_000, ...nextWeek() } })}
        >
          Plan a sale
        </Button>
      )}
    </>
  );
}

/** How far prices may go by themselves. */
function Steps({ plan, currency, onChange }: Props) {
  const money = amountIn(currency);
  return (
    <>
      A step over{' '}
      <OptionalSlot
        label="Largest step"
        value={plan.steps.most}
        none="any size"
        {...shareUpTo(5_000_000)}
        onChange={(most) => onChange({ steps: { ...plan.steps, most } })}
      />{' '}
      waits for you; a change under{' '}
      <NumberSlot
        label="Smallest change"
        value={plan.steps.least}
        {...money}
        onChange={(least) => onChange({ steps: { ...plan.steps, least } })}
      />{' '}
      is not told; at most{' '}
      <OptionalSlot
        label="Changes a day"
        value={plan.steps.perDay}
        none="any number"
        {...WHOLE_NUMBER}
        onChange={(perDay) => onChange({ steps: { ...plan.steps, perDay } })}
      />{' '}
      a day.
    </>
  );
}

/** How much is shown of what it covers. */
function Stock({ plan, onChange }: Props) {
  return (
    <>
      {plan.stock ? (
        <>
          <StockSlots rule={plan.stock} onChange={(stock) => onChange({ stock })} />{' '}
          <Button kind="text" className="-my-1.5" onClick={() => onChange({ stock: null })}>
            Show as the shop does
          </Button>
        </>
      ) : (
        <>
          As much is shown as the shop’s rule says.{' '}
          <Button kind="text" className="-my-1.5" onClick={() => onChange({ stock: STARTING_STOCK_RULE })}>
            Show otherwise
          </Button>
        </>
      )}
    </>
  );
}

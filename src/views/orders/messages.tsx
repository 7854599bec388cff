'use client';
import Link from 'next/link';
import { useId, useState } from 'react';
import { MESSAGES, type MessageKind, type MessageRule, usualText } from '../../core/messages';
import { useAnswer } from '../../ui/answer';
import { Button } from '../../ui/button';
import { Empty, Head, Notice } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { MarketSelect } from '../../ui/market-select';
import { say } from '../../ui/said';
import { useShop } from '../../ui/shop';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';
import type { MarketConnection, Settings } from '../../work/model';
import { marketsOf } from '../../work/quoting/worth';

const NAMES: Readonly<Record<MessageKind, string>> = {
  thanks: 'When an order comes in',
  shipped: 'When a parcel left, for each parcel',
  delayed: 'When the ship-by time passed without a parcel',
  delivered: 'When all of it was delivered',
  cancelled: 'When you cancelled',
};

const FIELDS = ['first name', 'buyer', 'order', 'goods', 'tracking', 'carrier', 'shop'];

/** What buyers are written to at which event, marketplace by marketplace. */
export function MessagesPage() {
  const shop = useShop();
  const [chosen, setChosen] = useState<string | null>(null);
  if (!shop) return <Loading name="Messages to buyers" />;
  const markets = marketsOf(shop).filter((m) => m.lanes.orders === 'service');
  const market = markets.find((m) => m.id === chosen) ?? markets[0];
  return (
    <section className="flex min-w-0 grow flex-col overflow-auto">
      <Head
        name="Messages to buyers"
        state="Sent through the marketplace, each once. Nothing is sent for events that are off."
      >
        <Link href="/orders" className="text-[13px] text-river underline">
          Orders
        </Link>
      </Head>
      {market ? (
        <div className="max-w-4xl px-4 pb-8">
          <MarketSelect markets={markets} chosen={market.id} onChoose={setChosen} />
          <Market key={market.id} market={market} messages={shop.settings.messages ?? {}} />
        </div>
      ) : (
        <Empty title="No marketplace takes messages">
          <p>Messages are sent through a marketplace’s service. One that is worked by files takes none.</p>
        </Empty>
      )}
    </section>
  );
}

function Market({
  market,
  messages,
}: {
  market: MarketConnection;
  messages: NonNullable<Settings['messages']>;
}) {
  const saved = messages[market.id] ?? {};
  const [edited, setEdited] = useState<Partial<Record<MessageKind, MessageRule>> | null>(null);
  const draft = edited ?? saved;
  const language = market.site.language ?? 'en';
  const ruleOf = (kind: MessageKind): MessageRule =>
    draft[kind] ?? { on: false, text: usualText(kind, language) };
  const save = async () => {
    try {
      await theShop().saveMessages({ ...messages, [market.id]: draft });
      setEdited(null);
      await say(`Messages for ${market.name} saved.`, { undo: true });
    } catch (error) {
      await say(failureInWords(error), { wrong: true });
    }
  };
  return (
    <>
      {MESSAGES.map((kind) => (
        <Message
          key={kind}
          kind={kind}
          market={market}
          rule={ruleOf(kind)}
          onChange={(rule) => setEdited({ ...draft, [kind]: rule })}
        />
      ))}
      <p className="mt-3 text-xs text-muted">
        Fields:{' '}
        {FIELDS.map((field) => (
          <code key={field} className="mr-2">{`{{${field}}}`}</code>
        ))}
        <code>{'{{#carrier}} … {{/carrier}}'}</code> stands only where there is one.
      </p>
      <div className="mt-3 flex gap-2">
        <Button kind="main" disabled={edited === null} onClick={save}>
          Save messages
        </Button>
        <Button disabled={edited === null} onClick={() => setEdited(null)}>
          Discard
        </Button>
      </div>
    </>
  );
}

function Message({
  kind,
  market,
  rule,
  onChange,
}: {
  kind: MessageKind;
  market: MarketConnection;
  rule: MessageRule;
  onChange: (rule: MessageRule) => void;
}) {
  const id = useId();
  const preview = useAnswer(
    () => (rule.on ? theShop().previewMessage(market.id, rule.text) : null),
    [rule.on, rule.text, market.id],
    200,
  );
  const own = market.site.ownMessages?.includes(kind) ?? false;
  const wrong =
    preview && !preview.said.ok
      ? preview.said.reason
      : preview?.said.ok && preview.said.unknown.length
        ? `There is no field “${preview.said.unknown[0]}”.`
        : '';
  return (
    <div className="border-b border-rule-soft py-2 text-[13.5px]">
      <label className="font-semibold">
        <input
          type="checkbox"
          className="mr-1.5 accent-river"
          checked={rule.on}
          onChange={(e) => onChange({ ...rule, on: e.target.checked })}
        />
        {NAMES[kind]}
      </label>
      {own && <span className="ml-2 text-xs text-muted">{market.name} writes to the buyer itself then.</span>}
      {own && rule.on && (
        <Notice>Buyers get two messages about this: {market.name} writes to them as well.</Notice>
      )}
      {rule.on && (
        <div className="mt-1 grid grid-cols-2 gap-3">
          <div>
            <label htmlFor={id} className="text-xs text-muted">
              Template
            </label>
            <textarea
              id={id}
              rows={7}
              value={rule.text}
              aria-invalid={wrong !== ''}
              aria-describedby={`${id}-wrong`}
              onChange={(e) => onChange({ ...rule, text: e.target.value.slice(0, 4000) })}
              className="block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-[13px]"
            />
            <p id={`${id}-wrong`} className="min-h-4 text-xs text-loss">
              {wrong}
            </p>
          </div>
          <div>
            <p className="text-xs text-muted">
              {preview ? `As the buyer of ${preview.order} would get it` : 'No order to show it with yet'}
            </p>
            <p className="rounded-sm border border-rule bg-surface px-2 py-1 text-[13px] whitespace-pre-wrap">
              {preview?.said.ok ? preview.said.text : ''}
            </p>
          </div>
        </div>
      )}
    </div>
  );
}

'use client';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { parseMinor } from '../../core/money';
import type { Address } from '../../core/orders';
import { Button } from '../../ui/button';
import { Empty, Head, Notice, Section } from '../../ui/head';
import { Loading } from '../../ui/loading';
import { say } from '../../ui/said';
import { useShop } from '../../ui/shop';
import { failureInWords } from '../../work/context/failure';
import { theShop } from '../../work/desk/client';
import type { TypedOrder } from '../../work/orders/own-orders';
import { marketsOf } from '../../work/quoting/worth';
import { AddressFields, FormField, LOOK } from './address-fields';
import { OrdersFile } from './orders-file';

interface Fields extends Address {
  kind: TypedOrder['kind'];
  marketplace: string;
  email: string;
  lines: string;
  shipping: string;
}

const KINDS: Readonly<Record<TypedOrder['kind'], string>> = {
  sample: 'a sample',
  telephone: 'sold by telephone',
  till: 'sold at your own till',
};

/** `DD-010101 2 24.99`: SKU, units, price of one. @throws RangeError in words */
function linesOf(text: string, currency: string): TypedOrder['lines'] {
  return text
    .split('\n')
    .filter((row) => row.trim())
    .map((row, k) => {
      const [sku = '', units = '', price = '0'] = row.trim().split(/[\s;,]+(?=\S)/);
      if (!/^\d{1,5}$/.test(units))
        throw new RangeError(`Line ${k + 1}: “${units}” is not a number of units.`);
      const read = parseMinor(price, currency);
      if (!read.ok) throw new RangeError(`Line ${k + 1}: ${read.reason}`);
      return { sku, units: Number(units), unitPrice: read.value };
    });
}

/** An order that no marketplace sold: a sample, or one by telephone or at the seller's own till. */
export function NewOrder() {
  const shop = useShop();
  const router = useRouter();
  const [wrong, setWrong] = useState('');
  const { register, handleSubmit, watch, formState } = useForm<Fields>({
    defaultValues: { kind: 'sample', country: 'GB', shipping: '', line2: '', email: '' },
  });
  if (!shop) return <Loading name="New order" />;
  const markets = marketsOf(shop);
  const market = markets.find((m) => m.id === watch('marketplace')) ?? markets[0];
  if (!market)
    return (
      <Empty title="No marketplace is connected">
        <p>An order is entered by the listings, currency and tax of a marketplace.</p>
      </Empty>
    );
  const { currency } = market.site;
  const enter = async ({ kind, email, lines, shipping, marketplace: _, ...address }: Fields) => {
    setWrong('');
    try {
      const charge = shipping.trim() ? parseMinor(shipping, currency) : ({ ok: true, value: 0 } as const);
      if (!charge.ok) throw new RangeError(`Shipping: ${charge.reason}`);
      const said = await theShop().enterOrder({
        ...{ kind, marketplace: market.id, email, shipping: charge.value },
        address: { ...address, country: address.country.toUpperCase() },
        lines: linesOf(lines, currency),
      });
      if (!said.ok) return setWrong(said.reason);
      await say(`${said.number} entered. Look at it, then forward it.`);
      router.push(`/orders?row=${encodeURIComponent(said.id)}`);
    } catch (error) {
      setWrong(error instanceof RangeError ? error.message : failureInWords(error));
    }
  };
  const form = { register, errors: formState.errors };
  return (
    <section className="flex min-w-0 grow flex-col overflow-auto">
      <Head
        name="New order"
        state="Bought and sent like any other; no marketplace is told of it or takes fees."
      >
        <Link href="/orders" className="text-[13px] text-river underline">
          Orders
        </Link>
      </Head>
      <form onSubmit={handleSubmit(enter)} className="max-w-xl space-y-1.5 px-4 pb-8">
        <div className="grid grid-cols-2 gap-2">
          <label className="block text-xs text-muted">
            It is
            <select {...register('kind')} className={LOOK}>
              {Object.entries(KINDS).map(([id, says]) => (
                <option key={id} value={id}>
                  {says}
                </option>
              ))}
            </select>
          </label>
          <label className="block text-xs text-muted">
            Entered by the listings of
            <select {...register('marketplace')} className={LOOK}>
              {markets.map((m) => (
                <option key={m.id} value={m.id}>
                  {m.name}, {m.site.currency}
                </option>
              ))}
            </select>
          </label>
        </div>
        <Section title="Goods">
          <label className="block text-xs text-muted">
            One line each: SKU, units, price of one in {currency}
            <textarea
              {...register('lines', { required: 'There is no line' })}
              rows={4}
              placeholder="DD-010101 2 24.99"
              aria-invalid={Boolean(formState.errors.lines)}
              className={`${LOOK} font-mono`}
            />
            {formState.errors.lines && <span className="text-loss">{formState.errors.lines.message}</span>}
          </label>
          <div className="w-40">
            <FormField {...form} name="shipping" label={`Shipping paid, ${currency}`} longest={12} />
          </div>
        </Section>
        <Section title="Goes to">
          <AddressFields {...form} />
          <FormField {...form} name="email" label="Mail address" longest={200} />
        </Section>
        {wrong && <Notice tone="loss">{wrong}</Notice>}
        <Button kind="main" type="submit" disabled={formState.isSubmitting}>
          Enter the order
        </Button>
      </form>
      <div className="max-w-xl px-4 pb-8">
        <Section title="Or many from a file">
          <OrdersFile kind={watch('kind')} market={market} />
        </Section>
      </div>
    </section>
  );
}

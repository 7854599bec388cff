'use client';
import { useForm } from 'react-hook-form';
import { formatMinor } from '../../core/money';
import { parseShipping, shippingInWords } from '../../core/pricing';
import { Button } from '../../ui/button';
import { say } from '../../ui/said';
import { theShop } from '../../work/desk/client';
import type { SupplierConnection } from '../../work/model';

interface Fields {
  name: string;
  currency: string;
  shipping: string;
  shipsTo: string;
  url: string;
  purchases: 'file' | 'by hand';
}

/**
 * The details of a supplier that sends price lists: its name, its currency, and its charge for a
 * parcel.
 */
export function SupplierForm({
  supplier,
  onDone,
}: {
  supplier?: SupplierConnection;
  onDone: (id: string | null) => void;
}) {
  const { register, handleSubmit, formState, setError, watch } = useForm<Fields>({
    defaultValues: {
      name: supplier?.name ?? '',
      currency: supplier?.currency ?? 'GBP',
      shipping: supplier ? shippingInWords(supplier.shipping, supplier.currency) : '2 kg: 3.50, 30 kg: 9.90',
      shipsTo: supplier?.shipsTo.join(', ') ?? 'GB',
      url: supplier?.list?.kind === 'address' ? supplier.list.url : '',
      purchases: supplier?.lanes.purchases === 'by hand' ? 'by hand' : 'file',
    },
  });
  const currency = watch('currency');
  const bands = parseShipping(
    watch('shipping'),
    /^[A-Za-z]{3}$/.test(currency) ? currency.toUpperCase() : 'GBP',
  );
  const save = async (f: Fields) => {
    if (!/^[A-Za-z]{3}$/.test(f.currency.trim()))
      return setError('currency', { message: 'Three letters, such as GBP.' });
    const shipping = parseShipping(f.shipping, f.currency.trim().toUpperCase());
    if (!shipping.ok) return setError('shipping', { message: shipping.reason });
    const shipsTo = f.shipsTo
      .toUpperCase()
      .split(/[\s,;]+/)
      .filter(Boolean);
    if (!shipsTo.length || shipsTo.some((c) => !/^[A-Z]{2}$/.test(c)))
      return setError('shipsTo', { message: 'Country codes of two letters, such as GB, IE.' });
    const done = await theShop().keepListSupplier(
      {
        name: f.name,
        currency: f.currency.trim().toUpperCase(),
        shipping: shipping.value,
        shipsTo,
        url: f.url.trim(),
        purchases: f.purchases,
      },
      supplier?.id,
    );
    if (!done.ok) return setError('name', { message: done.reason });
    await say(`${done.name} is saved.`);
    onDone(done.id ?? null);
  };
  const field = (name: keyof Fields, label: string, hint: string, wide = false) => (
    <label className={`block text-xs text-muted ${wide ? 'sm:col-span-2' : ''}`}>
      {label}
      <input
        {...register(name, { required: name === 'name' || name === 'currency' || name === 'shipping' })}
        aria-invalid={Boolean(formState.errors[name])}
        className="mt-0.5 block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink"
      />
      {formState.errors[name] ? (
        <span role="alert" className="text-loss">
          {formState.errors[name]?.message || 'Required.'}
        </span>
      ) : (
        hint
      )}
    </label>
  );
  return (
    <form
      onSubmit={handleSubmit(save)}
      className="grid gap-3 sm:grid-cols-2"
      aria-label={supplier ? `Change ${supplier.name}` : 'Add a supplier'}
    >
      {field('name', 'Name', '')}
      {field('currency', 'Currency', 'ISO code')}
      {field(
        'shipping',
        'Shipping per parcel by weight',
        bands.ok
          ? bands.value
              .map((b) => `up to ${b.upToGrams / 1000} kg ${formatMinor(b.minor, currency)}`)
              .join(', ')
          : bands.reason,
        true,
      )}
      {field('shipsTo', 'It ships to', 'country codes')}
      {field('url', 'URL of its price list (optional)', 'fetched on a schedule; leave empty to upload files')}
      <label className="block text-xs text-muted">
        It is ordered from
        <select
          {...register('purchases')}
          className="mt-0.5 block w-full rounded-sm border border-edge bg-surface px-1.5 py-1 text-sm text-ink"
        >
          <option value="file">by order files</option>
          <option value="by hand">outside Sampan, order by order</option>
        </select>
        its tracking comes back the same way
      </label>
      <div className="flex items-end gap-2">
        <Button kind="main" type="submit">
          {supplier ? 'Save' : 'Add the supplier'}
        </Button>
        <Button onClick={() => onDone(null)}>Cancel</Button>
      </div>
    </form>
  );
}

'use client';
import type { FieldErrors, FieldValues, Path, UseFormRegister } from 'react-hook-form';
import type { Address } from '../../core/orders';

export const LOOK = 'block w-full rounded-sm border border-edge bg-surface px-1.5 py-0.5 text-sm text-ink';

/** The parts of an address with the characters that each may have. */
const LONGEST = { name: 120, line1: 200, line2: 200, town: 100, postcode: 20, country: 2 } as const;

interface Form<T extends FieldValues> {
  readonly register: UseFormRegister<T>;
  readonly errors: FieldErrors<T>;
}

/** One field of a form, with what is wrong with it. */
export function FormField<T extends FieldValues>({
  name,
  label,
  needed = false,
  longest,
  register,
  errors,
}: Form<T> & {
  readonly name: Path<T>;
  readonly label: string;
  readonly needed?: boolean;
  readonly longest: number;
}) {
  const wrong = errors[name];
  return (
    <label className="block text-xs text-muted">
      {label}
      <input
        {...register(name, {
          required: needed ? `${label} is missing` : false,
          maxLength: { value: longest, message: `At most ${longest} characters` },
          setValueAs: (v: string) => v.trim(),
        })}
        aria-invalid={Boolean(wrong)}
        className={LOOK}
      />
      {wrong && <span className="text-loss">{String(wrong.message ?? '')}</span>}
    </label>
  );
}

/** The parts of an address that an order goes to. */
export function AddressFields<T extends Address>(form: Form<T>) {
  const field = (name: keyof Address, label: string, needed: boolean) => (
    <FormField {...form} name={name as Path<T>} label={label} needed={needed} longest={LONGEST[name]} />
  );
  return (
    <>
      {field('name', 'Name', true)}
      {field('line1', 'Street', true)}
      {field('line2', 'Address line 2', false)}
      <div className="grid grid-cols-[1fr_7rem_4rem] gap-2">
        {field('town', 'Town', true)}
        {field('postcode', 'Postcode', false)}
        {field('country', 'Country', true)}
      </div>
    </>
  );
}

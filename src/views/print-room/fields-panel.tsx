'use client';
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import {
  type BuyerField,
  type Choice,
  type ChoiceField,
  DATE_FORMS,
  DATE_LANGUAGES,
  FIELD_KINDS,
  type FieldKind,
  isSeen,
  LETTER_CASES,
  type Lettering,
  newField,
  PRINT_FONTS,
  SCRIPTS,
} from '../../core/personal';
import { Section } from '../../ui/head';
import type { DesignRow } from '../../work/model';
import { NumberField } from './number-field';
import { TextInput } from './text-input';

const KINDS: Readonly<Record<FieldKind, string>> = {
  text: 'Words',
  choice: 'One of several',
  date: 'A day',
  place: 'A place',
  picture: 'A picture',
};

const SELECT =
  'mt-0.5 block w-full rounded-sm border border-edge bg-surface px-1 py-0.5 text-[13px] text-ink';

function Select<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}) {
  return (
    <label className="block text-xs text-muted">
      {label}
      <select value={value} onChange={(e) => onChange(e.target.value as T)} className={SELECT}>
        {options.map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}

interface Props {
  readonly fields: readonly BuyerField[];
  readonly chosen: string;
  /** mm of the area. */
  readonly across: number;
  readonly down: number;
  /** Names of fields in other areas of the print, too. */
  readonly names: readonly string[];
  readonly designs: readonly DesignRow[];
  readonly onChoose: (id: string) => void;
  readonly onFields: (fields: readonly BuyerField[]) => void;
}

/** What a buyer is asked for, and how it is set. */
export function FieldsPanel({ fields, chosen, across, down, names, designs, onChoose, onFields }: Props) {
  const field = fields.find((f) => f.id === chosen);
  const set = (change: Partial<BuyerField>) =>
    field && onFields(fields.map((f) => (f === field ? ({ ...f, ...change } as BuyerField) : f)));
  const add = (kind: FieldKind) => {
    const base = { text: 'Name', choice: 'Colour', date: 'Date', place: 'Place', picture: 'Picture' }[kind];
    let name = base;
    for (let n = 2; names.includes(name); n++) name = `${base} ${n}`;
    const id = `field-${Date.now().toString(36)}`;
    onFields([...fields, newField(kind, id, name)]);
    onChoose(id);
  };
  return (
    <Section
      title="The buyer’s own"
      aside={
        <Menu>
          <MenuButton className="rounded-sm px-1.5 py-1 text-[13px] font-semibold text-river hover:underline">
            Add a field
          </MenuButton>
          <MenuItems
            anchor="bottom end"
            className="z-30 rounded-sm border border-edge bg-surface py-1 text-[13.5px] shadow-md"
          >
            {FIELD_KINDS.map((kind) => (
              <MenuItem key={kind}>
                <button
                  type="button"
                  onClick={() => add(kind)}
                  className="block w-full px-3 py-1 text-left data-focus:bg-river-soft"
                >
                  {KINDS[kind]}
                </button>
              </MenuItem>
            ))}
          </MenuItems>
        </Menu>
      }
    >
      <ol className="space-y-1 text-[13.5px]">
        {fields.map((f) => (
          <li key={f.id}>
            <button
              type="button"
              aria-pressed={f === field}
              onClick={() => onChoose(f.id)}
              className={`w-full truncate rounded-sm border px-2 py-0.5 text-left text-[13px] ${f === field ? 'border-river bg-river-soft font-semibold' : 'border-rule hover:border-edge'}`}
            >
              {f.name} <span className="font-normal text-muted">{KINDS[f.kind].toLowerCase()}</span>
            </button>
          </li>
        ))}
        {!fields.length && <li className="text-muted">Nothing: every piece is made alike.</li>}
      </ol>
      {field && (
        <div className="mt-2 space-y-2">
          <div className="grid grid-cols-2 gap-2">
            <TextInput
              label="Asked for as"
              value={field.name}
              wrong={(name) =>
                !name.trim()
                  ? 'It needs a name.'
                  : name !== field.name && names.includes(name.trim())
                    ? 'Another field has this name.'
                    : /[:={}]/.test(name)
                      ? 'A name has no colon, equals sign or braces.'
                      : null
              }
              onCommit={(name) => set({ name: name.trim().slice(0, 60) })}
            />
            {field.kind !== 'picture' && (
              <TextInput label="Example" value={field.example} onCommit={(example) => set({ example })} />
            )}
          </div>
          <label className="flex items-center gap-1.5 text-[13px]">
            <input
              type="checkbox"
              checked={field.required}
              onChange={(e) => set({ required: e.target.checked })}
              className="size-3.5 accent-river"
            />
            It cannot be made without
          </label>
          <Special field={field} fields={fields} designs={designs} set={set} />
          {'lettering' in field && (
            <LetteringFields
              lettering={field.lettering}
              sky={field.kind === 'place' && field.as === 'sky'}
              onChange={(lettering) => set({ lettering })}
            />
          )}
          {isSeen(field) && (
            <div className="grid grid-cols-5 gap-1.5">
              {(
                [
                  ['Left', 'x', across],
                  ['Top', 'y', down],
                  ['Wide', 'width', across],
                  ['High', 'height', down],
                ] as const
              ).map(([label, part, mm]) => (
                <NumberField
                  key={part}
                  label={`${label} mm`}
                  value={field.box[part] * mm}
                  digits={1}
                  least={part === 'x' || part === 'y' ? -mm : 1}
                  most={2 * mm}
                  onCommit={(n) => set({ box: { ...field.box, [part]: n / mm } })}
                />
              ))}
              <NumberField
                label="Turn °"
                value={field.box.turn}
                digits={1}
                least={-360}
                most={360}
                onCommit={(turn) => set({ box: { ...field.box, turn } })}
              />
            </div>
          )}
          <button
            type="button"
            onClick={() => onFields(fields.filter((f) => f !== field))}
            className="block text-[13px] font-semibold text-river hover:underline"
          >
            Remove “{field.name}”
          </button>
        </div>
      )}
    </Section>
  );
}

/** What a kind of field has that others have not. */
function Special({
  field,
  fields,
  designs,
  set,
}: {
  field: BuyerField;
  fields: readonly BuyerField[];
  designs: readonly DesignRow[];
  set: (change: Partial<BuyerField>) => void;
}) {
  switch (field.kind) {
    case 'text':
      return (
        <>
          <div className="grid grid-cols-3 gap-2">
            <NumberField
              label="Characters"
              value={field.most}
              digits={0}
              least={1}
              most={500}
              onCommit={(most) => set({ most })}
            />
            <NumberField
              label="Lines"
              value={field.lines}
              digits={0}
              least={1}
              most={12}
              onCommit={(lines) => set({ lines })}
            />
            <Select
              label="Letters"
              value={field.letters}
              options={LETTER_CASES.map((c) => [c, c] as const)}
              onChange={(letters) => set({ letters })}
            />
          </div>
          <fieldset className="flex flex-wrap gap-x-3 text-[13px]">
            <legend className="text-xs text-muted">Scripts that are taken</legend>
            {SCRIPTS.map((script) => (
              <label key={script} className="flex items-center gap-1">
                <input
                  type="checkbox"
                  checked={field.scripts.includes(script)}
                  onChange={(e) =>
                    set({
                      scripts: e.target.checked
                        ? [...field.scripts, script]
                        : field.scripts.filter((s) => s !== script),
                    })
                  }
                  className="size-3.5 accent-river"
                />
                {script}
              </label>
            ))}
          </fieldset>
        </>
      );
    case 'date':
      return (
        <div className="grid grid-cols-2 gap-2">
          <Select
            label="Written as"
            value={field.form}
            options={DATE_FORMS.map((f) => [f, f] as const)}
            onChange={(form) => set({ form })}
          />
          <Select
            label="Months in"
            value={field.language}
            options={DATE_LANGUAGES.map(
              (l) => [l, new Intl.DisplayNames('en', { type: 'language' }).of(l) ?? l] as const,
            )}
            onChange={(language) => set({ language })}
          />
        </div>
      );
    case 'place':
      return (
        <div className="grid grid-cols-2 gap-2">
          <Select
            label="Shown as"
            value={field.as}
            options={[
              ['name', 'its name'],
              ['sky', 'the sky above it'],
            ]}
            onChange={(as) => set({ as })}
          />
          {field.as === 'sky' && (
            <TextInput
              label="At, where no hour is named"
              value={field.hour}
              wrong={(hour) => (/^([01]\d|2[0-3]):[0-5]\d$/.test(hour) ? null : 'An hour such as 22:00.')}
              onCommit={(hour) => set({ hour })}
            />
          )}
        </div>
      );
    case 'picture':
      return (
        <Select
          label="Laid"
          value={field.how}
          options={[
            ['fill', 'over all of its box, cut at the edges'],
            ['fit', 'into its box'],
          ]}
          onChange={(how) => set({ how })}
        />
      );
    case 'choice':
      return <Choices field={field} fields={fields} designs={designs} set={set} />;
  }
}

function Choices({
  field,
  fields,
  designs,
  set,
}: {
  field: ChoiceField;
  fields: readonly BuyerField[];
  designs: readonly DesignRow[];
  set: (change: Partial<ChoiceField>) => void;
}) {
  const first = { font: PRINT_FONTS[0]!.id, colour: '#1f2c4d', motif: designs[0]?.id ?? '' };
  const put = (k: number, change: Partial<Choice>) =>
    set({ choices: field.choices.map((c, i) => (i === k ? { ...c, ...change } : c)) });
  return (
    <>
      <div className="grid grid-cols-2 gap-2">
        <Select
          label="Of"
          value={field.of}
          options={[
            ['font', 'fonts'],
            ['colour', 'colours'],
            ['motif', 'motifs'],
          ]}
          onChange={(of) => set({ of, choices: field.choices.map((c) => ({ ...c, value: first[of] })) })}
        />
        {field.of !== 'motif' && (
          <Select
            label="Sets"
            value={field.sets}
            options={[
              ['', 'all words'],
              ...fields.flatMap((f) => ('lettering' in f ? [[f.id, f.name] as const] : [])),
            ]}
            onChange={(sets) => set({ sets })}
          />
        )}
      </div>
      <ul className="space-y-1">
        {field.choices.map((c, k) => (
          <li key={k} className="flex items-end gap-1.5">
            <div className="min-w-0 grow">
              <TextInput label={`Choice ${k + 1}`} value={c.name} onCommit={(name) => put(k, { name })} />
            </div>
            {field.of === 'colour' ? (
              <input
                type="color"
                aria-label={`Colour of ${c.name}`}
                value={c.value}
                onChange={(e) => put(k, { value: e.target.value })}
                className="h-[26px] w-10 rounded-sm border border-edge bg-surface"
              />
            ) : (
              <select
                aria-label={`What ${c.name} is`}
                value={c.value}
                onChange={(e) => put(k, { value: e.target.value })}
                className="max-w-32 rounded-sm border border-edge bg-surface px-1 py-0.5 text-[13px]"
              >
                {(field.of === 'font' ? PRINT_FONTS : designs).map((one) => (
                  <option key={one.id} value={one.id}>
                    {one.name}
                  </option>
                ))}
              </select>
            )}
            <button
              type="button"
              aria-label={`Remove ${c.name}`}
              onClick={() => set({ choices: field.choices.filter((_, i) => i !== k) })}
              className="px-1 pb-1 text-muted hover:text-ink"
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      <button
        type="button"
        onClick={() =>
          set({
            choices: [
              ...field.choices,
              { name: `Choice ${field.choices.length + 1}`, value: first[field.of] },
            ],
          })
        }
        className="text-[13px] font-semibold text-river hover:underline"
      >
        Add a choice
      </button>
    </>
  );
}

function LetteringFields({
  lettering,
  sky,
  onChange,
}: {
  lettering: Lettering;
  sky: boolean;
  onChange: (lettering: Lettering) => void;
}) {
  const set = (change: Partial<Lettering>) => onChange({ ...lettering, ...change });
  const colour = (
    <label className="block text-xs text-muted">
      {sky ? 'Colour of the sky' : 'Colour'}
      <input
        type="color"
        value={lettering.colour}
        onChange={(e) => set({ colour: e.target.value })}
        className="mt-0.5 block h-[26px] w-full rounded-sm border border-edge bg-surface"
      />
    </label>
  );
  if (sky) return <div className="w-28">{colour}</div>;
  return (
    <>
      <div className="grid grid-cols-[1fr_4rem_5rem] gap-2">
        <Select
          label="Font"
          value={lettering.font}
          options={PRINT_FONTS.map((f) => [f.id, f.name] as const)}
          onChange={(font) => set({ font })}
        />
        {colour}
        <Select
          label="Aligned"
          value={lettering.align}
          options={[
            ['left', 'left'],
            ['centre', 'centre'],
            ['right', 'right'],
          ]}
          onChange={(align) => set({ align })}
        />
      </div>
      <div className="grid grid-cols-3 gap-2">
        <NumberField
          label="Smallest mm"
          value={lettering.least}
          digits={1}
          least={0.5}
          most={lettering.most}
          onCommit={(least) => set({ least })}
        />
        <NumberField
          label="Largest mm"
          value={lettering.most}
          digits={1}
          least={lettering.least}
          most={2_000}
          onCommit={(most) => set({ most })}
        />
        <NumberField
          label="Bent by °"
          value={lettering.curve}
          digits={0}
          least={-340}
          most={340}
          onCommit={(curve) => set({ curve })}
        />
      </div>
    </>
  );
}

'use client';
import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { GripVertical, X } from 'lucide-react';
import { createContext, type KeyboardEvent, useContext, useState } from 'react';
import { KINDS, type Subject, VOCABULARY } from '../../core/fields';
import {
  type Branch,
  branch,
  branchOf,
  inserted,
  moved,
  type Path,
  partAt,
  replaced,
} from '../../core/groups';
import { type Condition, leafLine, leafProblem, partsOf } from '../../core/query';
import { Button } from '../../ui/button';

const LOOK = 'rounded-sm border border-edge bg-surface px-1.5 py-0.5 text-[13.5px]';

const BRANCHES: readonly (readonly [Branch, string])[] = [
  ['all', 'All of these hold'],
  ['any', 'Any of these holds'],
  ['none', 'None of these holds'],
];

/** A word, for what goods are called by, among the fields. */
const WORDS = 'words';

interface Tree {
  readonly subject: Subject;
  readonly condition: Condition;
  /** Names of groups that may be asked for. */
  readonly groups: readonly string[];
  readonly onChange: (condition: Condition) => void;
}

const OfTree = createContext<Tree | null>(null);
const useTree = () => useContext(OfTree)!;

const idOf = (path: Path) => path.join('.');
const pathOf = (id: string): Path => (id ? id.split('.').map(Number) : []);

/** A condition as boxes in boxes: what stands in one is added, taken out and dragged; a handle moves by the arrow keys, too. */
export function ConditionTree(tree: Tree) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const [told, setTold] = useState('');
  const top = branchOf(tree.condition) ? tree.condition : branch('all', [tree.condition]);
  const of = { ...tree, condition: top };
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (!over) return;
    const [, to, before] = /^(.*)\/(\d+)$/.exec(String(over.id)) ?? [];
    if (to === undefined) return;
    tree.onChange(moved(top, pathOf(String(active.id)), pathOf(to), Number(before)));
    setTold('Moved');
  };
  return (
    <OfTree value={of}>
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        accessibility={{
          screenReaderInstructions: {
            draggable:
              'Up and down move it among its neighbours, right into the box below it, left out of its box.',
          },
        }}
        onDragEnd={onDragEnd}
      >
        <Box path={[]} part={top} />
      </DndContext>
      <p role="status" className="sr-only">
        {told}
      </p>
    </OfTree>
  );
}

/** A box: how its parts are joined, and its parts. */
function Box({ path, part }: { path: Path; part: Condition }) {
  const { condition, onChange } = useTree();
  const own = branchOf(part)!;
  const parts = partsOf(part)!;
  const add = (one: Condition) => onChange(inserted(condition, path, parts.length, one));
  const name = path.length ? `Box ${path.map((n) => n + 1).join('.')}` : 'The whole condition';
  return (
    <fieldset className="min-w-0 rounded-sm border border-edge bg-raised px-2 pt-1 pb-1.5">
      <legend className="sr-only">{name}</legend>
      <div className="flex items-center gap-1.5">
        {path.length > 0 && <Handle path={path} name={name} />}
        <select
          aria-label={`How ${name.toLowerCase()} is joined`}
          className={`${LOOK} font-semibold`}
          value={own}
          onChange={(e) => onChange(replaced(condition, path, branch(e.target.value as Branch, parts)))}
        >
          {BRANCHES.map(([id, words]) => (
            <option key={id} value={id}>
              {words}
            </option>
          ))}
        </select>
        <span className="grow" />
        {path.length > 0 && <Remove path={path} name={name} />}
      </div>
      <ul className="mt-1 space-y-1 border-l-2 border-rule pl-2">
        {parts.map((one, k) => (
          // A part is known by its place alone.
          <li key={k}>
            <Gap into={path} before={k} />
            {branchOf(one) ? <Box path={[...path, k]} part={one} /> : <Leaf path={[...path, k]} leaf={one} />}
          </li>
        ))}
        <li>
          <Gap into={path} before={parts.length} />
          {!parts.length && (
            <p className="text-xs text-muted">
              {own === 'any'
                ? 'Nothing stands here: it holds nothing.'
                : 'Nothing stands here: everything is in.'}
            </p>
          )}
          <Button kind="text" className="py-0.5" onClick={() => add({ field: 'brand', is: '' })}>
            Add a condition
          </Button>
          <Button kind="text" className="py-0.5" onClick={() => add({ any: [] })}>
            Add a box
          </Button>
        </li>
      </ul>
    </fieldset>
  );
}

/** Where something that is dragged can be let go. */
function Gap({ into, before }: { into: Path; before: number }) {
  const { setNodeRef, isOver } = useDroppable({ id: `${idOf(into)}/${before}` });
  return <div ref={setNodeRef} aria-hidden className={`h-1 rounded-sm ${isOver ? 'bg-river' : ''}`} />;
}

function Handle({ path, name }: { path: Path; name: string }) {
  const { condition, onChange } = useTree();
  const { attributes, listeners, setNodeRef } = useDraggable({ id: idOf(path) });
  const onKeyDown = (e: KeyboardEvent) => {
    const step = STEPS[e.key];
    if (!step || e.ctrlKey || e.metaKey || e.altKey) return;
    e.preventDefault();
    e.stopPropagation();
    const to = step(path, condition);
    if (!to) return;
    const next = moved(condition, path, to.into, to.before);
    onChange(next);
    // The focus goes with it.
    const now = placeOf(next, partAt(condition, path)!);
    requestAnimationFrame(() =>
      document.querySelector<HTMLElement>(`[data-handle="${now && idOf(now)}"]`)?.focus(),
    );
  };
  return (
    <button
      ref={setNodeRef}
      type="button"
      data-handle={idOf(path)}
      aria-label={`Move ${name}`}
      aria-describedby={attributes['aria-describedby']}
      title="Drag it, or move it with the arrow keys"
      {...listeners}
      onKeyDown={onKeyDown}
      className="cursor-grab touch-none p-1 text-muted hover:text-ink"
    >
      <GripVertical aria-hidden size={14} />
    </button>
  );
}

/** Where a part stands in a condition; null where it does not. */
function placeOf(condition: Condition, part: Condition, path: Path = []): Path | null {
  if (condition === part) return path;
  for (const [k, one] of (partsOf(condition) ?? []).entries()) {
    const found = placeOf(one, part, [...path, k]);
    if (found) return found;
  }
  return null;
}

interface Place {
  readonly into: Path;
  readonly before: number;
}

/** Where the arrow keys take a part; null where they lead nowhere. */
const STEPS: Readonly<Record<string, (path: Path, condition: Condition) => Place | null>> = {
  ArrowUp: (path) => {
    const [into, at] = [path.slice(0, -1), path.at(-1)!];
    return at > 0 ? { into, before: at - 1 } : null;
  },
  ArrowDown: (path, condition) => {
    const [into, at] = [path.slice(0, -1), path.at(-1)!];
    const parts = partsOf(partAt(condition, into)!)!;
    return at < parts.length - 1 ? { into, before: at + 2 } : null;
  },
  ArrowRight: (path, condition) => {
    const next = [...path.slice(0, -1), path.at(-1)! + 1];
    const box = partAt(condition, next);
    return box && branchOf(box) ? { into: next, before: 0 } : null;
  },
  ArrowLeft: (path) => (path.length > 1 ? { into: path.slice(0, -2), before: path.at(-2)! + 1 } : null),
};

function Remove({ path, name }: { path: Path; name: string }) {
  const { condition, onChange } = useTree();
  return (
    <button
      type="button"
      aria-label={`Remove ${name}`}
      className="p-1 text-muted hover:text-ink"
      onClick={() => onChange(replaced(condition, path, null))}
    >
      <X aria-hidden size={14} />
    </button>
  );
}

/** One condition: a field and its value. */
function Leaf({ path, leaf }: { path: Path; leaf: Condition }) {
  const { subject, condition, onChange } = useTree();
  const kinds = KINDS[subject];
  const name = `condition ${path.map((n) => n + 1).join('.')}`;
  const put = (next: Condition) => onChange(replaced(condition, path, next));
  const field = 'field' in leaf ? leaf.field : WORDS;
  const problem = 'field' in leaf && !leaf.is ? null : leafProblem(leaf, kinds);
  return (
    <div>
      <div className="flex flex-wrap items-center gap-1.5">
        <Handle path={path} name={name} />
        {'unread' in leaf ? (
          <span className="font-mono text-[13px]">{leafLine(leaf)}</span>
        ) : (
          <>
            <select
              aria-label={`What ${name} asks for`}
              className={LOOK}
              value={field}
              onChange={(e) =>
                put(e.target.value === WORDS ? { word: '' } : { field: e.target.value, is: '' })
              }
            >
              <option value={WORDS}>Its title has the word</option>
              {Object.keys(kinds).map((id) => (
                <option key={id} value={id}>
                  {nameOf(id)}
                </option>
              ))}
              {field !== WORDS && !Object.hasOwn(kinds, field) && <option value={field}>{field}</option>}
            </select>
            <Value name={name} leaf={leaf} onChange={put} />
          </>
        )}
        <span className="grow" />
        <Remove path={path} name={name} />
      </div>
      {problem !== null && <p className="pl-7 text-xs text-loss">{problem}</p>}
    </div>
  );
}

const nameOf = (id: string): string => {
  const field = Object.hasOwn(VOCABULARY, id) ? VOCABULARY[id as keyof typeof VOCABULARY] : null;
  return field && 'name' in field ? field.name : id === 'is' ? 'It is' : id === 'has' ? 'It has' : id;
};

function Value({
  name,
  leaf,
  onChange,
}: {
  name: string;
  leaf: Exclude<Condition, { unread: string }>;
  onChange: (next: Condition) => void;
}) {
  const { subject, groups } = useTree();
  const label = `Value of ${name}`;
  if ('word' in leaf)
    return (
      <input
        aria-label={label}
        className={`${LOOK} min-w-0 flex-1`}
        value={leaf.word}
        onChange={(e) => onChange({ word: e.target.value })}
      />
    );
  if (!('field' in leaf)) return null;
  const { field, is } = leaf;
  const kind = KINDS[subject][field];
  const known = Object.hasOwn(VOCABULARY, field) ? VOCABULARY[field as keyof typeof VOCABULARY] : null;
  const choices: readonly (readonly [string, string])[] | null =
    kind?.kind === 'flags'
      ? Object.entries(
          (known as { flags?: Record<string, Record<string, string>> } | null)?.flags?.[subject] ?? {},
        )
      : kind?.kind === 'named'
        ? groups.map((g) => [g, g] as const)
        : null;
  if (choices)
    return (
      <select
        aria-label={label}
        className={`${LOOK} min-w-0 flex-1`}
        value={is}
        onChange={(e) => onChange({ field, is: e.target.value })}
      >
        <option value="">Choose</option>
        {is && !choices.some(([id]) => id === is) && <option value={is}>{is}</option>}
        {choices.map(([id, words]) => (
          <option key={id} value={id}>
            {words}
          </option>
        ))}
      </select>
    );
  return (
    <input
      aria-label={label}
      className={`${LOOK} min-w-0 flex-1`}
      value={is}
      placeholder={known && 'example' in known ? known.example.slice(field.length + 1) : ''}
      onChange={(e) => onChange({ field, is: e.target.value.replaceAll('"', '') })}
    />
  );
}

import * as fc from 'fast-check';
import { KINDS } from '../fields';
import { type Condition, compile, type Fields, leavesOf, lineOf, partsOf, readCondition } from '../query';
import { circleInWords, circleOf, type GroupOf, groupsIn, Membership, renamed } from './group';
import { branchOf, inserted, isCondition, measured, moved, type Path, partAt, replaced } from './tree';

const KINDS_HERE = KINDS.listing;
const read = (line: string) => readCondition(line, KINDS_HERE);
const group = (name: string, line: string, more: Partial<GroupOf> = {}): GroupOf => ({
  ...{ name, filter: read(line), picked: [], left: [] },
  ...more,
});

interface Row {
  readonly product: string;
  readonly brand: string;
  readonly sales: number;
}
const row = (product: string, brand: string, sales: number): Row => ({ product, brand, sales });

/** The fields that the tests ask for, read of a row; the groups of a membership are asked by its own word. */
const membership = (groups: readonly GroupOf[], kinds = KINDS_HERE) => {
  const fieldsOf = (self: Membership<Row>): Fields<Row> => ({
    brand: { kind: 'text', get: (r) => r.brand },
    sales: { kind: 'number', get: (r) => r.sales },
    group: { kind: 'named', named: self.named, get: (r, name) => self.has(r, name) },
  });
  return new Membership<Row>(
    groups,
    kinds,
    fieldsOf,
    () => '',
    (r) => r.product,
  );
};

test('a group holds what its condition finds and what was picked, without what was left out; groups ask for groups', () => {
  const groups = [
    group('Fellmoor', 'brand:Fellmoor', { picked: ['p3'], left: ['p2'] }),
    group('Sells', 'sales:>5'),
    group('Best of Fellmoor', 'group:Fellmoor group:sells'),
    group('The rest', '-group:"Best of Fellmoor"'),
  ];
  const of = membership(groups);
  const rows = [
    row('p1', 'Fellmoor', 9),
    row('p2', 'Fellmoor', 9),
    row('p3', 'Tarnside', 2),
    row('p4', 'X', 9),
  ];
  const holds = (name: string) => rows.filter((r) => of.has(r, name)).map((r) => r.product);
  expect(holds('FELLMOOR')).toEqual(['p1', 'p3']);
  expect(holds('Best of Fellmoor')).toEqual(['p1']);
  expect(holds('The rest')).toEqual(['p2', 'p3', 'p4']);
  expect(holds('Nobody')).toEqual([]);
  expect([...of.named.values()]).toEqual([null, null, null, null]);
});

test('a circle is refused with its way, and holds nothing where it came to be all the same', () => {
  const groups = [group('A', 'group:B'), group('B', 'sales:>1 or group:C'), group('C', 'sales:>5')];
  expect(circleOf(groups[0]!, groups)).toBeNull();
  const way = circleOf(group('C', '-group:A'), groups);
  expect(way).toEqual(['C', 'A', 'B', 'C']);
  expect(circleInWords(way!)).toBe('“C” asks for “A”, “A” asks for “B”, “B” asks for “C”');
  expect(circleOf(group('A', 'group:a'), groups)).toEqual(['A', 'A']);
  const of = membership([...groups.slice(0, 2), group('C', '-group:A')]);
  expect(of.has(row('p1', 'x', 9), 'A')).toBe(false);
  expect(of.named.get('b')).toMatch(/leads back to itself/);
});

test('what cannot be gone by says why: an unknown group, a field that these rows lack, a piece that is not understood', () => {
  const groups = [group('A', 'group:Gone'), group('B', 'margin:>20'), group('C', 'sales:many')];
  const { named } = membership(groups, KINDS.goods);
  expect(named.get('a')).toBe('Group “A” asks for “Gone”, which is no group.');
  expect(named.get('b')).toBe('Group “B” goes by margin, which cannot be gone by here.');
  expect(named.get('c')).toMatch(/^Group “C” goes by sales/);
  expect(membership(groups).named.get('c')).toMatch(/not a number/);
  const fields = { group: { kind: 'named', named, get: () => true } } as const;
  expect(compile(read('group:B'), fields, () => '').problems).toHaveLength(1);
  expect(compile(read('group:Z'), fields, () => '').problems[0]!.reason).toBe('There is no group “Z”.');
});

test('a group that is renamed is asked for by its new name, wherever it stands', () => {
  const before = read('(group:lamps or -group:"Best of it") brand:Lamps');
  const after = renamed(before, 'Lamps', 'Night lights');
  expect(lineOf(after, KINDS_HERE)).toBe('(group:"Night lights" or (-group:"Best of it")) brand:Lamps');
  expect(groupsIn(after)).toEqual(['Night lights', 'Best of it']);
});

/** Conditions of any shape, each leaf another. */
const trees = fc.letrec<{ tree: Condition; box: Condition }>((tie) => ({
  tree: fc.oneof(
    { depthSize: 'small' },
    fc.nat(1_000_000).map((n) => ({ word: `w${n}` })),
    tie('box'),
  ),
  box: fc.oneof(
    fc.array(tie('tree'), { maxLength: 4 }).map((all) => ({ all })),
    fc.array(tie('tree'), { maxLength: 4 }).map((any) => ({ any })),
    fc.array(tie('tree'), { maxLength: 4 }).map((none) => ({ none })),
  ),
}));

/** Every place of a condition. */
function* pathsOf(condition: Condition, path: Path = []): Generator<Path> {
  yield path;
  for (const [k, part] of (partsOf(condition) ?? []).entries()) yield* pathsOf(part, [...path, k]);
}

const leafText = (condition: Condition) => [...leavesOf(condition)].map((leaf) => JSON.stringify(leaf));

test('moving a part loses nothing and doubles nothing, and puts it where it was let go', () => {
  fc.assert(
    fc.property(trees.box, fc.nat(), fc.nat(), fc.nat(), (tree, a, b, c) => {
      const paths = [...pathsOf(tree)];
      const boxes = paths.filter((p) => branchOf(partAt(tree, p)!));
      const from = paths[a % paths.length]!;
      const into = boxes[b % boxes.length]!;
      const before = c % (partsOf(partAt(tree, into)!)!.length + 1);
      const after = moved(tree, from, into, before);
      expect(leafText(after).sort()).toEqual(leafText(tree).sort());
      expect(measured(after).parts).toBe(measured(tree).parts);
      const inItself = from.every((n, k) => into[k] === n);
      if (inItself) expect(after).toEqual(tree);
      else {
        // Beside what stood at that place before, unless that is the part itself.
        const target = partsOf(partAt(tree, into)!)![before];
        const part = partAt(tree, from)!;
        // What it is taken out of is not the same object after it.
        const outOfTarget = [...into, before].every((n, k) => from[k] === n);
        const found = [...pathsOf(after)].some((p) => {
          const here = partsOf(partAt(after, p)!);
          return here?.some(
            (one, k) => one === part && (!target || outOfTarget || target === part || here[k + 1] === target),
          );
        });
        expect(found).toBe(true);
      }
    }),
    { numRuns: 400 },
  );
});

test('what comes from outside is a condition only in its form, and no larger than one may be', () => {
  fc.assert(fc.property(trees.tree, (tree) => expect(isCondition(tree)).toBe(measured(tree).depth <= 30)));
  for (const wrong of [
    null,
    3,
    'all',
    [],
    {},
    { all: 'x' },
    { all: [{}] },
    { field: 'brand' },
    { word: 3 },
    { all: [], any: [] },
  ])
    expect(isCondition(wrong)).toBe(false);
  let deep: Condition = { word: 'x' };
  for (let k = 0; k < 40; k++) deep = { all: [deep] };
  expect(isCondition(deep)).toBe(false);
  expect(isCondition({ all: Array.from({ length: 501 }, () => ({ word: 'x' })) })).toBe(false);
});

test('a part is put in, replaced and taken away; the top that is taken away leaves everything', () => {
  const tree = read('(brand:A or brand:B) -sales:<3');
  expect(lineOf(inserted(tree, [0], 1, { field: 'sku', is: 'x' }), KINDS_HERE)).toContain('sku:x');
  expect(replaced(tree, [], null)).toEqual({ all: [] });
  expect(replaced(tree, [7], null)).toEqual(tree);
  expect(inserted(tree, [9, 9], 0, { word: 'x' })).toEqual(tree);
});

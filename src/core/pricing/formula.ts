/**
 * A small language for prices: `max(cost * 1.45 + 2.2, market - 0.05)`. Amounts are decimal numbers of the marketplace's
 * currency; sums and products are exact to twelve digits after the point, quotients are rounded there. Nothing is executed:
 * a text is read once into a tree, of limited length and depth, and the tree is walked.
 */

/** Fields that a formula may name, with what each is. */
export const FORMULA_FIELDS = {
  cost: { is: 'amount', means: 'landed cost' },
  goods: { is: 'amount', means: 'price of the goods at the supplier' },
  shipping: { is: 'amount', means: 'the supplier’s shipping' },
  market: { is: 'amount', means: 'market price' },
  map: { is: 'amount', means: 'MAP' },
  msrp: { is: 'amount', means: 'MSRP' },
  weight: { is: 'number', means: 'kilograms' },
  stock: { is: 'number', means: 'units the supplier has' },
} as const;
export type FormulaField = keyof typeof FORMULA_FIELDS;

/** Functions with how many values they take. */
const FUNCTIONS = {
  min: [1, 12],
  max: [1, 12],
  first: [1, 12],
  round: [2, 2],
  if: [3, 3],
} as const;
type FunctionName = keyof typeof FUNCTIONS;

/** Of what kind a value is; a typed number may stand for either. */
type Kind = 'amount' | 'number' | 'either';

type Node =
  | { readonly is: 'value'; readonly value: bigint }
  | { readonly is: 'field'; readonly field: FormulaField }
  | {
      readonly is: 'sum';
      readonly op: '+' | '-' | '*' | '/';
      readonly at: number;
      readonly left: Node;
      readonly right: Node;
    }
  | { readonly is: 'less'; readonly op: Comparison; readonly left: Node; readonly right: Node }
  | { readonly is: 'call'; readonly name: FunctionName; readonly at: number; readonly of: readonly Node[] };

type Comparison = '<' | '<=' | '>' | '>=' | '=';

/** Why a text is no formula, and where in it. */
export interface FormulaProblem {
  readonly reason: string;
  /** Characters before the place. */
  readonly at: number;
}

/** A formula that was read. */
export interface Formula {
  readonly root: Node;
  /** Fields that it names, each once. */
  readonly fields: readonly FormulaField[];
}

export type ReadFormula =
  | { readonly ok: true; readonly formula: Formula }
  | { readonly ok: false; readonly problem: FormulaProblem };

const LONGEST = 400;
const DEEPEST = 24;
/** Digits after the point that are kept. */
const DIGITS = 12;
const ONE = 10n ** BigInt(DIGITS);

class Stop extends Error {
  constructor(
    readonly reason: string,
    readonly at: number,
  ) {
    super(reason);
  }
}

interface Token {
  readonly text: string;
  readonly at: number;
}

const TOKEN = /\s*(?:(\d{1,12}(?:\.\d{1,12})?%?|[A-Za-z_]\w*|<=|>=|[-+*/(),<>=])|(\S))/gy;

function tokensOf(text: string): Token[] {
  const tokens: Token[] = [];
  TOKEN.lastIndex = 0;
  for (let match = TOKEN.exec(text); match?.[0]; match = TOKEN.exec(text)) {
    const [whole, token, strange] = match;
    const at = match.index + whole.length - (token ?? strange ?? '').length;
    if (strange) throw new Stop(`“${strange}” means nothing here.`, at);
    if (token) tokens.push({ text: token, at });
  }
  return tokens;
}

class Reader {
  private at = 0;
  private depth = 0;
  readonly fields = new Set<FormulaField>();

  constructor(
    private readonly tokens: readonly Token[],
    private readonly end: number,
  ) {}

  whole(): Node {
    const { node, kind } = this.sum();
    const next = this.tokens[this.at];
    if (next) throw new Stop(`The formula ends here, but “${next.text}” follows.`, next.at);
    if (kind === 'number') throw new Stop('It gives a number and no amount of money.', 0);
    return node;
  }

  private peek(): string | undefined {
    return this.tokens[this.at]?.text;
  }

  private place(): number {
    return this.tokens[this.at]?.at ?? this.end;
  }

  private expect(text: string): void {
    if (this.peek() !== text)
      throw new Stop(
        this.peek() ? `“${text}” is expected in place of “${this.peek()}”.` : `“${text}” is missing.`,
        this.place(),
      );
    this.at++;
  }

  private sum(): { node: Node; kind: Kind } {
    if (++this.depth > DEEPEST) throw new Stop(`It is nested more than ${DEEPEST} deep.`, this.place());
    let { node, kind } = this.product();
    for (let op = this.peek(); op === '+' || op === '-'; op = this.peek()) {
      const at = this.place();
      this.at++;
      const right = this.product();
      kind = joined(kind, right.kind, at, op === '+' ? 'added to' : 'taken from');
      node = { is: 'sum', op, at, left: node, right: right.node };
    }
    this.depth--;
    return { node, kind };
  }

  private product(): { node: Node; kind: Kind } {
    let { node, kind } = this.factor();
    for (let op = this.peek(); op === '*' || op === '/'; op = this.peek()) {
      const at = this.place();
      this.at++;
      const right = this.factor();
      kind = op === '*' ? times(kind, right.kind, at) : over(kind, right.kind, at);
      node = { is: 'sum', op, at, left: node, right: right.node };
    }
    return { node, kind };
  }

  private factor(): { node: Node; kind: Kind } {
    const token = this.tokens[this.at];
    if (!token) throw new Stop('A value is missing at the end.', this.end);
    this.at++;
    const { text, at } = token;
    if (text === '-') {
      if (++this.depth > DEEPEST) throw new Stop(`It is nested more than ${DEEPEST} deep.`, at);
      const { node, kind } = this.factor();
      this.depth--;
      const zero: Node = { is: 'value', value: 0n };
      return { node: { is: 'sum', op: '-', at, left: zero, right: node }, kind };
    }
    if (text === '(') {
      const inner = this.sum();
      this.expect(')');
      return inner;
    }
    if (/^\d/.test(text)) return numberOf(text);
    if (!/^[A-Za-z_]/.test(text)) throw new Stop(`A value is expected in place of “${text}”.`, at);
    const name = text.toLowerCase();
    if (this.peek() === '(') return this.call(name, at);
    if (!Object.hasOwn(FORMULA_FIELDS, name))
      throw new Stop(`There is no field “${text}”. There are ${Object.keys(FORMULA_FIELDS).join(', ')}.`, at);
    const field = name as FormulaField;
    this.fields.add(field);
    return { node: { is: 'field', field }, kind: FORMULA_FIELDS[field].is };
  }

  private call(name: string, at: number): { node: Node; kind: Kind } {
    if (!Object.hasOwn(FUNCTIONS, name))
      throw new Stop(`There is no function “${name}”. There are ${Object.keys(FUNCTIONS).join(', ')}.`, at);
    this.expect('(');
    const own = name as FunctionName;
    const of: Node[] = [];
    let kind: Kind = 'either';
    const [least, most] = FUNCTIONS[own];
    do {
      if (of.length) this.expect(',');
      const before = this.place();
      if (own === 'if' && of.length === 0) of.push(this.comparison());
      else {
        const value = this.sum();
        kind = joined(kind, value.kind, before, 'compared with');
        of.push(value.node);
      }
    } while (this.peek() === ',');
    this.expect(')');
    if (of.length < least || of.length > most)
      throw new Stop(
        `“${name}” takes ${least === most ? least : `${least} to ${most}`} values, not ${of.length}.`,
        at,
      );
    return { node: { is: 'call', name: own, at, of }, kind };
  }

  private comparison(): Node {
    const left = this.sum();
    const op = this.peek();
    const at = this.place();
    if (op !== '<' && op !== '<=' && op !== '>' && op !== '>=' && op !== '=')
      throw new Stop('“if” begins with a comparison, such as cost < 20.', at);
    this.at++;
    const right = this.sum();
    joined(left.kind, right.kind, at, 'compared with');
    return { is: 'less', op, left: left.node, right: right.node };
  }
}

function numberOf(text: string): { node: Node; kind: Kind } {
  const percent = text.endsWith('%');
  const [whole = '', part = ''] = text.replace('%', '').split('.');
  const value = BigInt(whole + part.padEnd(DIGITS, '0'));
  return {
    node: { is: 'value', value: percent ? value / 100n : value },
    kind: percent ? 'number' : 'either',
  };
}

function joined(a: Kind, b: Kind, at: number, how: string): Kind {
  if (a === b || b === 'either') return a;
  if (a === 'either') return b;
  throw new Stop(`A number cannot be ${how} an amount of money: multiply it by an amount first.`, at);
}

function times(a: Kind, b: Kind, at: number): Kind {
  if (a === 'amount' && b === 'amount') throw new Stop('An amount times an amount is no amount.', at);
  if (a === 'amount' || b === 'amount') return 'amount';
  return a === 'number' && b === 'number' ? 'number' : 'either';
}

function over(a: Kind, b: Kind, at: number): Kind {
  if (b === 'amount' && a === 'amount') return 'number';
  if (b === 'amount') throw new Stop('A number cannot be divided by an amount of money.', at);
  return a;
}

const read = new Map<string, ReadFormula>();
/** Size of the cache of parsed formulas. */
const MOST_KEPT = 200;

/** Reads a text as a formula. What was read once is known. */
export function parseFormula(text: string): ReadFormula {
  const known = read.get(text);
  if (known) return known;
  if (read.size >= MOST_KEPT) read.clear();
  const made = readFormula(text);
  read.set(text, made);
  return made;
}

function readFormula(text: string): ReadFormula {
  try {
    if (text.length > LONGEST) throw new Stop(`It has more than ${LONGEST} characters.`, LONGEST);
    if (!text.trim()) throw new Stop('Write a formula, such as max(cost * 1.45 + 2.2, market - 0.05).', 0);
    const reader = new Reader(tokensOf(text), text.length);
    const root = reader.whole();
    return { ok: true, formula: { root, fields: [...reader.fields] } };
  } catch (error) {
    if (error instanceof Stop) return { ok: false, problem: { reason: error.reason, at: error.at } };
    throw error;
  }
}

/** Values of the fields: amounts in minor units, weight in grams, stock in units; null where one is not known. */
export type FormulaValues = Readonly<Record<FormulaField, number | null>>;

export type FormulaAnswer =
  | { readonly ok: true; readonly minor: number }
  | { readonly ok: false; readonly reason: string };

/**
 * The amount that a formula gives, in minor units, halves rounded up. `min`, `max` and `first` pass over what is not known;
 * anything else that needs it is not known either.
 * @param digits of the currency after the point
 */
export function evaluate({ root }: Formula, values: FormulaValues, digits: number): FormulaAnswer {
  const minorUnit = 10n ** BigInt(DIGITS - digits);
  const missing: FormulaField[] = [];
  const fieldAt = (field: FormulaField): bigint | null => {
    const value = values[field];
    if (value === null) {
      missing.push(field);
      return null;
    }
    if (field === 'weight') return BigInt(value) * 10n ** BigInt(DIGITS - 3);
    return BigInt(value) * (field === 'stock' ? ONE : minorUnit);
  };
  const walk = (node: Node): bigint | null => {
    switch (node.is) {
      case 'value':
        return node.value;
      case 'field':
        return fieldAt(node.field);
      case 'less':
        throw new Error('A comparison stands in “if” alone.');
      case 'sum': {
        const [left, right] = [walk(node.left), walk(node.right)];
        return left === null || right === null ? null : calculated(node.op, left, right, node.at);
      }
      case 'call':
        return called(node, walk);
    }
  };
  try {
    const value = walk(root);
    if (value === null) {
      const names = [...new Set(missing)].map((field) => FORMULA_FIELDS[field].means);
      return { ok: false, reason: `It needs what is not known: ${names.join(', ')}.` };
    }
    const minor = roundedDown(value * 2n + minorUnit, minorUnit * 2n);
    if (minor <= 0n) return { ok: false, reason: 'The formula gives no amount above nothing.' };
    if (minor > 1_000_000_000n) return { ok: false, reason: 'The formula gives more than any price can be.' };
    return { ok: true, minor: Number(minor) };
  } catch (error) {
    if (error instanceof Stop) return { ok: false, reason: error.reason };
    throw error;
  }
}

/** Quotient towards minus infinity; BigInt's own goes towards nothing. */
function roundedDown(n: bigint, d: bigint): bigint {
  const q = n / d;
  return n % d !== 0n && n < 0n !== d < 0n ? q - 1n : q;
}

/** n / d to the nearest, halves up. */
const nearest = (n: bigint, d: bigint): bigint =>
  d < 0n ? nearest(-n, -d) : roundedDown(2n * n + d, 2n * d);

/** Values beyond this are no prices: a tower of products stops here. */
const LARGEST = ONE * 10n ** 15n;

function calculated(op: '+' | '-' | '*' | '/', left: bigint, right: bigint, at: number): bigint {
  if (op === '+') return left + right;
  if (op === '-') return left - right;
  if (op === '/' && right === 0n) throw new Stop(`It divides by nothing, at ${at + 1}.`, at);
  const value = op === '*' ? nearest(left * right, ONE) : nearest(left * ONE, right);
  if (value > LARGEST || value < -LARGEST) throw new Stop(`It gives a number too large, at ${at + 1}.`, at);
  return value;
}

function called(node: Node & { is: 'call' }, walk: (node: Node) => bigint | null): bigint | null {
  const { name, of } = node;
  if (name === 'if') {
    const [test, then, other] = of as [Node & { is: 'less' }, Node, Node];
    const [left, right] = [walk(test.left), walk(test.right)];
    if (left === null || right === null) return null;
    return walk(holds(test.op, left, right) ? then : other);
  }
  if (name === 'round') {
    const [value, step] = [walk(of[0]!), walk(of[1]!)];
    if (value === null || step === null) return null;
    if (step <= 0n) throw new Stop(`It rounds to nothing, at ${node.at + 1}.`, node.at);
    return nearest(value, step) * step;
  }
  let found: bigint | null = null;
  for (const one of of) {
    const value = walk(one);
    if (value === null) continue;
    if (name === 'first') return value;
    if (found === null || (name === 'min' ? value < found : value > found)) found = value;
  }
  return found;
}

function holds(op: Comparison, a: bigint, b: bigint): boolean {
  switch (op) {
    case '<':
      return a < b;
    case '<=':
      return a <= b;
    case '>':
      return a > b;
    case '>=':
      return a >= b;
    case '=':
      return a === b;
  }
}

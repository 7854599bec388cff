/**
 * What rows hold and JSON does not, as `{ "$": kind, "v": … }`: typed arrays as numbers or base64, files as their number in
 * the dump, numbers that are none as text. An object with a field `$` of its own is told as its fields.
 */
interface Tagged {
  readonly $: string;
  readonly v: unknown;
  readonly type?: string;
}

const NUMBERS = {
  int8: Int8Array,
  int16: Int16Array,
  int32: Int32Array,
  uint16: Uint16Array,
  uint32: Uint32Array,
  float32: Float32Array,
  float64: Float64Array,
} as const;

type Numbers = InstanceType<(typeof NUMBERS)[keyof typeof NUMBERS]>;

/** A typed array's kind. By its name: one that storage copied can be of another realm. */
const kindOf = (v: ArrayBufferView): string =>
  Object.prototype.toString.call(v).slice('[object '.length, -'Array]'.length).toLowerCase();

const isFile = (v: object): v is Blob =>
  Object.prototype.toString.call(v) === '[object Blob]' || v instanceof Blob;

/** Bytes turned to text at once: `String.fromCharCode` takes that many arguments. */
const STRETCH = 0x8000;

export function toBase64(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += STRETCH)
    text += String.fromCharCode(...bytes.subarray(i, i + STRETCH));
  return btoa(text);
}

/** @throws where it is no base64 */
export function fromBase64(base64: string): Uint8Array<ArrayBuffer> {
  const text = atob(base64);
  const bytes = new Uint8Array(text.length);
  for (let i = 0; i < text.length; i++) bytes[i] = text.charCodeAt(i);
  return bytes;
}

/** JSON has neither NaN nor what is endless. */
const numberOf = (n: number): number | string => (Number.isFinite(n) ? n : String(n));

/**
 * A value as JSON can hold it; the same one where it is so already.
 * @param fileNumber gives a file its number
 * @throws where it is of a kind that dumps do not know
 */
export function toPlain(v: unknown, fileNumber: (file: Blob) => number): unknown {
  if (typeof v === 'number') return Number.isFinite(v) ? v : ({ $: 'number', v: String(v) } satisfies Tagged);
  if (typeof v !== 'object' || v === null) return v;
  if (Array.isArray(v)) {
    let changed: unknown[] | null = null;
    for (let i = 0; i < v.length; i++) {
      const one = toPlain(v[i], fileNumber);
      if (one !== v[i]) changed ??= v.slice();
      if (changed) changed[i] = one;
    }
    return changed ?? v;
  }
  if (ArrayBuffer.isView(v)) {
    const kind = kindOf(v);
    if (kind === 'uint8') return { $: kind, v: toBase64(v as Uint8Array) } satisfies Tagged;
    if (!(kind in NUMBERS)) throw new Error(`Dumps do not know how to write ${kind} arrays.`);
    return { $: kind, v: Array.from(v as Numbers, numberOf) } satisfies Tagged;
  }
  if (isFile(v)) return { $: 'file', v: fileNumber(v), type: v.type } satisfies Tagged;
  if (Object.prototype.toString.call(v) !== '[object Object]')
    throw new Error(`Dumps do not know how to write ${Object.prototype.toString.call(v)}.`);
  let changed: Record<string, unknown> | null = null;
  for (const [name, field] of Object.entries(v)) {
    const one = toPlain(field, fileNumber);
    if (one === field) continue;
    changed ??= { ...v };
    changed[name] = one;
  }
  const plain = changed ?? v;
  return '$' in plain ? ({ $: 'fields', v: Object.entries(plain) } satisfies Tagged) : plain;
}

/**
 * A value as it was before {@link toPlain}.
 * @param file gives the file of a number
 * @throws where it is of no kind that dumps know
 */
export function fromPlain(v: unknown, file: (number: number, type: string) => unknown): unknown {
  if (typeof v !== 'object' || v === null) return v;
  if (Array.isArray(v)) {
    for (let i = 0; i < v.length; i++) if (typeof v[i] === 'object') v[i] = fromPlain(v[i], file);
    return v;
  }
  const fields = v as Record<string, unknown>;
  if ('$' in fields) return untagged(fields as unknown as Tagged, file);
  for (const name of Object.keys(fields))
    if (typeof fields[name] === 'object') fields[name] = fromPlain(fields[name], file);
  return fields;
}

function untagged(tagged: Tagged, file: (number: number, type: string) => unknown): unknown {
  const { $: kind, v, type = '' } = tagged;
  if (kind === 'uint8' && typeof v === 'string') return fromBase64(v);
  if (kind === 'number') return Number(v);
  if (kind === 'file' && typeof v === 'number') return file(v, String(type));
  if (kind === 'fields' && Array.isArray(v))
    return Object.fromEntries(v.map(([name, field]) => [name, fromPlain(field, file)]));
  if (kind in NUMBERS && Array.isArray(v)) return NUMBERS[kind as keyof typeof NUMBERS].from(v.map(Number));
  throw new Error(`Dumps know nothing of the kind “${String(kind).slice(0, 40)}”.`);
}

/** Bytes of a number, a date or a boolean with its tag, and of the name of a field beside its letters. */
const NUMBER = 9;
const TAG = 2;

/**
 * About how many bytes a stored value takes: letters, numbers, binary parts and names of fields, as a structured clone
 * writes them. What the browser adds for indexes and its log is not in it.
 */
export function sizeOf(value: unknown): number {
  if (typeof value === 'string') return value.length + TAG;
  if (typeof value === 'number') return NUMBER;
  if (value === null || typeof value !== 'object') return 1;
  if (value instanceof Blob) return value.size;
  if (value instanceof ArrayBuffer || ArrayBuffer.isView(value)) return value.byteLength;
  if (Array.isArray(value)) return value.reduce<number>((sum, one) => sum + sizeOf(one), TAG);
  if (value instanceof Map) return sizeOf([...value]);
  if (value instanceof Set) return sizeOf([...value]);
  return Object.entries(value).reduce((sum, [name, one]) => sum + name.length + TAG + sizeOf(one), TAG);
}

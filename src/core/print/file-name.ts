/** The usual name of a print file. */
export const STARTING_FILE_NAME = '{design} {blank} {area} {size}';

/** Characters that some file system does not take in a name. */
const FORBIDDEN = /[\\/:*?"<>|\p{Cc}]+/gu;

/**
 * A file's name by a pattern of fields in braces, without what no file system takes, and never twice.
 * @param used names that are taken already; the new one is added
 */
export function fileNameBy(
  pattern: string,
  fields: Readonly<Record<string, string>>,
  ending: string,
  used: Set<string>,
): string {
  const named = pattern
    .replace(/\{(\w+)\}/g, (whole, name: string) => fields[name] ?? whole)
    .replace(FORBIDDEN, '-')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 120);
  const stem = named || 'print';
  let name = `${stem}.${ending}`;
  for (let n = 2; used.has(name.toLowerCase()); n++) name = `${stem}-${n}.${ending}`;
  used.add(name.toLowerCase());
  return name;
}

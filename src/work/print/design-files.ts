import { openArchive } from '../../connect/lists';

/** A file that may be a design, by its name. */
export interface NamedFile {
  readonly name: string;
  readonly file: Blob;
}

const LIMITS = { packed: 500_000_000, unpacked: 2_000_000_000, what: 'set of designs' };

/** Files that an operating system puts beside others. */
const ORNAMENTS = /(^|\/)(__MACOSX\/|\.|thumbs\.db$|desktop\.ini$)/i;

const isArchive = ({ name, file }: NamedFile): boolean =>
  file.type === 'application/zip' || file.type === 'application/x-zip-compressed' || /\.zip$/i.test(name);

/**
 * Files one by one, archives unpacked, each when its turn comes.
 * @param refuse hears why a file, or a whole archive, cannot be opened
 */
export async function* designFiles(
  files: readonly NamedFile[],
  refuse: (reason: string) => void,
): AsyncGenerator<NamedFile> {
  for (const one of files) {
    if (!isArchive(one)) {
      yield one;
      continue;
    }
    const archive = await openArchive(one.file, LIMITS);
    if (!archive.ok) {
      refuse(`${one.name.slice(0, 80)}: ${archive.reason}`);
      continue;
    }
    for (const packed of archive.value) {
      if (ORNAMENTS.test(packed.name)) continue;
      const bytes = await packed.bytes();
      if (bytes.ok) yield { name: packed.name, file: new Blob([bytes.value]) };
      else refuse(bytes.reason);
    }
  }
}

/** Words of a file's name that say nothing of what a design shows. */
const EMPTY_WORDS = new Set([
  'final',
  'copy',
  'print',
  'design',
  'export',
  'artwork',
  'dpi',
  'px',
  'the',
  'and',
  'with',
]);
const MOST_KEYWORDS = 20;

/** A design's name and keywords, by the name of its file. */
export function namedBy(fileName: string): { readonly name: string; readonly keywords: readonly string[] } {
  const stem = fileName
    .split(/[\\/]/)
    .at(-1)!
    .replace(/\.[a-z0-9]{1,5}$/i, '');
  const words = stem
    .normalize('NFC')
    .replace(/\p{Cc}/gu, '')
    .split(/[\s_\-–.,;()[\]]+/)
    .filter(Boolean);
  const name = words.join(' ').slice(0, 120) || 'Design';
  const keywords = [
    ...new Set(
      words.map((w) => w.toLowerCase()).filter((w) => w.length > 2 && !/^\d/.test(w) && !EMPTY_WORDS.has(w)),
    ),
  ].slice(0, MOST_KEYWORDS);
  return { name: name[0]!.toUpperCase() + name.slice(1), keywords };
}

import { ENCODINGS, type Encoding } from '../../core/lists';
import { encodingOf } from '../lists/encoding';
import { type Opened, refuse } from '../lists/source';

/** Text of a file, and how it was read. */
export interface FileText {
  readonly text: string;
  readonly encoding: Encoding;
  /** Whether the encoding is no guess: UTF-8 that fits throughout, or a mark at the begin. */
  readonly sure: boolean;
}

const LARGEST = 60_000_000;

/**
 * The one reader of text of files that come in. Its encoding is guessed as that of price lists is, unless it is named.
 * @param name of the file, for what is said
 */
export async function readText(file: Blob, name: string, encoding?: Encoding): Promise<Opened<FileText>> {
  if (file.size > LARGEST) return refuse(`“${name}” is larger than 60 MB. Split it.`);
  const bytes = new Uint8Array(await file.arrayBuffer());
  const guessed = encodingOf(bytes, true);
  if (guessed === null)
    return refuse(`“${name}” is not text: it holds bytes that no list has. CSV in UTF-8 is read best.`);
  const chosen = encoding && ENCODINGS.includes(encoding) ? encoding : guessed;
  const text = new TextDecoder(chosen).decode(bytes).replace(/^\uFEFF/, '');
  return {
    ok: true,
    value: { text, encoding: chosen, sure: encoding !== undefined || guessed !== 'windows-1252' },
  };
}

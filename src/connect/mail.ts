import PostalMime from 'postal-mime';
import { plainText } from '../core/copy';

/** A mail as it is read: its texts, whatever stood in it. */
export interface Mail {
  /** The sender's address in small letters; '' where it names none. */
  readonly from: string;
  /** Replies go to another domain than it comes from: it may not be from whom it says. */
  readonly odd: boolean;
  readonly subject: string;
  /** RFC 3339; '' where it says none. */
  readonly date: string;
  /** Subject and words, markup taken away. */
  readonly text: string;
}

/** Bytes of a mail that are read, attachments with them. */
const MOST_BYTES = 60 * 1024 * 1024;
/** Characters of a mail that are looked through. */
const MOST_TEXT = 200_000;

const domainOf = (address: string): string => address.split('@').at(-1) ?? '';

/** Words without characters that steer how a text is shown. */
const calmed = (text: string): string =>
  text
    .replace(/\r\n?/g, '\n')
    .replace(/[\p{Cc}\p{Cf}]/gu, (c) => (c === '\n' || c === '\t' ? c : ''))
    .replace(/[ \t\u00a0]+/g, ' ');

/**
 * Reads a mail file (RFC 5322 with MIME), in any charset, HTML or plain; mails within it are read with it. Nothing of it
 * is shown as markup, run or fetched.
 * @throws RangeError where it is none, in words
 */
export async function readMailFile(file: Blob): Promise<Mail> {
  if (file.size > MOST_BYTES) throw new RangeError('It is larger than 60 MB.');
  const mail = await PostalMime.parse(await file.arrayBuffer(), {
    maxNestingDepth: 20,
    maxHeadersSize: 1024 * 1024,
  });
  const from = (mail.from?.address ?? '').trim().toLowerCase();
  const words = mail.text?.trim() || plainText(mail.html ?? '');
  if (!from && !mail.subject && !mail.date)
    throw new RangeError('It has no sender, subject or date: it is no mail.');
  const reply = mail.replyTo?.[0]?.address?.trim().toLowerCase() ?? '';
  const subject = calmed(mail.subject ?? '').slice(0, 500);
  return {
    from: from.slice(0, 200),
    odd: reply !== '' && from !== '' && domainOf(reply) !== domainOf(from),
    subject,
    date: mail.date ?? '',
    text: `${subject}\n\n${calmed(words)}`.slice(0, MOST_TEXT),
  };
}

/** Pasted words as a mail of nobody's. */
export const pastedMail = (text: string): Mail => ({
  from: '',
  odd: false,
  subject: '',
  date: '',
  text: calmed(text).slice(0, MOST_TEXT),
});

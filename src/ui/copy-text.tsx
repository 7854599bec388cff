'use client';
import { Check, Copy } from 'lucide-react';
import { useState } from 'react';
import { say } from './said';

/** Milliseconds for which a copied text is marked as such. */
const MARKED = 1_500;

/** A text with a button that copies it. @param name what it is, for those who cannot see where the button stands */
export function CopyText({ name, text }: { name: string; text: string }) {
  const [copied, setCopied] = useState(false);
  const copy = async () => {
    try {
      await navigator.clipboard.writeText(text);
    } catch {
      return say('The browser does not let Sampan copy. Mark the text and copy it yourself.', {
        wrong: true,
      });
    }
    setCopied(true);
    setTimeout(() => setCopied(false), MARKED);
  };
  const Icon = copied ? Check : Copy;
  return (
    <button
      type="button"
      aria-label={`Copy ${name}`}
      title={`Copy ${name}`}
      onClick={copy}
      className="inline-flex items-center gap-1 rounded-sm px-1 text-left hover:bg-river-soft"
    >
      <span>{text}</span>
      <Icon aria-hidden size={12} className="shrink-0 text-river" />
    </button>
  );
}

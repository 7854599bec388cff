'use client';
import DOMPurify from 'dompurify';
import { useEffect, useState } from 'react';

/** A description shown as formatted text: cleaned when it came in, and once more before it is shown. */
export function CleanedHtml({ html }: { html: string }) {
  const [safe, setSafe] = useState('');
  useEffect(() => {
    setSafe(
      DOMPurify.sanitize(html, {
        ALLOWED_TAGS: [
          'p',
          'br',
          'ul',
          'ol',
          'li',
          'b',
          'strong',
          'i',
          'em',
          'h3',
          'h4',
          'table',
          'tbody',
          'tr',
          'td',
          'th',
        ],
        ALLOWED_ATTR: [],
      }),
    );
  }, [html]);
  return (
    <div
      className="space-y-1.5 text-[13.5px] [&_li]:ml-4 [&_li]:list-disc"
      // biome-ignore lint/security/noDangerouslySetInnerHtml: sanitized above
      dangerouslySetInnerHTML={{ __html: safe }}
    />
  );
}

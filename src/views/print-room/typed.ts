'use client';
import { type ChangeEvent, type KeyboardEvent, useState } from 'react';

/**
 * What is typed into a field that is kept when it is left or Enter is pressed; Escape goes back to what was there.
 * @param shown what stands in it while nothing is typed
 * @param isWrong whether a text is not taken; then it stays, and is marked
 */
export function useTyped(
  shown: string,
  isWrong: (text: string) => boolean,
  onCommit: (text: string) => void,
) {
  const [text, setText] = useState<string | null>(null);
  const wrong = text !== null && isWrong(text);
  const commit = () => {
    if (text === null || wrong) return;
    if (text !== shown) onCommit(text);
    setText(null);
  };
  return {
    /** Null while nothing is typed. */
    text,
    wrong,
    field: {
      value: text ?? shown,
      'aria-invalid': wrong || undefined,
      onChange: (e: ChangeEvent<HTMLInputElement>) => setText(e.target.value),
      onBlur: commit,
      onKeyDown: (e: KeyboardEvent) => {
        if (e.key === 'Enter') commit();
        else if (e.key === 'Escape' && text !== null) {
          e.stopPropagation();
          setText(null);
        }
      },
    },
  };
}

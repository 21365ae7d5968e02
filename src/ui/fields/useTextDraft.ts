import { useRef, useState } from 'react';
import { cutText } from '@/core/text';
import { useAtEnd } from './useAtEnd';

interface TextDraftSetup {
  readonly value: string;
  /** UTF-16 units; what is longer is cut. */
  readonly longest: number;
  /** Called with what was written, without blanks at its ends, when it differs. */
  readonly onCommit: (value: string) => void;
  /** Whether nothing at all is an answer; otherwise an emptied field goes back to what it was. */
  readonly mayBeEmpty?: boolean;
  /** Whether Enter is a line of its own; then only leaving the field takes the text over. */
  readonly hasLines?: boolean;
}

/** A key in a text field, which goes no farther unless it is told to. */
interface DraftKey {
  readonly key: string;
  continuePropagation(): void;
}

/**
 * What is being typed into a field for text: Enter or leaving the field, its view or the page takes
 * it over, Escape restores a short text.
 */
export function useTextDraft({
  value,
  longest,
  onCommit,
  mayBeEmpty = false,
  hasLines = false,
}: TextDraftSetup) {
  const [draft, setDraft] = useState<string | null>(null);
  /** The same at once: a field may go away before it is drawn again. */
  const typed = useRef<string | null>(null);
  const type = (text: string | null) => {
    typed.current = text;
    setDraft(text);
  };
  const take = () => {
    const text = cutText(typed.current ?? '', longest).trim();
    const isNew = typed.current !== null && text !== value && (mayBeEmpty || text !== '');
    type(null);
    if (isNew) onCommit(text);
  };
  useAtEnd(take);
  return {
    value: draft ?? value,
    onChange: type,
    onBlur: take,
    onKeyDown: (event: DraftKey) => {
      if (event.key === 'Escape' && draft !== null && !hasLines) {
        type(null);
        return;
      }
      // A text of some lines is too much to be thrown away by the key that closes what it is in.
      if (event.key === (hasLines ? 'Escape' : 'Enter')) take();
      event.continuePropagation();
    },
  };
}

import { type ReactNode, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { createPortal } from 'react-dom';
import { EmojiPicker } from './EmojiPicker';
import { MarkedField, placeOf } from './MarkedField';
import { type Mark, movedMarks } from './marks';
import { type Trigger, triggerAt } from './trigger';
import { useSuggestions } from './useSuggestions';

/** Where a text's marks lie: in the text that they were found in, which may be a few keys old. */
export interface MarkedText {
  text: string;
  marks: readonly Mark[];
}

interface Props {
  id: string;
  label: string;
  describedBy?: string | undefined;
  value: string;
  onChange: (value: string) => void;
  rows?: number;
  marked?: MarkedText | undefined;
  /** Takes a link that is pasted by itself; false: it goes into the text. */
  onLink?: ((link: string) => boolean) | undefined;
  /** Stands below, beside the emoji. */
  foot?: ReactNode;
  onCaret?: ((at: number) => void) | undefined;
  /** Ready for typing as soon as it is there. */
  isFirst?: boolean;
}

/** Plain text, with what networks see in it marked while it is typed; people, hashtags and emoji are found by their first letters. */
export function RichText({
  id,
  label,
  describedBy,
  value,
  onChange,
  rows = 4,
  marked,
  onLink,
  foot,
  onCaret,
  isFirst = false,
}: Props) {
  const field = useRef<HTMLTextAreaElement>(null);
  const [caret, setCaret] = useState<number | null>(null);
  const [closedAt, setClosedAt] = useState<number | null>(null);
  const [chosen, setChosen] = useState(0);
  const found = useMemo(() => (caret === null ? null : triggerAt(value, caret)), [value, caret]);
  const trigger = found && found.start !== closedAt ? found : null;
  const suggestions = useSuggestions(trigger);
  const isOpen = trigger !== null && suggestions.length > 0;
  const at = Math.min(chosen, suggestions.length - 1);

  useEffect(() => {
    if (isFirst) field.current?.focus();
  }, [isFirst]);

  const insert = useCallback((words: string, start: number, end: number) => {
    const element = field.current;
    if (!element) return;
    element.focus();
    element.setSelectionRange(start, end);
    // As if it were typed: so that the browser's own undo takes it back.
    if (!document.execCommand('insertText', false, words)) element.setRangeText(words, start, end, 'end');
  }, []);

  const take = async (index: number, of: Trigger) => {
    const words = await suggestions[index]?.take();
    setChosen(0);
    if (words) insert(words, of.start, of.start + of.typed.length + 1);
    else field.current?.focus();
  };

  const marks = useMemo(() => (marked ? movedMarks(marked.marks, marked.text, value) : noMarks), [marked, value]);

  return (
    <div className="relative">
      <MarkedField
        ref={field}
        id={id}
        rows={rows}
        value={value}
        marks={marks}
        aria-describedby={describedBy}
        aria-autocomplete="list"
        aria-haspopup="listbox"
        aria-controls={isOpen ? `${id}-list` : undefined}
        aria-activedescendant={isOpen ? `${id}-${at}` : undefined}
        onChange={(event) => onChange(event.target.value)}
        onCaret={(place) => {
          setCaret(place);
          if (place !== null) onCaret?.(place);
        }}
        onPaste={(event) => {
          const text = event.clipboardData.getData('text/plain').trim();
          if (event.clipboardData.files.length === 0 && onLink && /^https?:\/\/\S+\.\S+$/.test(text) && onLink(text))
            event.preventDefault();
        }}
        onKeyDown={(event) => {
          if (!isOpen || !trigger || event.nativeEvent.isComposing) return;
          const moved = { ArrowDown: 1, ArrowUp: -1 }[event.key];
          if (moved) setChosen((at + moved + suggestions.length) % suggestions.length);
          else if (event.key === 'Escape') setClosedAt(trigger.start);
          else if ((event.key === 'Enter' && !event.metaKey && !event.ctrlKey) || event.key === 'Tab')
            void take(at, trigger);
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
      />
      <div className="flex items-center gap-2 text-faded text-sm">
        <EmojiPicker
          label={`Emoji for ${label}`}
          onChosen={(emoji) => {
            const place = field.current?.selectionStart ?? value.length;
            insert(emoji, place, field.current?.selectionEnd ?? place);
          }}
        />
        {foot}
      </div>
      {isOpen && trigger && (
        <List
          id={id}
          suggestions={suggestions}
          at={at}
          place={placeOf(field.current, trigger.start)}
          onTake={(index) => void take(index, trigger)}
        />
      )}
    </div>
  );
}

const noMarks: readonly Mark[] = [];

interface ListProps {
  id: string;
  suggestions: readonly { key: string; words: string; more: string }[];
  at: number;
  place: { top: number; left: number };
  onTake: (index: number) => void;
}

function List({ id, suggestions, at, place, onTake }: ListProps) {
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    // What it returns is no clean-up: newer browsers give a promise.
    void list.current?.children[at]?.scrollIntoView({ block: 'nearest' });
  }, [at]);
  return createPortal(
    <div
      ref={list}
      id={`${id}-list`}
      role="listbox"
      aria-label="Suggestions"
      className="fixed z-40 max-h-72 w-80 overflow-y-auto rounded-md border border-rule-strong bg-leaf p-1 shadow-lg"
      style={{ top: place.top + 4, left: Math.min(place.left, innerWidth - 340) }}
    >
      {suggestions.map((s, i) => (
        <div
          key={s.key}
          id={`${id}-${i}`}
          role="option"
          tabIndex={-1}
          aria-selected={i === at}
          className="cursor-pointer rounded-sm px-2.5 py-1 aria-selected:bg-wash"
          // Before the field loses the focus.
          onPointerDown={(event) => {
            event.preventDefault();
            onTake(i);
          }}
        >
          <span className="font-medium">{s.words}</span>
          {s.more && <span className="block text-faded text-sm leading-tight">{s.more}</span>}
        </div>
      ))}
    </div>,
    document.body,
  );
}

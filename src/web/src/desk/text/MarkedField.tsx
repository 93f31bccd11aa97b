import { type ComponentProps, memo, useEffect } from 'react';
import { type Mark, type MarkKind, segmentsOf } from './marks';

interface Props extends Omit<ComponentProps<'textarea'>, 'value'> {
  ref: React.RefObject<HTMLTextAreaElement | null>;
  value: string;
  rows: number;
  marks: readonly Mark[];
  /** Where the caret is; null: nowhere, or something is selected. */
  onCaret: (at: number | null) => void;
}

const drawn: Record<MarkKind, string> = {
  part: 'text-dawn',
  over: 'bg-bad-wash text-bad line-through',
  block: 'underline decoration-wavy decoration-bad decoration-2 underline-offset-2',
  advice: 'underline decoration-dotted decoration-rule-strong decoration-2 underline-offset-2',
};

const lineHeight = 1.45;

/**
 * A text field with stretches drawn in other ways. It is a `textarea` above a copy of its text: one is written in, the other is seen. Both lie in one
 * cell, so that the copy gives the field its height, and they scroll as one.
 */
export function MarkedField({ ref, value, rows, marks, onCaret, className = '', ...rest }: Props) {
  useEffect(() => {
    const look = () => {
      const field = ref.current;
      if (field === null || document.activeElement !== field) return onCaret(null);
      onCaret(field.selectionStart === field.selectionEnd ? field.selectionStart : null);
    };
    document.addEventListener('selectionchange', look);
    return () => document.removeEventListener('selectionchange', look);
  });
  return (
    <div
      className={`field grid max-h-96 overflow-y-auto !p-0 has-focus-visible:outline-2 has-focus-visible:outline-dawn has-focus-visible:outline-offset-2 ${className}`}
      style={{ minHeight: `calc(${rows * lineHeight}em + 0.9rem)` }}
    >
      <Copy value={value} marks={marks} />
      <textarea
        {...rest}
        ref={ref}
        value={value}
        dir="auto"
        rows={1}
        spellCheck
        className={`${metrics} resize-none overflow-hidden bg-transparent text-transparent caret-ink !outline-none`}
        onBlur={(event) => {
          onCaret(null);
          rest.onBlur?.(event);
        }}
      />
    </div>
  );
}

/** What makes lines break at the same places. */
const metrics = 'col-start-1 row-start-1 w-full min-w-0 px-[0.55rem] py-[0.4rem] whitespace-pre-wrap break-words';

const Copy = memo(function Copy({ value, marks }: Pick<Props, 'value' | 'marks'>) {
  return (
    <div aria-hidden="true" dir="auto" data-copy className={`${metrics} pointer-events-none select-none`}>
      {marks.length === 0
        ? value
        : segmentsOf(value.length, marks).map((s) =>
            s.kinds.size === 0 ? (
              value.slice(s.start, s.end)
            ) : (
              <span
                key={s.start}
                className={[...s.kinds].map((k) => drawn[k]).join(' ')}
                data-mark={[...s.kinds].join(' ')}
              >
                {value.slice(s.start, s.end)}
              </span>
            ),
          )}
      {/* A last line that is empty has a height too. */}
      {'\u200b'}
    </div>
  );
});

/** Where a place of the text is on the screen: its left edge, and the foot of its line. */
export function placeOf(field: HTMLTextAreaElement | null, at: number): { top: number; left: number } {
  const copy = field?.parentElement?.querySelector('[data-copy]');
  if (!copy) return { top: 0, left: 0 };
  const texts = document.createNodeIterator(copy, NodeFilter.SHOW_TEXT);
  let left = at;
  for (let node = texts.nextNode(); node; node = texts.nextNode()) {
    const length = node.nodeValue?.length ?? 0;
    if (left < length) {
      const range = document.createRange();
      range.setStart(node, left);
      range.setEnd(node, left + 1);
      const { bottom, left: x } = range.getBoundingClientRect();
      return { top: bottom, left: x };
    }
    left -= length;
  }
  const { bottom, left: x } = copy.getBoundingClientRect();
  return { top: bottom, left: x };
}

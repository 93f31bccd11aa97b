// biome-ignore-all lint/a11y/useSemanticElements: a cell of a grid that is drawn a screenful at a time

import { useEffect, useRef, useState } from 'react';
import type { ImportRow } from './imports';

interface Props {
  /** Row and column, as the grid finds it again. */
  place: string;
  target: string;
  row: ImportRow | undefined;
  isCurrent: boolean;
  /** Open, perhaps begun with a key; null: shut. */
  editing: { begun: string | null } | null;
  onFocus: () => void;
  onOpen: () => void;
  /** @param value - Null: it stays as it was. */
  onEnd: (value: string | null, next: 'down' | 'right' | 'stay' | 'leave') => void;
}

/** One cell: its words, marked where something was found; a field while it is open. */
export function GridCell({ place, target, row, isCurrent, editing, onFocus, onOpen, onEnd }: Props) {
  const cells = (row?.cells ?? {}) as Record<string, string>;
  const value = cells[target] ?? '';
  const found = row?.findings.filter((f) => f.field === target) ?? [];
  const isBad = found.some((f) => f.blocks);
  return (
    <span
      role="gridcell"
      data-cell={place}
      data-target={target}
      tabIndex={isCurrent ? 0 : -1}
      aria-invalid={isBad || undefined}
      title={editing ? undefined : value}
      onFocus={(event) => event.target === event.currentTarget && onFocus()}
      onDoubleClick={onOpen}
      className={`relative mr-2 ${editing ? '' : 'truncate'} py-1 outline-offset-[-2px] ${isBad ? 'border-bad border-b-2' : found.length > 0 ? 'border-dawn border-b-2' : ''}`}
    >
      {editing ? (
        <Editor label={`Row ${row?.number}`} value={editing.begun ?? value} before={value} onEnd={onEnd} />
      ) : (
        <>
          {value}
          {row?.edited.includes(target) && (
            <span title="Changed by hand" className="text-dawn">
              {' '}
              ✎
            </span>
          )}
        </>
      )}
    </span>
  );
}

function Editor({
  label,
  value,
  before,
  onEnd,
}: {
  label: string;
  value: string;
  before: string;
  onEnd: Props['onEnd'];
}) {
  const field = useRef<HTMLTextAreaElement>(null);
  const [typed, setTyped] = useState(value);
  const ended = useRef(false);
  useEffect(() => {
    const area = field.current;
    area?.focus();
    area?.setSelectionRange(area.value.length, area.value.length);
  }, []);
  const end = (next: 'down' | 'right' | 'stay' | 'leave', keeps = true) => {
    if (ended.current) return;
    ended.current = true;
    onEnd(keeps && typed !== before ? typed : null, next);
  };
  return (
    <textarea
      ref={field}
      aria-label={label}
      className="field absolute inset-x-0 top-0 z-20 min-w-72 text-sm"
      rows={Math.min(8, Math.max(1, typed.split('\n').length + Math.floor(typed.length / 60)))}
      value={typed}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={() => end('leave')}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Escape') end('stay', false);
        else if (event.key === 'Enter' && !event.shiftKey && !event.altKey) end('down');
        else if (event.key === 'Tab' && !event.shiftKey) end('right');
        else return;
        event.preventDefault();
      }}
    />
  );
}

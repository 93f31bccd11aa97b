// biome-ignore-all lint/a11y/useSemanticElements: a grid of thousands of rows is drawn a screenful at a time, which no table does
// biome-ignore-all lint/a11y/useFocusableInteractive: the cells take the focus, one at a time

import { useVirtualizer } from '@tanstack/react-virtual';
import { type KeyboardEvent, useEffect, useMemo, useRef, useState } from 'react';
import { GridCell } from './GridCell';
import { atOnce, type ImportRow, type ImportView, type RowFilter, useRowPages } from './imports';
import { statusWords } from './words';

interface Props {
  view: ImportView;
  filter: RowFilter;
  chosen: ReadonlySet<number>;
  onChoose: (rows: ReadonlySet<number>) => void;
  onActive: (row: ImportRow | null) => void;
  onCell: (row: number, target: string, value: string) => void;
}

/** Pixels of one row: a line of cells, and a line of what was found. */
const rowHeight = 58;

const widthOf = (target: string) =>
  target.startsWith('text') || target.startsWith('thread')
    ? '20rem'
    : target === 'post.title' || target === 'post.notes'
      ? '12rem'
      : target === 'post.time' || target === 'post.weekday' || target === 'post.gap'
        ? '6rem'
        : '9rem';

const tones = { needsYou: 'text-bad', advice: 'text-dawn', fine: 'text-good', leftOut: 'text-faded' } as const;

/** Thousands of rows, of which a screenful is drawn. Arrows move, Enter or a key opens a cell, Space chooses a row. */
export function RowGrid({ view, filter, chosen, onChoose, onActive, onCell }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState({ row: 0, column: 0 });
  const [editing, setEditing] = useState<{ begun: string | null } | null>(null);
  const [last, setLast] = useState<number | null>(null);
  const columns = view.columns.filter((c) => c.target !== null);
  const isNarrowed = filter.search !== '' || filter.about !== '';
  const known = filter.status ? view.counts[filter.status] : view.counts.rows;
  const [total, setTotal] = useState(known);
  const size = isNarrowed ? total : known;
  const rows = useVirtualizer({
    count: size,
    getScrollElement: () => box.current,
    estimateSize: () => rowHeight,
    overscan: 6,
  });
  const shown = rows.getVirtualItems();
  const from = Math.floor((shown[0]?.index ?? 0) / atOnce);
  const to = Math.floor((shown.at(-1)?.index ?? 0) / atOnce);
  const pages = useMemo(() => Array.from({ length: to - from + 1 }, (_, i) => from + i), [from, to]);
  const stamp = `${view.revision} ${view.progress.checked} ${view.progress.isComplete}`;
  const fetched = useRowPages(view.line.id, filter, pages, stamp);
  const rowAt = (index: number): ImportRow | undefined =>
    fetched[Math.floor(index / atOnce) - from]?.data?.rows[index % atOnce];
  const found = fetched[0]?.data?.total;
  useEffect(() => {
    if (found !== undefined) setTotal(found);
  }, [found]);
  const current = rowAt(at.row) ?? null;
  useEffect(() => onActive(current), [current, onActive]);

  const focusCell = (row: number, column: number) => {
    rows.scrollToIndex(row);
    // The row may only be drawn after the scrolling.
    requestAnimationFrame(() =>
      box.current?.querySelector<HTMLElement>(`[data-cell="${row} ${column}"]`)?.focus({ preventScroll: false }),
    );
  };
  const go = (row: number, column: number) => {
    const next = {
      row: Math.max(0, Math.min(size - 1, row)),
      column: Math.max(0, Math.min(columns.length, column)),
    };
    setEditing(null);
    setAt(next);
    focusCell(next.row, next.column);
  };
  const choose = (index: number, upTo: boolean) => {
    const row = rowAt(index);
    if (!row) return;
    const next = new Set(chosen);
    const begin = upTo && last !== null ? last : index;
    const on = upTo || !next.has(row.number);
    for (let i = Math.min(begin, index); i <= Math.max(begin, index); i++) {
      const number = rowAt(i)?.number;
      if (number !== undefined) on ? next.add(number) : next.delete(number);
    }
    setLast(index);
    onChoose(next);
  };
  const keys = (event: KeyboardEvent) => {
    if (editing) return;
    const { row, column } = at;
    const moves: Record<string, [number, number]> = {
      ArrowDown: [row + 1, column],
      ArrowUp: [row - 1, column],
      ArrowRight: [row, column + 1],
      ArrowLeft: [row, column - 1],
      PageDown: [row + 8, column],
      PageUp: [row - 8, column],
      Home: [event.ctrlKey ? 0 : row, 0],
      End: [event.ctrlKey ? size - 1 : row, columns.length],
    };
    const move = moves[event.key];
    if (move) {
      event.preventDefault();
      go(...move);
    } else if (event.key === ' ') {
      event.preventDefault();
      choose(row, event.shiftKey);
    } else if (view.line.state === 'open' && column > 0 && !event.ctrlKey && !event.metaKey && !event.altKey) {
      const types = event.key.length === 1;
      if (!types && event.key !== 'Enter' && event.key !== 'F2' && event.key !== 'Delete') return;
      event.preventDefault();
      const target = columns[column - 1]?.target;
      if (event.key === 'Delete' && current && target) onCell(current.number, target, '');
      else setEditing({ begun: types ? event.key : null });
    }
  };
  const template = `7.5rem ${columns.map((c) => widthOf(c.target ?? '')).join(' ')}`;

  return (
    <div
      ref={box}
      role="grid"
      aria-label="Rows of the sheet"
      aria-rowcount={size + 1}
      aria-colcount={columns.length + 1}
      className="h-[calc(100vh-25rem)] min-h-88 overflow-auto border-ink border-y-[1.5px]"
      onKeyDown={keys}
      tabIndex={size === 0 ? 0 : -1}
    >
      <div
        role="row"
        aria-rowindex={1}
        className="sticky top-0 z-10 grid w-max min-w-full border-ink border-b-[1.5px] bg-paper text-sm"
        style={{ gridTemplateColumns: template }}
      >
        <span role="columnheader" className="py-1 font-semibold">
          Row
        </span>
        {columns.map((column) => (
          <span
            key={column.place}
            role="columnheader"
            className="truncate py-1 pr-3 font-semibold"
            title={column.header}
          >
            {column.header || column.letters}
          </span>
        ))}
      </div>
      <div role="presentation" className="relative w-max min-w-full" style={{ height: rows.getTotalSize() }}>
        {shown.map(({ index, start }) => {
          const row = rowAt(index);
          return (
            <div
              key={index}
              role="row"
              aria-rowindex={index + 2}
              aria-selected={row ? chosen.has(row.number) : false}
              className={`absolute left-0 grid min-w-full grid-rows-[1.75rem_1.5rem] border-rule border-b text-sm aria-selected:bg-wash ${row?.status === 'leftOut' ? 'text-faded' : ''} ${index === at.row ? 'bg-leaf' : ''}`}
              style={{ gridTemplateColumns: template, height: rowHeight, transform: `translateY(${start}px)` }}
            >
              <span
                role="gridcell"
                data-cell={`${index} 0`}
                tabIndex={at.row === index && at.column === 0 ? 0 : -1}
                className="row-span-2 flex cursor-pointer flex-col pt-1 pl-1 outline-offset-[-2px]"
                onFocus={() => setAt({ row: index, column: 0 })}
                onClick={(event) => {
                  go(index, 0);
                  choose(index, event.shiftKey);
                }}
                onKeyDown={() => {}}
              >
                <b className="font-head">{row?.number ?? '…'}</b>
                {row && (
                  <span className={`whitespace-nowrap text-[0.8rem] ${tones[row.status]}`}>
                    {row.isChecked ? statusWords[row.status] : 'looking …'}
                  </span>
                )}
              </span>
              {columns.map((column, c) => (
                <GridCell
                  key={column.place}
                  place={`${index} ${c + 1}`}
                  target={column.target ?? ''}
                  row={row}
                  isCurrent={at.row === index && at.column === c + 1}
                  editing={at.row === index && at.column === c + 1 ? editing : null}
                  onFocus={() => setAt({ row: index, column: c + 1 })}
                  onOpen={() => {
                    setAt({ row: index, column: c + 1 });
                    if (view.line.state === 'open') setEditing({ begun: null });
                  }}
                  onEnd={(value, next) => {
                    if (row && value !== null) onCell(row.number, column.target ?? '', value);
                    if (next === 'down') go(index + 1, c + 1);
                    else if (next === 'right') go(index, c + 2);
                    else if (next === 'stay') go(index, c + 1);
                    else setEditing(null);
                  }}
                />
              ))}
              <span className="col-start-2 row-start-2 truncate" style={{ gridColumnEnd: -1 }}>
                {row && <Found row={row} />}
              </span>
            </div>
          );
        })}
        {size === 0 && <p className="p-4 text-faded">No row is like that.</p>}
      </div>
    </div>
  );
}

/** The weightiest thing that was found, and how many more there are. */
function Found({ row }: { row: ImportRow }) {
  const own = [...row.findings].sort((a, b) => Number(b.blocks) - Number(a.blocks));
  const networks = row.networks.flatMap((n) => n.findings);
  const first = own[0] ?? networks.find((f) => f.blocks) ?? networks[0];
  if (!first) return null;
  const more = own.length + networks.length - 1;
  return (
    <span className={first.blocks ? 'text-bad' : 'text-faded'}>
      {first.words}
      {more > 0 && ` And ${more} more.`}
    </span>
  );
}

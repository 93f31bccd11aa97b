import type { ReactNode } from 'react';

export interface Column<Row> {
  name: string;
  /** What the column's figures are, on pointing at its head. */
  title?: string;
  /** Figures stand at the right, in the face for figures. */
  figure?: boolean;
  /** The cell that names its row. */
  names?: boolean;
  show: (row: Row) => ReactNode;
}

interface Props<Row> {
  caption: string;
  columns: readonly Column<Row>[];
  rows: readonly Row[];
  keyOf: (row: Row) => string | number;
  /** Marks a row in which something blocks. */
  isBad?: (row: Row) => boolean;
}

/** Fine rules, no boxes. The caption is read out, not shown. */
export function Table<Row>({ caption, columns, rows, keyOf, isBad }: Props<Row>) {
  return (
    <table className="w-full text-left">
      <caption className="sr-only">{caption}</caption>
      <thead className="border-ink border-y-[1.5px] text-sm">
        <tr>
          {columns.map((column) => (
            <th
              key={column.name}
              scope="col"
              title={column.title}
              className={`py-1.5 font-semibold ${column.figure ? 'pl-4 text-right' : 'pr-4'}`}
            >
              {column.name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr
            key={keyOf(row)}
            data-row={keyOf(row)}
            className={`border-rule border-b align-top ${isBad?.(row) ? 'bg-bad-wash' : ''}`}
          >
            {columns.map((column) => {
              const Cell = column.names ? 'th' : 'td';
              return (
                <Cell
                  key={column.name}
                  scope={column.names ? 'row' : undefined}
                  data-column={column.name}
                  className={`py-1.5 font-normal ${column.figure ? 'pl-4 text-right font-head' : 'pr-4'}`}
                >
                  {column.show(row)}
                </Cell>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

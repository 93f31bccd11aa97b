// biome-ignore-all lint/suspicious/noArrayIndexKey: rows and cells of a sheet are told apart by their place
// biome-ignore-all lint/a11y/noNoninteractiveTabindex: what scrolls is reached by keys

import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { useNotices } from '../ui/Notices';
import { Select } from '../ui/Select';
import type { ImportActs, ImportView } from './imports';
import { count, delimiterWords, listed } from './words';

/** How the file was read, and how else it could be. */
export function SourceStep({ view, acts, onNext }: { view: ImportView; acts: ImportActs; onNext: () => void }) {
  const { source } = view;
  const { tell } = useNotices();
  const read = (
    change: Partial<{ encoding: string; delimiter: string; sheet: string; headerRow: number; hidden: boolean }>,
  ) =>
    acts.readAs.mutate(
      {
        encoding: change.encoding ?? source.encoding,
        delimiter: change.delimiter ?? source.delimiter,
        sheet: change.sheet ?? source.sheet,
        hidden: change.hidden ?? (change.sheet ? null : (source.hidden?.takenIn ?? null)),
        headerRow: change.headerRow ?? (change.encoding || change.delimiter || change.sheet ? null : source.headerRow),
      },
      {
        onSuccess: () => tell('The sheet is read in another way; what was changed in its rows is as the file has it.'),
      },
    );
  return (
    <>
      <p className="mb-3">
        {count(source.rows, 'row')}
        {source.encoding && `, written in ${source.encoding}`}
        {source.delimiter &&
          `, cells divided by a ${(delimiterWords[source.delimiter] ?? source.delimiter).toLowerCase()}`}
        {source.sheet && `, from the sheet “${source.sheet}”`}.{' '}
        {source.headerRow > 0 ? `Row ${source.headerRow} names the columns.` : 'No row names the columns.'}
      </p>
      <div className="mb-5 flex max-w-4xl flex-wrap items-end gap-4">
        {source.encodings.length > 0 && (
          <Field label="Written in" className="w-52">
            {(id) => (
              <Select
                id={id}
                value={source.encoding ?? ''}
                options={source.encodings.map((e) => ({ value: e, label: e }))}
                onChange={(encoding) => read({ encoding })}
              />
            )}
          </Field>
        )}
        {source.delimiters.length > 0 && (
          <Field label="Cells divided by" className="w-40">
            {(id) => (
              <Select
                id={id}
                value={source.delimiter ?? ''}
                options={source.delimiters.map((d) => ({ value: d, label: delimiterWords[d] ?? d }))}
                onChange={(delimiter) => read({ delimiter })}
              />
            )}
          </Field>
        )}
        {source.sheets.length > 1 && (
          <Field label="Sheet of the workbook" className="w-56">
            {(id) => (
              <Select
                id={id}
                value={source.sheet ?? ''}
                options={source.sheets.map((s) => ({ value: s, label: s }))}
                onChange={(sheet) => read({ sheet })}
              />
            )}
          </Field>
        )}
        <Field label="Row that names the columns" className="w-52">
          {(id) => (
            <Select
              id={id}
              value={String(source.headerRow)}
              options={[
                { value: '0', label: 'None' },
                ...Array.from({ length: Math.min(20, source.rows) }, (_, i) => ({
                  value: String(i + 1),
                  label: `Row ${i + 1}`,
                })),
              ]}
              onChange={(row) => read({ headerRow: Number(row) })}
            />
          )}
        </Field>
        <Button variant="primary" disabled={acts.readAs.isPending} onClick={onNext}>
          On to its columns
        </Button>
      </div>
      <FormError error={acts.readAs.error} />
      <Unseen source={source} isBusy={acts.readAs.isPending} onSay={(hidden) => read({ hidden })} />
      {source.doubts.length > 0 && (
        <ul className="mb-4 max-w-prose border-dawn border-l-4 bg-dawn-wash px-4 py-2 text-sm" aria-label="Doubts">
          {source.doubts.map((doubt) => (
            <li key={doubt}>{doubt}</li>
          ))}
        </ul>
      )}
      <section
        className="overflow-x-auto border-rule border-t"
        aria-label="The first rows as they were read"
        tabIndex={0}
      >
        <table className="text-left text-sm">
          <caption className="sr-only">The first rows as they were read</caption>
          <tbody>
            {source.top.map((cells, i) => (
              <tr
                key={i}
                className={
                  i + 1 === source.headerRow ? 'border-ink border-b-[1.5px] font-semibold' : 'border-rule border-b'
                }
              >
                <th scope="row" className="pr-3 font-head font-normal text-faded">
                  {i + 1}
                </th>
                {cells.map((cell, c) => (
                  <td key={c} className="max-w-64 truncate py-1 pr-4" title={cell}>
                    {cell}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </>
  );
}

/** What somebody who looks at the workbook doesn't see: its hidden parts are asked about, its other sheets told. */
export function Unseen({
  source,
  isBusy,
  onSay,
}: {
  source: ImportView['source'];
  isBusy: boolean;
  onSay: (takenIn: boolean) => void;
}) {
  const { hidden, otherSheets } = source;
  const parts = [
    ...(hidden && hidden.rows > 0 ? [count(hidden.rows, 'row')] : []),
    ...(hidden && hidden.columns.length > 0
      ? [`${hidden.columns.length === 1 ? 'column' : 'columns'} ${listed(hidden.columns)}`]
      : []),
  ];
  return (
    <>
      {hidden && (
        <fieldset
          aria-label="What the workbook hides"
          className={`mb-3 flex max-w-4xl flex-wrap items-center gap-2.5 border-l-4 px-4 py-1.5 ${hidden.takenIn === null ? 'border-dawn bg-dawn-wash' : 'border-rule-strong'}`}
        >
          <span className="mr-1">
            The workbook hides {listed(parts)}.
            {hidden.takenIn === null && ' Are they to be imported? Nothing is until you say so.'}
          </span>
          <Button aria-pressed={hidden.takenIn === true} disabled={isBusy} onClick={() => onSay(true)}>
            Take them in
          </Button>
          <Button aria-pressed={hidden.takenIn === false} disabled={isBusy} onClick={() => onSay(false)}>
            Leave them out
          </Button>
        </fieldset>
      )}
      {otherSheets.length > 0 && (
        <p className="mb-3 max-w-prose border-rule-strong border-l-4 px-4 py-1.5">
          The workbook’s other sheets aren’t part of this import:{' '}
          {listed(otherSheets.map((s) => `“${s.name}” (${count(s.rows, 'row')})`))}. To import one, choose it above, or
          begin with the file once more.
        </p>
      )}
    </>
  );
}

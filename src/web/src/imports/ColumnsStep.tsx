import { wordsOf } from '../api/client';
import { Button } from '../ui/Button';
import { useNotices } from '../ui/Notices';
import { DateAsked } from './DateAsked';
import type { ColumnView, DateQuestion, ImportActs, ImportView } from './imports';
import { useTargets } from './imports';
import { TargetChoice } from './TargetChoice';
import type { DateOrder } from './words';
import { count } from './words';

const basisWords: Record<ColumnView['basis'], string> = {
  none: '',
  header: 'by its header',
  content: 'by what stands in it',
  remembered: 'as you chose before',
  chosen: 'chosen by hand',
};

/** What each column becomes, and how its dates are written. */
export function ColumnsStep({ view, acts, onNext }: { view: ImportView; acts: ImportActs; onNext: () => void }) {
  const targets = useTargets(view.line.id);
  const { trouble } = useNotices();
  const save = (change: { columns?: { place: number; target: string | null }[]; date?: [DateQuestion, DateOrder] }) => {
    const orders = Object.fromEntries(
      [...new Set(view.questions.map((q) => q.target))].map((target) => {
        const of = view.questions.filter((q) => q.target === target);
        return [
          target,
          {
            numbers: of.find((q) => q.kind === 'numbers')?.chosen ?? null,
            days: of.find((q) => q.kind === 'days')?.chosen ?? null,
            language: of.find((q) => q.kind === 'language')?.chosen ?? null,
          },
        ];
      }),
    );
    if (change.date) {
      const [question, order] = change.date;
      const before = orders[question.target] ?? { numbers: null, days: null, language: null };
      orders[question.target] = { ...before, [question.kind]: order };
    }
    acts.setColumns.mutate(
      { columns: change.columns ?? [], orders, joins: view.joins },
      { onError: (error) => trouble(wordsOf(error)) },
    );
  };
  const used = view.columns.filter((c) => c.target !== null).length;
  const open = view.questions.filter((q) => q.decided === null && q.chosen === null);

  return (
    <>
      <div className="mb-3 flex items-center gap-4">
        <p>
          {used} of {count(view.columns.length, 'column')} are taken in.
          {open.length > 0 && ' How the dates are written has to be said; nothing is guessed.'}
        </p>
        <Button variant="primary" className="ml-auto" onClick={onNext}>
          On to its rows
        </Button>
      </div>
      {view.questions.map((question) => (
        <DateAsked
          key={question.target + question.kind}
          question={question}
          name={targets.data?.find((t) => t.key === question.target)?.name ?? question.target}
          isBusy={acts.setColumns.isPending}
          onAnswer={(order) => save({ date: [question, order] })}
        />
      ))}
      <table className="w-full table-fixed text-left">
        <caption className="sr-only">Columns of the sheet</caption>
        <thead className="border-ink border-y-[1.5px] text-sm">
          <tr>
            <th scope="col" className="w-[20%] py-1.5 font-semibold">
              Column
            </th>
            <th scope="col" className="w-[27%] font-semibold">
              Becomes
            </th>
            <th scope="col" className="font-semibold">
              Three of its cells
            </th>
          </tr>
        </thead>
        <tbody>
          {view.columns.map((column) => (
            <tr key={column.place} className="border-rule border-b align-top">
              <th scope="row" className="py-1.5 pr-4 font-normal">
                <span className="mr-2 font-head text-faded text-sm">{column.letters}</span>
                <b className="font-semibold [overflow-wrap:anywhere]">{column.header || 'without a header'}</b>
                <span className="block text-faded text-sm">{count(column.filled, 'cell')} filled</span>
              </th>
              <td className="py-1.5 pr-6">
                <TargetChoice
                  label={`Column ${column.letters} becomes`}
                  targets={targets.data ?? []}
                  value={column.target}
                  taken={view.columns.filter((c) => c.place !== column.place).map((c) => c.target)}
                  onChange={(target) => save({ columns: [{ place: column.place, target }] })}
                />
                <span className="block min-h-5 text-faded text-sm">{column.target && basisWords[column.basis]}</span>
              </td>
              <td className="py-1.5 text-sm">
                {column.witnesses.map((witness) => (
                  <span key={witness} className="block truncate" title={witness}>
                    {witness}
                  </span>
                ))}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

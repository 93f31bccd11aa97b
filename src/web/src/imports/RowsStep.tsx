import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { wordsOf } from '../api/client';
import { Button } from '../ui/Button';
import { useNotices } from '../ui/Notices';
import { Progress } from '../ui/Progress';
import { SearchBox } from '../ui/SearchBox';
import { Foretold } from './Foretold';
import { type ImportActs, type ImportRow, type ImportView, noChange, type RowFilter, type RowsEdit } from './imports';
import { OpenQuestions } from './OpenQuestions';
import { ReplaceForm } from './ReplaceForm';
import { RowDetails } from './RowDetails';
import { RowGrid } from './RowGrid';
import { SelectionBar } from './SelectionBar';
import type { RowStatus } from './words';
import { count, statusWords } from './words';

const statuses: readonly RowStatus[] = ['needsYou', 'advice', 'fine', 'leftOut'];

/** The rows as the posts that they would become: looked at, mended, decided about, and put into the bank. */
export function RowsStep({ view, acts, onColumns }: { view: ImportView; acts: ImportActs; onColumns: () => void }) {
  const [search, setSearch] = useSearchParams();
  const filter: RowFilter = {
    status: (search.get('status') ?? '') as RowFilter['status'],
    search: search.get('search') ?? '',
    about: (search.get('about') ?? '') as RowFilter['about'],
  };
  const set = (change: Partial<RowFilter>) => {
    setSearch(
      (before) => {
        for (const [name, value] of Object.entries(change)) value ? before.set(name, value) : before.delete(name);
        return before;
      },
      { replace: true },
    );
    setChosen(new Set());
  };
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [active, setActive] = useState<ImportRow | null>(null);
  const { tell, trouble } = useNotices();
  const { counts, progress } = view;
  const edit = (change: Partial<RowsEdit> & Pick<RowsEdit, 'which'>, done?: (rows: number) => string) =>
    acts.editRows.mutate(
      { ...noChange, ...change },
      {
        onSuccess: (changed) => done && tell(done(changed.count)),
        onError: (error) => trouble(wordsOf(error)),
      },
    );
  const ready = counts.posts + counts.changed + counts.unchanged;
  const asked = view.questions.some((q) => q.decided === null && q.chosen === null);

  return (
    <>
      {asked && (
        <p className="mb-3 border-dawn border-l-4 bg-dawn-wash px-4 py-2">
          How dates are written has to be said before rows with dates can go in.{' '}
          <button type="button" className="link" onClick={onColumns}>
            Look at the columns
          </button>
        </p>
      )}
      {view.source.hidden?.takenIn === null && (
        <p className="mb-3 border-dawn border-l-4 bg-dawn-wash px-4 py-2">
          The workbook hides rows or columns: say under “The sheet” whether they are taken in, before anything is
          imported.
        </p>
      )}
      <Foretold view={view} />
      <OpenQuestions counts={counts} filter={filter} onShow={(about) => set({ about, status: '' })} onEdit={edit} />
      <div className="my-2 flex flex-wrap items-center gap-x-5 gap-y-2">
        <fieldset className="flex gap-4 border-rule border-b">
          <legend className="sr-only">Only rows that</legend>
          <StatusTab
            label="All"
            n={counts.rows}
            on={!filter.status && !filter.about}
            onPress={() => set({ status: '', about: '' })}
          />
          {statuses.map((status) => (
            <StatusTab
              key={status}
              label={statusWords[status]}
              n={counts[status]}
              on={filter.status === status}
              onPress={() => set({ status, about: '' })}
            />
          ))}
        </fieldset>
        <SearchBox
          label="Search the rows"
          placeholder="In any cell"
          value={filter.search}
          onChange={(value) => set({ search: value })}
        />
        <ReplaceForm view={view} filter={filter} chosen={chosen} replace={acts.replace} />
        <span className="ml-auto">
          <Button
            variant="primary"
            disabled={ready === 0 || !progress.isComplete || !!view.commit || acts.commit.isPending}
            onClick={() => acts.commit.mutate(view.revision, { onError: (error) => trouble(wordsOf(error)) })}
          >
            {importWords(view)}
          </Button>
        </span>
      </div>
      {!progress.isComplete && (
        <Progress
          words={`${progress.checked.toLocaleString('en')} of ${progress.total.toLocaleString('en')} posts held against the networks and the bank`}
          share={progress.total === 0 ? null : progress.checked / progress.total}
        />
      )}
      <SelectionBar view={view} filter={filter} chosen={chosen} active={active} onChoose={setChosen} onEdit={edit} />
      <div className="grid grid-cols-[minmax(0,1fr)_21rem] gap-5">
        <RowGrid
          view={view}
          filter={filter}
          chosen={chosen}
          onChoose={setChosen}
          onActive={setActive}
          onCell={(row, target, value) =>
            edit({ which: { rows: [row], status: null, search: null, about: null }, values: { [target]: value } })
          }
        />
        <RowDetails row={active} view={view} isBusy={acts.editRows.isPending} onEdit={edit} />
      </div>
    </>
  );
}

function StatusTab({ label, n, on, onPress }: { label: string; n: number; on: boolean; onPress: () => void }) {
  return (
    <button
      type="button"
      aria-pressed={on}
      onClick={onPress}
      className="-mb-px min-h-7 border-transparent border-b-3 aria-pressed:border-dawn"
    >
      {label} <span className="font-head text-faded text-sm">{n.toLocaleString('en')}</span>
    </button>
  );
}

function importWords({ counts }: ImportView): string {
  const parts = [
    ...(counts.posts > 0 ? [`Import ${count(counts.posts, 'post')}`] : []),
    ...(counts.changed > 0 ? [`${counts.posts > 0 ? 'change' : 'Change'} ${counts.changed.toLocaleString('en')}`] : []),
  ];
  return parts.join(', ') || (counts.unchanged > 0 ? 'Import: nothing changes' : 'Import');
}

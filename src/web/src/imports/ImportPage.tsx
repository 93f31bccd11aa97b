import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { wordsOf } from '../api/client';
import { Button } from '../ui/Button';
import { useNotices } from '../ui/Notices';
import { Progress } from '../ui/Progress';
import { Fetched } from '../ui/States';
import { useWorkspacePath } from '../workspaces/workspace';
import { ColumnsStep } from './ColumnsStep';
import { type ImportView, useImport, useImportActs } from './imports';
import { ReportStep } from './ReportStep';
import { RowsStep } from './RowsStep';
import { SourceStep } from './SourceStep';

const steps = { sheet: 'The sheet', columns: 'Its columns', rows: 'Its rows', report: 'In the bank' } as const;
type Step = keyof typeof steps;

/** One import, from the file to what came of it. */
export function ImportPage() {
  const { id = '' } = useParams();
  const view = useImport(id);
  return (
    <Fetched query={view} what="the import">
      {(data) => <Opened key={id} view={data} />}
    </Fetched>
  );
}

function Opened({ view }: { view: ImportView }) {
  const { to } = useWorkspacePath();
  const navigate = useNavigate();
  const [search, setSearch] = useSearchParams();
  const acts = useImportActs(view.line.id);
  const { tell, trouble } = useNotices();
  const isOpen = view.line.state === 'open';
  const asked = search.get('step') as Step | null;
  const step: Step = !isOpen ? 'report' : asked && asked in steps && asked !== 'report' ? asked : 'rows';
  const go = (next: Step) => setSearch({ step: next });
  const drop = () =>
    acts.drop.mutate(undefined, {
      onSuccess: () => {
        tell(`“${view.line.fileName}” is given up; nothing of it was in the bank.`);
        navigate(to('bank/import'));
      },
      onError: (error) => trouble(wordsOf(error)),
    });

  return (
    <>
      <div className="flex items-baseline gap-5">
        <Link to={to('bank/import')} className="link text-sm">
          ← Import
        </Link>
        <h1 className="min-w-0 truncate">{view.line.fileName}</h1>
        {isOpen && (
          <Button variant="quiet" className="ml-auto" disabled={acts.drop.isPending || !!view.commit} onClick={drop}>
            Give it up
          </Button>
        )}
      </div>
      <nav aria-label="Steps" className="mt-2 mb-4 flex gap-6 border-ink border-b-[1.5px]">
        {(Object.keys(steps) as Step[]).map((name) => (
          <button
            key={name}
            type="button"
            aria-current={name === step ? 'step' : undefined}
            disabled={isOpen ? name === 'report' : name !== 'report'}
            onClick={() => go(name)}
            className="-mb-[1.5px] min-h-8 border-transparent border-b-4 font-head font-medium text-faded disabled:opacity-55 aria-[current=step]:border-dawn aria-[current=step]:text-ink enabled:hover:text-ink"
          >
            {steps[name]}
            {name === 'columns' && isOpen && asks(view) && <span className="ml-1.5 text-dawn">asks</span>}
          </button>
        ))}
      </nav>
      {view.commit ? (
        <Progress
          words={
            view.commit.total === 0
              ? 'Looking at all rows once more'
              : `${view.commit.done.toLocaleString('en')} of ${view.commit.total.toLocaleString('en')} posts written; they are there all at once, or not at all`
          }
          share={view.commit.total === 0 ? null : view.commit.done / view.commit.total}
          onCancel={() => acts.cancel.mutate()}
        />
      ) : (
        isOpen &&
        view.trouble && (
          <p role="alert" className="mb-4 max-w-prose border-bad border-l-4 bg-bad-wash px-4 py-2">
            {view.trouble}
          </p>
        )
      )}
      {step === 'sheet' && <SourceStep key={view.revision} view={view} acts={acts} onNext={() => go('columns')} />}
      {step === 'columns' && <ColumnsStep view={view} acts={acts} onNext={() => go('rows')} />}
      {step === 'rows' && <RowsStep view={view} acts={acts} onColumns={() => go('columns')} />}
      {step === 'report' && <ReportStep view={view} />}
    </>
  );
}

/** True where a column of dates can't be read without an answer. */
const asks = (view: ImportView) => view.questions.some((q) => q.decided === null && q.chosen === null);

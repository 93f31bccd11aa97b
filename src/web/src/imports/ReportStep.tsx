import { useState } from 'react';
import { Link } from 'react-router';
import { instantWords } from '../time/dates';
import { Button } from '../ui/Button';
import { Fetched } from '../ui/States';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';
import { type ImportView, onPage, useReport } from './imports';
import { TakeBack } from './TakeBack';
import { count, endWords, listed } from './words';

/** What became of the rows. */
export function ReportStep({ view }: { view: ImportView }) {
  const { id, to } = useWorkspacePath();
  const zone = useWorkspace().data?.zone ?? 'UTC';
  const { line } = view;
  const [page, setPage] = useState(0);
  const report = useReport(line.id, page);
  const done = [
    ...(line.posts > 0 ? [`${count(line.posts, 'post')} came into the bank`] : []),
    ...(line.changed > 0 ? [`${count(line.changed, 'post')} took something over`] : []),
    ...(line.deliveries > 0
      ? [`${count(line.deliveries, 'delivery', 'deliveries')} ${line.deliveries === 1 ? 'was' : 'were'} planned`]
      : []),
  ];
  return (
    <>
      <div className="mb-4 flex items-center gap-4">
        <p className="max-w-prose text-lg">
          {line.state === 'takenBack' ? 'This import was taken back. ' : ''}
          {listed(done)}
          {line.at && `, ${instantWords(line.at, zone)}`}.
        </p>
        <span className="ml-auto flex items-center gap-3">
          <a className="link" href={`/api/workspaces/${id}/imports/${line.id}/report.csv`} download>
            Take the report as a sheet
          </a>
          {line.state === 'imported' && <TakeBack line={line} />}
        </span>
      </div>
      <p className="mb-3 max-w-prose text-faded text-sm">
        The sheet has each row as it was imported, with what became of it. Mend what stayed out there and import it
        again: what is in the bank already is known and left out.
      </p>
      <Fetched query={report} what="the report">
        {({ rows, total }) => (
          <>
            <Pages page={page} total={total} onGo={setPage} />
            <table className="w-full table-fixed text-left text-sm">
              <caption className="sr-only">What became of each row</caption>
              <thead className="border-ink border-y-[1.5px]">
                <tr>
                  <th scope="col" className="w-14 py-1.5 font-semibold">
                    Row
                  </th>
                  <th scope="col" className="w-48 font-semibold">
                    What became of it
                  </th>
                  <th scope="col" className="w-[30%] font-semibold">
                    Post
                  </th>
                  <th scope="col" className="font-semibold">
                    Why
                  </th>
                </tr>
              </thead>
              <tbody>
                {rows.map((row) => (
                  <tr
                    key={row.row}
                    className={`border-rule border-b align-top ${row.end === 'refused' ? 'bg-bad-wash' : ''}`}
                  >
                    <th scope="row" className="py-1 font-head font-normal">
                      {row.row}
                    </th>
                    <td className="pr-4">{endWords[row.end]}</td>
                    <td className="truncate pr-4">
                      {row.postId ? (
                        <Link className="link" to={to(`posts/${row.postId}`)}>
                          {row.title}
                        </Link>
                      ) : (
                        row.title
                      )}
                    </td>
                    <td>{row.words}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </>
        )}
      </Fetched>
    </>
  );
}

/** Which rows of a long report are shown, and the way to the others. */
function Pages({ page, total, onGo }: { page: number; total: number; onGo: (page: number) => void }) {
  if (total <= onPage) return null;
  const last = Math.ceil(total / onPage) - 1;
  return (
    <nav aria-label="Pages of the report" className="mb-2 flex items-center gap-2.5 text-sm">
      <Button disabled={page === 0} onClick={() => onGo(page - 1)}>
        Before
      </Button>
      <span aria-live="polite">
        {(page * onPage + 1).toLocaleString('en')} to {Math.min(total, (page + 1) * onPage).toLocaleString('en')} of{' '}
        {count(total, 'row')}
      </span>
      <Button disabled={page === last} onClick={() => onGo(page + 1)}>
        After
      </Button>
    </nav>
  );
}

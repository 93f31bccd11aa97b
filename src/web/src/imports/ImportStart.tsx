import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { wordsOf } from '../api/client';
import { DropArea } from '../media/DropArea';
import { instantWords } from '../time/dates';
import { Button } from '../ui/Button';
import { FileButton } from '../ui/FileButton';
import { useNotices } from '../ui/Notices';
import { Progress } from '../ui/Progress';
import { Fetched } from '../ui/States';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';
import { type ImportLine, useBeginImport, useImports } from './imports';
import { FromLinks, FromPictures } from './MakeSheet';
import { PlanningSheet } from './PlanningSheet';
import { TakeBack } from './TakeBack';
import { count } from './words';

const sheets = '.csv,.tsv,.txt,.xlsx,.zip,text/csv';

/** Where imports begin, and where those that were begun are gone on with. */
export function ImportStart() {
  const { id, to } = useWorkspacePath();
  const navigate = useNavigate();
  const { tell } = useNotices();
  const [pasted, setPasted] = useState('');
  const begin = useBeginImport();
  const start = (given: { files: readonly File[]; pasted?: string }) =>
    begin.mutate(given, {
      onSuccess: (started) => {
        if (started.passedOver.length > 0)
          tell(
            `${count(started.passedOver.length, 'file')} beside the sheet could not be taken in. ${started.passedOver[0]}`,
          );
        navigate(to(`bank/import/${started.id}?step=${started.isOurs ? 'rows' : 'columns'}`));
      },
    });

  return (
    <DropArea onFiles={(files) => start({ files })} pastedAnywhere={false} className="min-h-[60vh]">
      <div className="mb-1 flex items-center gap-5">
        <Link to={to('bank')} className="link text-sm">
          ← Bank
        </Link>
        <h1>Import</h1>
      </div>
      <p className="mb-6 max-w-prose text-faded">
        A sheet of posts, however it is laid out. You see each row as the post that it would become before anything is
        in the bank; a sheet that was begun waits here for whoever goes on with it.
      </p>
      <Imports begun />
      <div className="mt-6 grid grid-cols-[1fr_1fr] gap-10">
        <section aria-labelledby="from-file">
          <h2 id="from-file" className="border-ink border-b-[1.5px] pb-1">
            From files
          </h2>
          <p className="my-2 text-sm">
            CSV, TSV or .xlsx; the pictures and films that it names beside it, or all of it in one .zip. Drop them
            anywhere here.
          </p>
          <FileButton
            label="Choose the sheet and its files"
            accept={`${sheets},image/*,video/mp4,application/pdf`}
            multiple
            onFiles={(files) => start({ files })}
          />
          <p className="mt-4 text-sm">
            To begin with:{' '}
            <a className="link" href={`/api/workspaces/${id}/imports/template.xlsx`} download>
              a workbook with choices
            </a>{' '}
            or{' '}
            <a className="link" href={`/api/workspaces/${id}/imports/template.csv`} download>
              a CSV
            </a>
            , each with an example filled in.
          </p>
        </section>
        <section aria-labelledby="from-cells">
          <h2 id="from-cells" className="border-ink border-b-[1.5px] pb-1">
            From cells
          </h2>
          <label htmlFor="pasted" className="my-2 block text-sm">
            Copy cells in a spreadsheet, headers too, and paste them here.
          </label>
          <textarea
            id="pasted"
            className="field h-24 font-mono text-sm"
            value={pasted}
            onChange={(event) => setPasted(event.target.value)}
          />
          <Button
            className="mt-2"
            disabled={pasted.trim() === '' || begin.isPending}
            onClick={() => start({ files: [], pasted })}
          >
            Go on with these cells
          </Button>
        </section>
        <FromPictures />
        <FromLinks />
        <PlanningSheet />
      </div>
      {begin.isPending && <Progress words="Reading the sheet" share={null} />}
      {begin.error && (
        <p role="alert" className="mt-6 max-w-prose border-bad border-l-4 bg-bad-wash px-4 py-3">
          {wordsOf(begin.error)}
        </p>
      )}
      <Imports begun={false} />
    </DropArea>
  );
}

/** Those that were begun stand first: somebody waits for them. */
function Imports({ begun }: { begun: boolean }) {
  const imports = useImports();
  return (
    <Fetched query={imports} what="the imports">
      {(list) => (
        <Lines
          title={begun ? 'Begun' : 'In the bank'}
          lines={list.filter((l) => (l.state === 'open') === begun)}
          none={begun ? '' : 'Nothing was imported yet.'}
        />
      )}
    </Fetched>
  );
}

function Lines({ title, lines, none }: { title: string; lines: readonly ImportLine[]; none: string }) {
  const { to } = useWorkspacePath();
  const zone = useWorkspace().data?.zone ?? 'UTC';
  if (lines.length === 0 && none === '') return null;
  return (
    <section className="mt-9 max-w-4xl">
      <h2 className="border-ink border-b-[1.5px] pb-1">{title}</h2>
      {lines.length === 0 && <p className="py-3 text-faded">{none}</p>}
      <ul className="ruled">
        {lines.map((line) => (
          <li key={line.id} className="flex min-h-11 items-center gap-4 py-1.5">
            <Link to={to(`bank/import/${line.id}`)} className="min-w-0 flex-1 truncate font-medium hover:underline">
              {line.fileName}
            </Link>
            <span className="text-faded text-sm">
              {line.state === 'open'
                ? `begun ${instantWords(line.startedAt, zone)}${line.startedBy ? ` by ${line.startedBy}` : ''}`
                : `${count(line.posts, 'post')}${line.changed > 0 ? `, ${line.changed} changed` : ''}${line.deliveries > 0 ? `, ${count(line.deliveries, 'delivery', 'deliveries')}` : ''} · ${line.at ? instantWords(line.at, zone) : ''}`}
            </span>
            {line.state === 'imported' && <TakeBack line={line} />}
            {line.state === 'takenBack' && <span className="text-faded text-sm">taken back</span>}
          </li>
        ))}
      </ul>
    </section>
  );
}

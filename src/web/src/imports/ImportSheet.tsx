import { useRef, useState } from 'react';
import { Link } from 'react-router';
import { wordsOf } from '../api/client';
import { useNetworks } from '../networks/networks';
import { instantWords } from '../time/dates';
import { Button } from '../ui/Button';
import { FileButton } from '../ui/FileButton';
import { FormError } from '../ui/FormError';
import { useNotices } from '../ui/Notices';
import { Progress } from '../ui/Progress';
import { Fetched } from '../ui/States';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';
import { type Files, type ImportLine, useCommitImport, useImports, usePreview, useTakeBack } from './imports';
import { PreviewTable } from './PreviewTable';

/** A sheet of posts into the bank: choose, look, import, take back. */
export function ImportSheet() {
  const { to } = useWorkspacePath();
  const [files, setFiles] = useState<Files | null>(null);
  const preview = usePreview();
  const commit = useCommitImport();
  const importId = useRef('');
  const { tell } = useNotices();
  const takeBack = useTakeBackWithNotice();

  const look = (next: Files) => {
    setFiles(next);
    importId.current = crypto.randomUUID();
    commit.reset();
    preview.mutate(next);
  };
  const put = () => {
    if (!files) return;
    commit.mutate(
      { id: importId.current, files },
      {
        onSuccess: (line) => {
          tell(
            `${line.posts} posts are in the bank${line.deliveries > 0 ? `, ${line.deliveries} deliveries planned` : ''}.`,
            {
              label: 'Take it back',
              run: () => takeBack(line.id),
            },
          );
          setFiles(null);
          preview.reset();
        },
      },
    );
  };

  return (
    <>
      <div className="mb-4 flex items-center gap-5">
        <Link to={to('bank')} className="link text-sm">
          ← Bank
        </Link>
        <h1>Import a sheet</h1>
      </div>
      <div className="grid grid-cols-[1fr_22rem] gap-10">
        <Choose files={files} onChoose={look} />
        <Headers />
      </div>
      {preview.isPending && <Progress words="Reading the sheet" share={null} onCancel={preview.cancel} />}
      {preview.error && (
        <p role="alert" className="mt-6 max-w-prose border-bad border-l-4 bg-bad-wash px-4 py-3">
          {wordsOf(preview.error)} Nothing was imported.
        </p>
      )}
      {preview.data && (
        <section className="mt-6">
          <div className="mb-2 flex items-center gap-4">
            <h2>
              {preview.data.ready} of {preview.data.rows.length} rows can be imported
            </h2>
            <Button variant="primary" disabled={preview.data.ready === 0 || commit.isPending} onClick={put}>
              {commit.isPending ? 'Importing …' : `Import ${preview.data.ready} posts`}
            </Button>
            {preview.data.ready < preview.data.rows.length && (
              <p className="text-faded text-sm">The other rows stay out. Mend them in the sheet and choose it again.</p>
            )}
          </div>
          {commit.isPending && <Progress words={`Importing ${preview.data.ready} posts`} share={null} />}
          <FormError error={commit.error} />
          <PreviewTable rows={preview.data.rows} />
        </section>
      )}
      <Earlier onTakeBack={takeBack} />
    </>
  );
}

function Choose({ files, onChoose }: { files: Files | null; onChoose: (files: Files) => void }) {
  const [pictures, setPictures] = useState<readonly File[]>([]);
  return (
    <div className="flex max-w-xl flex-col gap-3">
      <p className="text-faded">You see what would come of each row before anything is imported.</p>
      <div className="flex items-center gap-3">
        <FileButton
          label="Choose the sheet (CSV)"
          accept=".csv,text/csv,text/plain"
          onFiles={([sheet]) => sheet && onChoose({ sheet, pictures })}
        />
        <span>{files?.sheet.name}</span>
      </div>
      <div className="flex items-center gap-3">
        <FileButton
          label="Add the pictures it names"
          accept="image/*"
          multiple
          onFiles={(chosen) => {
            const all = [...pictures, ...chosen];
            setPictures(all);
            if (files) onChoose({ ...files, pictures: all });
          }}
        />
        <span>{pictures.length > 0 && `${pictures.length} ${pictures.length === 1 ? 'picture' : 'pictures'}`}</span>
      </div>
    </div>
  );
}

function Headers() {
  const networks = useNetworks();
  const columns: [string, string][] = [
    ['title', 'never sent; may be left out'],
    ['text', 'the common text'],
    ...(networks.data ?? []).map((n): [string, string] => [`text:${n.key}`, `instead, on ${n.name}`]),
    ['category', 'its name; needed'],
    ['link', 'https://…'],
    ['picture', 'a file name'],
    ['date', '2026-03-25 or 25 Mar 2026'],
    ['time', '14:30; both or neither'],
  ];
  return (
    <div className="text-sm">
      <h3>Columns of the sheet</h3>
      <dl className="mt-1 grid grid-cols-[6rem_1fr] gap-x-3">
        {columns.map(([name, words]) => (
          <div key={name} className="contents">
            <dt>
              <code className="font-semibold">{name}</code>
            </dt>
            <dd className="text-faded">{words}</dd>
          </div>
        ))}
      </dl>
    </div>
  );
}

function Earlier({ onTakeBack }: { onTakeBack: (id: string) => void }) {
  const imports = useImports();
  const zone = useWorkspace().data?.zone ?? 'UTC';
  return (
    <section className="mt-10 max-w-3xl">
      <h2 className="border-ink border-b-[1.5px] pb-1">Earlier imports</h2>
      <Fetched query={imports} what="earlier imports">
        {(list) =>
          list.length === 0 ? (
            <p className="py-3 text-faded">None yet.</p>
          ) : (
            <ul className="ruled">
              {list.map((line: ImportLine) => (
                <li key={line.id} className="flex items-center gap-4 py-2">
                  <span className="flex-1">
                    <b>{line.fileName}</b>, {line.posts} posts{line.deliveries > 0 && `, ${line.deliveries} deliveries`}
                    <span className="block text-faded text-sm">{instantWords(line.at, zone)}</span>
                  </span>
                  {line.takenBack ? (
                    <span className="text-faded">taken back</span>
                  ) : (
                    <Button onClick={() => onTakeBack(line.id)}>Take it back</Button>
                  )}
                </li>
              ))}
            </ul>
          )
        }
      </Fetched>
    </section>
  );
}

function useTakeBackWithNotice() {
  const takeBack = useTakeBack();
  const { tell, trouble } = useNotices();
  return (id: string) =>
    takeBack.mutate(id, {
      onSuccess: (result) => tell(['The import is taken back.', ...result.kept].join(' ')),
      onError: (error) => trouble(wordsOf(error)),
    });
}

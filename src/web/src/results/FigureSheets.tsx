import { useState } from 'react';
import { Button } from '../ui/Button';
import { Dialog } from '../ui/Dialog';
import { FileButton } from '../ui/FileButton';
import { FormError } from '../ui/FormError';
import { useFigureSheet } from './results';
import { whole } from './words';

const most = 12;

/** Figures that were read elsewhere, taken in as a sheet: looked at first, and taken back in one press. */
export function FigureSheets() {
  const [file, setFile] = useState<File | null>(null);
  const { look, take } = useFigureSheet();
  const report = look.data;
  const close = () => {
    setFile(null);
    look.reset();
    take.reset();
  };
  return (
    <>
      <div className="mt-3 flex items-center gap-3 text-sm">
        <FileButton
          label="Take figures in from a sheet"
          accept=".csv,.tsv,.txt,.xlsx"
          onFiles={([chosen]) => {
            if (!chosen) return;
            setFile(chosen);
            look.mutate(chosen);
          }}
        />
        <span className="max-w-[60ch] text-faded">
          A row for each post, by its address or outside id; a column for each figure (reach, likes, comments …), and
          “Read on” where they aren’t of today.
        </span>
      </div>
      <Dialog open={file !== null} title={`Figures of ${file?.name ?? ''}`} onClose={close}>
        <FormError error={look.error ?? take.error} />
        {report && file && (
          <>
            <p>
              <b className="font-head text-lg">{whole(report.readings.length)}</b>{' '}
              {report.readings.length === 1 ? 'row gives' : 'rows give'} figures of posts that went out.
              {report.troubles.length > 0 && ` ${whole(report.troubles.length)} can’t be taken in and stay out:`}
            </p>
            {report.troubles.length > 0 && (
              <ul className="mt-2 list-none border-bad border-l-4 pl-3 text-sm">
                {report.troubles.slice(0, most).map((t) => (
                  <li key={`${t.row} ${t.words}`} className="my-1">
                    {t.row > 0 && <b>Row {t.row}: </b>}
                    {t.words}
                  </li>
                ))}
                {report.troubles.length > most && <li>… and {whole(report.troubles.length - most)} more.</li>}
              </ul>
            )}
            <div className="mt-4 flex gap-2">
              <Button
                variant="primary"
                disabled={report.readings.length === 0 || take.isPending}
                onClick={() => take.mutate(file, { onSuccess: close })}
              >
                Take in {whole(report.readings.length)}
              </Button>
              <Button onClick={close}>Leave it</Button>
            </div>
          </>
        )}
      </Dialog>
    </>
  );
}

import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, ask, type Schemas } from '../api/client';
import { refresh } from '../api/queries';
import { useTellUndoable } from '../changes/undo';
import { dayWords, monthWords } from '../time/dates';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { Popover } from '../ui/Popover';
import { useWorkspacePath } from '../workspaces/workspace';
import { useLook } from './look';

type Span = Schemas['NoteSpan'];

function useWriteNote() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const tellUndoable = useTellUndoable();
  return useMutation({
    mutationFn: (body: { date: string; span: Span; text: string }) =>
      ask(api.PUT('/api/workspaces/{workspaceId}/calendar/notes', { params: { path }, body })),
    onSuccess: ({ note, changeSetId }) => {
      if (changeSetId) tellUndoable(note ? 'The note is kept.' : 'The note is gone.', changeSetId);
      return refresh(client, id, ['calendar']);
    },
  });
}

export const DayNote = ({ day }: { day: string }) => <NoteMark date={day} span="day" what={dayWords(day)} />;
export const WeekNote = ({ monday }: { monday: string }) => (
  <NoteMark date={monday} span="week" what={`the week from ${dayWords(monday)}`} />
);
export const MonthNote = ({ month }: { month: string }) => (
  <NoteMark date={`${month}-01`} span="month" what={monthWords(`${month}-01`)} inWords />
);

interface MarkProps {
  date: string;
  span: Span;
  what: string;
  /** True: what the note says stands beside its mark. */
  inWords?: boolean;
}

/** A small flag where something is written; elsewhere it comes up under the pointer or by keys. */
function NoteMark({ date, span, what, inWords = false }: MarkProps) {
  const { notes } = useLook();
  const [open, setOpen] = useState(false);
  const note = notes.find((n) => n.span === span && n.date === date);
  return (
    <Popover
      label={`Note on ${what}`}
      open={open}
      onOpenChange={setOpen}
      trigger={
        <button
          type="button"
          data-note={note ? span : undefined}
          aria-label={note ? `Note on ${what}: ${note.text}` : `Write a note on ${what}`}
          title={note?.text ?? `Write a note on ${what}`}
          className={`inline-flex min-h-[24px] min-w-[24px] max-w-full items-center justify-center gap-1 rounded-sm text-sm hover:bg-wash print:hidden ${
            note
              ? 'text-dawn'
              : 'text-faded opacity-0 pointer-coarse:opacity-100 focus-visible:opacity-100 group-hover:opacity-100'
          } ${inWords ? 'opacity-100' : ''}`}
        >
          <svg
            aria-hidden="true"
            viewBox="0 0 12 14"
            width="10"
            height="12"
            fill="none"
            stroke="currentColor"
            strokeWidth="1.6"
          >
            <path d="M2 13V1.5H10L8 4.5L10 7.5H2" fill={note ? 'currentColor' : 'none'} />
          </svg>
          {inWords && <span className="truncate text-ink">{note?.text ?? `Write a note on ${what}`}</span>}
        </button>
      }
    >
      {open && <NoteForm date={date} span={span} what={what} text={note?.text ?? ''} onDone={() => setOpen(false)} />}
    </Popover>
  );
}

function NoteForm({ date, span, what, text: first, onDone }: MarkProps & { text: string; onDone: () => void }) {
  const [text, setText] = useState(first);
  const write = useWriteNote();
  return (
    <form
      className="flex w-72 flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        write.mutate({ date, span, text }, { onSuccess: onDone });
      }}
    >
      <Field label={`Note on ${what}`}>
        {(id) => (
          <textarea
            id={id}
            className="field w-full"
            rows={4}
            maxLength={2000}
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        )}
      </Field>
      <FormError error={write.error} />
      <div className="flex gap-2">
        <Button type="submit" variant="primary" disabled={write.isPending}>
          Keep the note
        </Button>
        {first && (
          <Button
            disabled={write.isPending}
            onClick={() => write.mutate({ date, span, text: '' }, { onSuccess: onDone })}
          >
            Take it away
          </Button>
        )}
      </div>
    </form>
  );
}

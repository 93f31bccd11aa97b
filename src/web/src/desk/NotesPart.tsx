import { limits } from '../api/limits';
import type { PostEdit } from '../posts/posts';

interface Props {
  edit: PostEdit;
  change: (part: Partial<PostEdit>) => void;
}

/** For whoever plans and writes; never sent. */
export function NotesPart({ edit, change }: Props) {
  return (
    <details className="border-rule border-t pt-3" open={!!edit.notes}>
      <summary className="cursor-pointer text-faded">Notes, never sent</summary>
      <textarea
        aria-label="Notes, never sent"
        className="field mt-2 h-20 text-sm"
        {...limits.PostEdit.notes}
        value={edit.notes ?? ''}
        onChange={(event) => change({ notes: event.target.value })}
      />
    </details>
  );
}

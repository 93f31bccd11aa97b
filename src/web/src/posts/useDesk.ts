import { useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Problem, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { useWorkspacePath } from '../workspaces/workspace';
import { dropDraft, keepDraft, readDraft } from './drafts';
import { editOf, losesApproval, type NetworkCheck, type Post, type PostEdit, useCheck, useSavePost } from './posts';

/** How what is on the desk stands to what is saved. */
export type Standing =
  | { kind: 'saved' }
  | { kind: 'typing' }
  | { kind: 'saving' }
  | { kind: 'failed'; words: string; again: boolean }
  | { kind: 'conflict' }
  /** Saving would withdraw approvals: a person decides. */
  | { kind: 'asks'; networks: readonly string[] };

const saveAfter = 700;
const tryAgainAfter = 4000;

const same = (a: PostEdit, b: PostEdit) => JSON.stringify(a) === JSON.stringify(b);
const isBlank = (edit: PostEdit) =>
  !edit.title.trim() &&
  !Object.values(edit.content.common).some((value) => (typeof value === 'string' ? value.trim() : value));

interface Desk {
  edit: PostEdit;
  change: (part: Partial<PostEdit>) => void;
  standing: Standing;
  /** How the networks stand to what is on the desk. */
  checks: readonly NetworkCheck[];
  /** Saves although that withdraws approvals. */
  saveAllTheSame: () => void;
  /** Puts the content back to what is saved. */
  leaveContent: () => void;
  /** Ends a conflict: saves what is here over the other's version. */
  keepMine: () => void;
  /** Ends a conflict: takes the other's version. */
  takeTheirs: () => void;
}

/**
 * Keeps a post's edit, saves it by itself, and notices when somebody else saved another version.
 * `post` is what the server has, null for a new one; `onCreated` is told the id once there is one.
 */
export function useDesk(post: Post | null, blank: PostEdit, onCreated: (id: string) => void): Desk {
  const { id: workspace } = useWorkspacePath();
  const client = useQueryClient();
  const { mutateAsync: save } = useSavePost();
  const [start] = useState(() => startingPoint(workspace, post, blank));
  const [edit, setEdit] = useState(start.edit);
  const [base, setBase] = useState(start.base);
  const [standing, setStanding] = useState<Standing>(start.standing);
  const postId = base.id;
  const draftKey = postId ?? 'new';
  const saving = useRef(false);
  const check = useCheck(edit.content, post);
  // Nothing is saved by itself before it is known what that would do to approvals.
  const loses = useMemo(
    () =>
      post === null || check.isError
        ? []
        : check.isPlaceholderData || !check.data
          ? null
          : losesApproval(post, check.data),
    [post, check.isError, check.isPlaceholderData, check.data],
  );

  const adopt = useCallback(
    // The base is what was sent: the server may tidy it (an empty title), and that is no change to save again.
    (saved: Post, sent: PostEdit) => {
      setBase({ id: saved.id, version: saved.version, edit: sent });
      client.setQueryData(['post', workspace, saved.id], saved);
    },
    [client, workspace],
  );

  // Somebody else's version came in: taken over when nothing is typed here, else both are kept until a person chooses.
  useEffect(() => {
    if (!post || saving.current || post.version <= base.version) return;
    if (same(edit, base.edit)) {
      setBase({ id: post.id, version: post.version, edit: editOf(post) });
      setEdit(editOf(post));
    } else if (standing.kind !== 'conflict') {
      setStanding({ kind: 'conflict' });
    }
  }, [post, base, edit, standing.kind]);

  const saveNow = useCallback(
    async (toSave: PostEdit, version: number) => {
      saving.current = true;
      setStanding({ kind: 'saving' });
      try {
        const saved = await save({ id: postId, version, edit: toSave });
        dropDraft(workspace, draftKey);
        adopt(saved, toSave);
        setStanding({ kind: 'saved' });
        if (!postId) onCreated(saved.id);
        void refresh(client, workspace, ['posts']);
      } catch (error) {
        const status = error instanceof Problem ? error.status : 0;
        if (status === 412 || status === 409) {
          setStanding({ kind: 'conflict' });
          void client.invalidateQueries({ queryKey: ['post', workspace, postId] });
        } else {
          setStanding({
            kind: 'failed',
            words: wordsOf(error),
            again: status === 0 || status >= 500 || status === 401,
          });
        }
      } finally {
        saving.current = false;
      }
    },
    [save, adopt, client, draftKey, onCreated, postId, workspace],
  );

  const dirty = !same(edit, base.edit);
  useEffect(() => {
    if (!dirty || standing.kind === 'conflict' || standing.kind === 'saving') return;
    if (!postId && isBlank(edit)) return;
    keepDraft(workspace, draftKey, { version: base.version, edit });
    if (standing.kind === 'failed' && !standing.again) return;
    if (loses === null || loses.length > 0) return;
    const timer = setTimeout(
      () => void saveNow(edit, base.version),
      standing.kind === 'failed' ? tryAgainAfter : saveAfter,
    );
    return () => clearTimeout(timer);
  }, [dirty, edit, base.version, standing, loses, postId, workspace, draftKey, saveNow]);

  useWarningOnLeaving(dirty && !(postId === null && isBlank(edit)));

  const change = useCallback((part: Partial<PostEdit>) => {
    setEdit((before) => ({ ...before, ...part }));
    setStanding((before) => (before.kind === 'conflict' || before.kind === 'saving' ? before : { kind: 'typing' }));
  }, []);

  return {
    edit,
    change,
    standing:
      dirty && standing.kind !== 'saving' && standing.kind !== 'conflict' && loses !== null && loses.length > 0
        ? { kind: 'asks', networks: loses }
        : shownStanding(standing, dirty),
    checks: check.data ?? [],
    saveAllTheSame: () => void saveNow(edit, base.version),
    leaveContent: () => change({ content: base.edit.content }),
    keepMine: () => void saveNow(edit, post?.version ?? base.version),
    takeTheirs: () => {
      if (!post) return;
      dropDraft(workspace, draftKey);
      setBase({ id: post.id, version: post.version, edit: editOf(post) });
      setEdit(editOf(post));
      setStanding({ kind: 'saved' });
    },
  };
}

function shownStanding(standing: Standing, dirty: boolean): Standing {
  if (standing.kind === 'typing' && !dirty) return { kind: 'saved' };
  if (standing.kind === 'saved' && dirty) return { kind: 'typing' };
  return standing;
}

interface Base {
  id: string | null;
  version: number;
  edit: PostEdit;
}

function startingPoint(
  workspace: string,
  post: Post | null,
  blank: PostEdit,
): { edit: PostEdit; base: Base; standing: Standing } {
  const saved = post ? editOf(post) : blank;
  const base = { id: post?.id ?? null, version: post?.version ?? 0, edit: saved };
  const draft = readDraft(workspace, post?.id ?? 'new');
  if (!draft || same(draft.edit, saved)) return { edit: saved, base, standing: { kind: 'saved' } };
  const standing: Standing = draft.version === base.version ? { kind: 'typing' } : { kind: 'conflict' };
  return { edit: draft.edit, base, standing };
}

function useWarningOnLeaving(active: boolean) {
  useEffect(() => {
    if (!active) return;
    const warn = (event: BeforeUnloadEvent) => event.preventDefault();
    addEventListener('beforeunload', warn);
    return () => removeEventListener('beforeunload', warn);
  }, [active]);
}

import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { refresh } from '../../api/queries';
import type { PostContent } from '../../posts/content';
import { losesApproval, type NetworkCheck, type Post, type PostEdit, useCheck, useSavePost } from '../../posts/posts';
import { useWorkspacePath } from '../../workspaces/workspace';
import { DeskStore, type Standing } from './deskStore';

export interface Desk {
  edit: PostEdit;
  /** Null: not made yet. */
  id: string | null;
  change: (part: Partial<PostEdit>) => void;
  standing: Standing;
  /** How the networks stand to what is on the desk. */
  checks: readonly NetworkCheck[];
  /** True while the checks are of what was there a moment ago. */
  isChecking: boolean;
  /** The content that they are of. */
  checked: PostContent;
  /** Saves although that withdraws approvals. */
  saveAllTheSame: () => void;
  /** Puts the content back to what is saved. */
  leaveContent: () => void;
  /** Ends a conflict: saves what is here over the other's version. */
  keepMine: () => void;
  /** Ends a conflict: takes the other's version. */
  takeTheirs: () => void;
  /** Saves at once, with something changed. */
  saveWith: (part: Partial<PostEdit>) => Promise<Post>;
}

interface Options {
  /** What a new post is kept under in the browser, until it is saved. */
  name?: string | undefined;
  /** Which wording is checked. */
  wording?: number;
}

/**
 * Keeps a post's edit, saves it by itself, and notices when somebody else saved another version.
 * `post` is what the server has, null for a new one; `onCreated` is told the id once there is one.
 */
export function useDesk(
  post: Post | null,
  blank: PostEdit,
  onCreated: (id: string) => void,
  { name = 'new', wording = 0 }: Options = {},
): Desk {
  const { id: workspace } = useWorkspacePath();
  const client = useQueryClient();
  const { mutateAsync: save } = useSavePost();
  const created = useRef(onCreated);
  created.current = onCreated;
  const [store] = useState(
    () =>
      new DeskStore(
        workspace,
        post,
        blank,
        {
          save,
          onSaved: (saved) => {
            client.setQueryData(['post', workspace, saved.id], saved);
            void refresh(client, workspace, ['posts']);
          },
          onCreated: (id) => created.current(id),
          onOutdated: (id) => void client.invalidateQueries({ queryKey: ['post', workspace, id] }),
        },
        name,
      ),
  );
  const { edit, standing, id } = useSyncExternalStore(store.subscribe, store.snapshot);
  const check = useCheck(edit.content, post, wording);
  const loses = useMemo(
    () =>
      post === null || check.isError
        ? []
        : check.isPlaceholderData || !check.data
          ? null
          : losesApproval(post, check.data),
    [post, check.isError, check.isPlaceholderData, check.data],
  );
  useEffect(() => store.knows(loses), [store, loses]);
  useEffect(() => {
    if (post) store.arrived(post);
  }, [store, post]);
  useWarningOnLeaving(store);

  return {
    edit,
    id,
    standing,
    change: store.change,
    checks: check.data ?? noChecks,
    isChecking: check.isPlaceholderData,
    checked: check.of ?? edit.content,
    saveAllTheSame: store.saveAllTheSame,
    leaveContent: store.leaveContent,
    keepMine: store.keepMine,
    takeTheirs: store.takeTheirs,
    saveWith: (part) => store.saveWith(part),
  };
}

const noChecks: readonly NetworkCheck[] = [];

function useWarningOnLeaving(store: DeskStore) {
  useEffect(() => {
    const warn = (event: BeforeUnloadEvent) => store.isUnsaved && event.preventDefault();
    addEventListener('beforeunload', warn);
    return () => removeEventListener('beforeunload', warn);
  }, [store]);
}

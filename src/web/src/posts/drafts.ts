import type { PostEdit } from './posts';

/** What was typed and not yet saved, kept in the browser so that a crash or a lost session costs nothing. */
export interface Draft {
  /** The version it was typed over; 0 for a new post. */
  version: number;
  edit: PostEdit;
}

const key = (workspace: string, post: string) => `able-lark:draft:${workspace}:${post}`;

export function keepDraft(workspace: string, post: string, draft: Draft) {
  try {
    localStorage.setItem(key(workspace, post), JSON.stringify(draft));
  } catch {
    // The browser's store is full or closed: then only the page keeps it.
  }
}

/** What was typed before wordings were called so. */
function renamed(this: Record<string, unknown>, key: string, value: unknown) {
  if (key !== 'alternates') return value;
  this.wordings = value;
  return undefined;
}

export function readDraft(workspace: string, post: string): Draft | null {
  const text = localStorage.getItem(key(workspace, post));
  if (!text) return null;
  try {
    return JSON.parse(text, renamed) as Draft;
  } catch {
    return null;
  }
}

export const dropDraft = (workspace: string, post: string) => localStorage.removeItem(key(workspace, post));

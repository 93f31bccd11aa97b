import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { api, ask, type Schemas, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { useTellUndoable } from '../changes/undo';
import { seen } from '../deliveries/deliveries';
import { clock, dayWords } from '../time/dates';
import { useNotices } from '../ui/Notices';
import { useWorkspacePath } from '../workspaces/workspace';
import type { PostContent } from './content';

export type Post = Schemas['PostView'];
export type PostLine = Schemas['PostLine'];
export type PostEdit = Schemas['PostEdit'];
export type BookingKind = Schemas['BookingKind'];
export type BookingMove = Schemas['BookingMoveView'];
export type ScheduledPlace = Schemas['ScheduledPlaceView'];
export type NetworkCheck = Schemas['NetworkCheck'];
export type Stage = Schemas['Stage'];

export const stageWords: Record<Stage, string> = {
  idea: 'Idea',
  draft: 'Draft',
  waitingForApproval: 'Waiting for approval',
  ready: 'Ready',
};

export interface BankFilter {
  category: string;
  stage: string;
  search: string;
  /** Only those that were sent back. */
  sentBack?: boolean;
}

export function usePosts(filter: BankFilter) {
  const { id, path } = useWorkspacePath();
  const query = {
    ...(filter.category && { category: filter.category }),
    ...(filter.stage && { stage: filter.stage as Stage }),
    ...(filter.search && { search: filter.search }),
    ...(filter.sentBack && { sentBack: true }),
  };
  return useQuery({
    queryKey: ['posts', id, query],
    placeholderData: keepPreviousData,
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/posts', { params: { path, query } })),
  });
}

export function usePost(postId: string | null) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['post', id, postId],
    enabled: postId !== null,
    queryFn: () =>
      ask(api.GET('/api/workspaces/{workspaceId}/posts/{id}', { params: { path: { ...path, id: postId ?? '' } } })),
  });
}

interface Checked {
  checks: readonly NetworkCheck[];
  of: PostContent;
}

/** After the last key; while somebody types on, nothing is asked. */
const checkAfter = 60;

/**
 * Count, findings and preview for every network, from the server's own rules; for a saved post also what of it would have approval.
 * `wording` is the one that is shown.
 */
export function useCheck(content: PostContent, post: Post | null, wording = 0) {
  const { id, path } = useWorkspacePath();
  const settled = useSettled(content, checkAfter);
  const query = useQuery<Checked>({
    queryKey: ['check', id, post?.id, post?.version, wording, settled],
    placeholderData: keepPreviousData,
    // What came with the post is of what is saved: it isn't asked for again at once.
    initialData: () =>
      post && wording === 0 && settled === post.content ? { checks: post.checks, of: settled } : undefined,
    staleTime: 10_000,
    gcTime: 60_000,
    queryFn: async ({ signal }) => {
      const checks = await ask(
        api.POST('/api/workspaces/{workspaceId}/posts/check', {
          params: { path, query: { ...(post && { post: post.id }), ...(wording > 0 && { wording }) } },
          body: settled,
          signal,
        }),
      );
      return { checks, of: settled };
    },
  });
  return {
    data: query.data?.checks,
    /** The content that they are of: what is there may have been typed on. */
    of: query.data?.of,
    isError: query.isError,
    isPlaceholderData: query.isPlaceholderData || settled !== content,
  };
}

/** A value once it has stayed the same for a while. */
function useSettled<T>(value: T, milliseconds: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), milliseconds);
    return () => clearTimeout(timer);
  }, [value, milliseconds]);
  return settled;
}

/** How a channel's content stands: by itself where it has content or figures of its own, else as its network's. */
export const checkOf = (
  checks: readonly NetworkCheck[],
  channel: { id: string; network: string },
): NetworkCheck | undefined =>
  checks.find((c) => c.channelId === channel.id) ??
  checks.find((c) => c.channelId === null && c.network === channel.network);

/** Networks for which saving would withdraw an approval, or begin to need one. */
export const losesApproval = (post: Post | null, checks: readonly NetworkCheck[]): string[] =>
  post === null || (post.stage !== 'ready' && post.stage !== 'waitingForApproval')
    ? []
    : checks
        .filter(
          (c) => c.approved === false && post.checks.find((saved) => saved.network === c.network)?.approved !== false,
        )
        .map((c) => c.network);

/** Saves a post: a new one when there is no id yet, else the version that was read. */
export function useSavePost() {
  const { path } = useWorkspacePath();
  return useMutation({
    mutationFn: ({ id, version, edit }: { id: string | null; version: number; edit: PostEdit }) =>
      id
        ? ask(
            api.PUT('/api/workspaces/{workspaceId}/posts/{id}', {
              params: { path: { ...path, id }, header: { 'If-Match': `"${version}"` } },
              body: edit,
            }),
          )
        : ask(api.POST('/api/workspaces/{workspaceId}/posts', { params: { path }, body: edit })),
  });
}

/** Changes something about a post from outside its desk, and says so. */
export function useChangePost() {
  const { id: workspace } = useWorkspacePath();
  const client = useQueryClient();
  const save = useSavePost();
  const { tell, trouble } = useNotices();
  return useMutation({
    mutationFn: ({ post, change }: { post: Post; change: Partial<PostEdit>; words: string }) =>
      save.mutateAsync({ id: post.id, version: post.version, edit: { ...editOf(post), ...change } }),
    onSuccess: (_, { words }) => {
      tell(words);
      return refresh(client, workspace, ['posts']);
    },
    onError: (error) => trouble(wordsOf(error)),
  });
}

export function useRemovePost() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  return useMutation({
    mutationFn: (postId: string) =>
      ask(api.DELETE('/api/workspaces/{workspaceId}/posts/{id}', { params: { path: { ...path, id: postId } } })),
    onSuccess: () => refresh(client, id, ['posts']),
  });
}

interface GivenTime {
  postId: string;
  date: string;
  time: string;
  /** Empty: all channels of the post that can take it. */
  channels: string[];
}

/** Gives a post an exact time; the notice says where it goes, what was left out, and undoes it. */
export function useGiveTime() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const tellUndoable = useTellUndoable();
  return useMutation({
    mutationFn: ({ postId, ...body }: GivenTime) =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/posts/{id}/deliveries', {
          params: { path: { ...path, id: postId } },
          body,
        }),
      ),
    onSuccess: async (result, { date, time }) => {
      const where = `${result.planned.length} ${result.planned.length === 1 ? 'channel' : 'channels'}`;
      const leftOut = result.leftOut.length > 0 ? ` Left out: ${result.leftOut.join(' ')}` : '';
      tellUndoable(`Planned on ${where} for ${dayWords(date)}, ${clock(time)}.${leftOut}`, result.changeSetId);
      await refresh(client, id, ['deliveries']);
    },
  });
}

export const editOf = (post: Post): PostEdit => ({
  title: post.title,
  categoryId: post.categoryId,
  stage: post.stage,
  lifespan: post.lifespan,
  inRotation: post.inRotation,
  channels: post.channels,
  content: post.content,
  furtherCategories: post.furtherCategories,
  from: post.from,
  to: post.to,
  gapDays: post.gapDays,
  notes: post.notes,
});

/** Approves a post in the version that was read. */
export function useApprove() {
  const { id: workspace, path } = useWorkspacePath();
  const client = useQueryClient();
  const { trouble } = useNotices();
  return useMutation({
    mutationFn: ({ id, version }: { id: string; version: number }) =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/posts/{id}/approve', {
          params: { path: { ...path, id }, header: { 'If-Match': `"${version}"` } },
        }),
      ),
    onError: (error) => trouble(wordsOf(error)),
    // Whoever read an older version sees the new one.
    onSettled: () => refresh(client, workspace, ['posts']),
  });
}

/** What booking a place would do; for a post that is still being written, as if it were ready. */
export function useBooking(postId: string | null, kind: BookingKind) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['lineUp', id, 'booking', postId, kind],
    enabled: postId !== null,
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/posts/{id}/booking', {
          params: { path: { ...path, id: postId ?? '' }, query: { kind } },
        }),
      ),
  });
}

/** Gives a scheduled place to another post. */
export function useTake() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const { trouble } = useNotices();
  const tellUndoable = useTellUndoable();
  return useMutation({
    mutationFn: ({ place, postId }: { place: ScheduledPlace; postId: string }) =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/deliveries/{id}/take', {
          params: { path: { ...path, id: place.deliveryId }, ...seen(place.revision) },
          body: { postId },
        }),
      ),
    onSuccess: ({ changeSetId }, { place: { title } }) =>
      tellUndoable(`The place is taken; “${title}” is at the front of its line.`, changeSetId),
    onError: (error) => trouble(wordsOf(error)),
    onSettled: () => refresh(client, id, ['rota', 'deliveries']),
  });
}

/** Back to whoever writes it, with a note. */
export function useSendBack() {
  const { id: workspace, path } = useWorkspacePath();
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ id, note }: { id: string; note: string }) =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/posts/{id}/send-back', {
          params: { path: { ...path, id } },
          body: { note },
        }),
      ),
    onSuccess: () => refresh(client, workspace, ['posts']),
  });
}

/** Where a post would go out first. */
export function useFirstOut(postId: string | undefined) {
  const { id: workspace, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['lineUp', workspace, 'firstOut', postId],
    enabled: postId !== undefined,
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/posts/{id}/first-out', {
          params: { path: { ...path, id: postId ?? '' } },
        }),
      ),
  });
}

/** Puts another picture in the place of one, wherever the content shows it. */
export function useReplacement() {
  const { path } = useWorkspacePath();
  return useMutation({
    mutationFn: (body: Schemas['ReplaceRequest']) =>
      ask(api.POST('/api/workspaces/{workspaceId}/posts/picture-replacement', { params: { path }, body })),
  });
}

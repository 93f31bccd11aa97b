import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { createContext, useContext } from 'react';
import { api, ask, type Schemas } from '../api/client';
import { refresh } from '../api/queries';
import { useTellUndoable } from '../changes/undo';
import { useWorkspacePath } from '../workspaces/workspace';

export type KeyDate = Schemas['KeyDateView'];
export type KeyDateKind = Schemas['KeyDateKindView'];
export type KeyDateDetails = Schemas['KeyDateDetails'];
export type KeyDateEdit = Schemas['KeyDateEdit'];
export type FollowResult = Schemas['FollowResult'];

/** Names a coming of a key date in an address. */
export const comingKey = (keyDate: { id: string; occurrence: string }) => `${keyDate.id}.${keyDate.occurrence}`;

/** What a delivery is tied to, by such a name; empty: nothing. */
export function tieOf(key: string) {
  const [keyDateId, occurrence] = key.split('.');
  return { keyDateId: keyDateId || null, occurrence: occurrence ?? null };
}

export function useKeyDates(from: string | null, to: string | null) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['calendar', id, 'keyDates', from, to],
    enabled: from !== null && to !== null,
    placeholderData: (before) => before,
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/key-dates', {
          params: { path, query: { from: from ?? '', to: to ?? '' } },
        }),
      ),
  });
}

export function useKeyDateKinds() {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['calendar', id, 'keyDateKinds'],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/key-date-kinds', { params: { path } })),
  });
}

export function useKeyDate(keyDate: string | null) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['calendar', id, 'keyDate', keyDate],
    enabled: keyDate !== null,
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/key-dates/{id}', { params: { path: { ...path, id: keyDate ?? '' } } }),
      ),
  });
}

/** What key dates ask of somebody now; only whoever plans is asked. */
export function useKeyDateNeeds(enabled: boolean) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['calendar', id, 'keyDateNeeds'],
    enabled,
    refetchInterval: 60_000,
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/key-dates/needs', { params: { path } })),
  });
}

/** Deliveries move with key dates. */
const topics = ['calendar', 'deliveries'] as const;

export function useKeyDateActs() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const tellUndoable = useTellUndoable();
  const done = (words: string) => (result: { changeSetId?: string | null }) => {
    if (result.changeSetId) tellUndoable(words, result.changeSetId);
    return refresh(client, id, topics);
  };
  return {
    save: useMutation({
      mutationFn: ({ keyDate, body }: { keyDate: string | null; body: KeyDateEdit }) =>
        keyDate
          ? ask(
              api.PUT('/api/workspaces/{workspaceId}/key-dates/{id}', {
                params: { path: { ...path, id: keyDate } },
                body,
              }),
            )
          : ask(api.POST('/api/workspaces/{workspaceId}/key-dates', { params: { path }, body })),
      onSuccess: (result, { body }) => done(`${body.title.trim()} stands on the calendar.`)(result),
    }),
    editComing: useMutation({
      mutationFn: ({ keyDate, edit }: { keyDate: KeyDate; edit: Partial<Schemas['ComingEdit']>; words: string }) =>
        ask(
          api.PUT('/api/workspaces/{workspaceId}/key-dates/{id}/comings/{date}', {
            params: { path: { ...path, id: keyDate.id, date: keyDate.occurrence } },
            body: { movedTo: null, time: null, skip: false, done: null, ...edit },
          }),
        ),
      onSuccess: (result, { words }) => done(words)(result),
    }),
    remove: useMutation({
      mutationFn: (keyDate: { id: string; title: string }) =>
        ask(
          api.DELETE('/api/workspaces/{workspaceId}/key-dates/{id}', { params: { path: { ...path, id: keyDate.id } } }),
        ),
      onSuccess: (result, { title }) => done(`${title} is off the calendar.`)(result),
    }),
    follow: useMutation({
      mutationFn: ({ keyDate, stay }: { keyDate: string; stay: boolean }) =>
        ask(
          api.POST('/api/workspaces/{workspaceId}/key-dates/{id}/follow', {
            params: { path: { ...path, id: keyDate } },
            body: { preview: false, stay },
          }),
        ),
      onSuccess: (result: FollowResult) =>
        done(
          result.moves.length === 0
            ? 'They stay where they are.'
            : result.moves.length === 1
              ? 'One delivery moved along.'
              : `${result.moves.length} deliveries moved along.`,
        )(result),
    }),
    tie: useMutation({
      mutationFn: ({ delivery, ...body }: { delivery: string; keyDateId: string | null; occurrence: string | null }) =>
        ask(
          api.PUT('/api/workspaces/{workspaceId}/deliveries/{id}/key-date', {
            params: { path: { ...path, id: delivery } },
            body,
          }),
        ),
      onSuccess: (result, { keyDateId }) =>
        done(keyDateId ? 'It moves with the key date from now on.' : 'It stands by itself from now on.')(result),
    }),
  };
}

/** What would happen if all that stands relative to a key date followed it. */
export function useFollowPreview(keyDate: string, enabled: boolean) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['calendar', id, 'follow', keyDate],
    enabled,
    queryFn: () =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/key-dates/{id}/follow', {
          params: { path: { ...path, id: keyDate } },
          body: { preview: true, stay: false },
        }),
      ),
  });
}

/** The key dates of what is shown, and how one of them is opened. */
export interface KeyDateLook {
  keyDates: readonly KeyDate[];
  kinds: ReadonlyMap<string, KeyDateKind>;
  onOpen: (key: string) => void;
}

export const KeyDateContext = createContext<KeyDateLook>({ keyDates: [], kinds: new Map(), onOpen: () => {} });

/** Those that touch a day. */
export function useKeyDatesOn(day: string): readonly KeyDate[] {
  const { keyDates } = useContext(KeyDateContext);
  return keyDates.filter((k) => k.date <= day && day <= k.last);
}

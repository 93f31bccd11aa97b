import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { useTellUndoable } from '../changes/undo';
import { seen } from '../deliveries/deliveries';
import { daysBetween } from '../time/dates';
import { useNotices } from '../ui/Notices';
import { useWorkspacePath } from '../workspaces/workspace';
import type { Entry, EntryAct } from './lineup';

type LineUp = Schemas['LineUpView'];
export type PlanAct = Schemas['ManyAct'];

export interface Acting {
  act: PlanAct;
  entries: readonly Entry[];
  /** By how much to shift or copy; below nought: earlier. */
  days?: number;
  minutes?: number;
  /** Of the preview that was shown. */
  planStamp?: number;
  /** Said once it is done with so many. */
  words: (done: number) => string;
}

/** What of a notice about things left out is told at once. */
const mostReasons = 3;

export const few = (reasons: readonly string[]) => [
  ...reasons.slice(0, mostReasons),
  ...(reasons.length > mostReasons ? ['…'] : []),
];

/** Does one thing with several entries, as one act that is undone as one. What moves stands there at once, and goes back if it can't. */
export function usePlanAct() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const { tell, trouble } = useNotices();
  const tellUndoable = useTellUndoable();
  return useMutation({
    mutationFn: ({ act, entries, days = 0, minutes = 0, planStamp }: Acting) =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/line-up/acts', {
          params: { path },
          body: { act, ...targetsOf(entries), days, minutes, preview: false, planStamp: planStamp ?? null },
        }),
      ),
    onMutate: async ({ act, entries, days = 0, minutes = 0 }) => {
      await client.cancelQueries({ queryKey: ['lineUp', id] });
      const before = client.getQueriesData<LineUp>({ queryKey: ['lineUp', id] });
      if (act === 'shift') {
        const keys = new Set(entries.map((e) => e.key));
        client.setQueriesData<LineUp>({ queryKey: ['lineUp', id] }, (lineUp) =>
          lineUp?.entries ? shifted(lineUp, keys, days, minutes) : lineUp,
        );
      }
      return { before };
    },
    onError: (error, _, context) => {
      for (const [key, lineUp] of context?.before ?? []) client.setQueryData(key, lineUp);
      trouble(wordsOf(error));
    },
    onSuccess: ({ done, leftOut, remarks, changeSetId }, { words }) => {
      if (changeSetId) tellUndoable([words(done), ...few(remarks)].join(' '), changeSetId);
      if (leftOut.length > 0)
        tell(
          [`${leftOut.length === 1 ? 'One was' : `${leftOut.length} were`} left as they are.`, ...few(leftOut)].join(
            ' ',
          ),
        );
    },
    onSettled: () => refresh(client, id, ['deliveries', 'rota']),
  });
}

/** What would come of an act on several; what changes meanwhile makes it look anew. */
export function usePlanActPreview({ act, entries, days = 0, minutes = 0 }: Omit<Acting, 'words' | 'planStamp'>) {
  const { id, path } = useWorkspacePath();
  const targets = targetsOf(entries);
  return useQuery({
    queryKey: ['lineUp', id, 'acts', act, days, minutes, targets],
    enabled: entries.length > 0 && (days !== 0 || minutes !== 0),
    queryFn: () =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/line-up/acts', {
          params: { path },
          body: { act, ...targets, days, minutes, preview: true, planStamp: null },
        }),
      ),
  });
}

/** Plans anew what failed, at another time. */
export function useReschedule() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const { trouble } = useNotices();
  const tellUndoable = useTellUndoable();
  return useMutation({
    mutationFn: ({ entry, date, time }: { entry: Entry; date: string; time: string; words: string }) =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/deliveries/{id}/reschedule', {
          params: { path: { ...path, id: entry.deliveryId ?? '' }, ...seen(entry.revision) },
          body: { date, time },
        }),
      ),
    onError: (error) => trouble(wordsOf(error)),
    onSuccess: ({ changeSetId }, { words }) => tellUndoable(words, changeSetId),
    onSettled: () => refresh(client, id, ['deliveries']),
  });
}

/** Lets two posts change places, each at the other's time; says what speaks against it. */
export function useExchange() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const { trouble } = useNotices();
  const tellUndoable = useTellUndoable();
  return useMutation({
    /** `everywhere`: two places, on all channels that both have. */
    mutationFn: ({ one, other, everywhere = false }: { one: Entry; other: Entry; everywhere?: boolean }) =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/line-up/exchange', {
          params: { path },
          body: everywhere
            ? { channelId: null, one: onAll(one), other: onAll(other) }
            : { channelId: one.channelId, one: sideOf(one), other: sideOf(other) },
        }),
      ),
    onError: (error) => trouble(wordsOf(error)),
    onSuccess: ({ changeSetId, against }, { one, other }) =>
      tellUndoable(
        [
          `“${one.title}” and “${other.title}” have changed places.`,
          ...(against.length > 0 ? ['Against it:', ...against] : []),
        ].join(' '),
        changeSetId,
      ),
    onSettled: () => refresh(client, id, ['deliveries', 'rota']),
  });
}

const sideOf = (entry: Entry) => ({
  delivery: entry.deliveryId ? { id: entry.deliveryId, revision: entry.revision ?? 0 } : null,
  place: entry.deliveryId ? null : placeOf(entry),
  postId: entry.postId ?? '',
});

/** The same, whatever goes out on its other channels. */
const onAll = (entry: Entry) => ({ ...sideOf(entry), postId: null });

/** A place that may still change, as it was seen. */
const placeOf = ({ origin, revision }: Entry) => ({
  slotId: origin.id,
  date: origin.date,
  revision: revision ?? 0,
});

/** Deliveries by themselves; of places that may still change, the occurrences. */
function targetsOf(entries: readonly Entry[]) {
  const places = entries.filter((e) => !e.deliveryId && e.origin.kind === 'place').map(placeOf);
  return {
    deliveries: entries.flatMap((e) => (e.deliveryId ? [{ id: e.deliveryId, revision: e.revision ?? 0 }] : [])),
    places: [...Map.groupBy(places, (p) => `${p.slotId} ${p.date}`).values()].flatMap(([p]) => (p ? [p] : [])),
  };
}

const shifts: readonly EntryAct[] = ['move', 'moveThisOne'];

/** What a shift may move. */
export const canShift = (entry: Entry) => entry.postId !== null && entry.may.some((act) => shifts.includes(act));

/** What is moved from one date and time to another. */
export const shiftBetween = (entry: Entry, date: string, time: string) => ({
  days: daysBetween(entry.date, date),
  minutes: minutesOf(time) - minutesOf(entry.time),
});

export const minutesOf = (time: string) => Number(time.slice(0, 2)) * 60 + Number(time.slice(3, 5));

/** The line-up as it will be: the entries at their new times. A time beyond midnight is the server's to tell. */
function shifted(lineUp: LineUp, keys: ReadonlySet<string>, days: number, minutes: number): LineUp {
  const move = (entry: Entry): Entry => {
    const at = new Date(
      Date.parse(`${entry.date}T${entry.time.slice(0, 5)}:00Z`) + days * 86_400_000 + minutes * 60_000,
    );
    const words = at.toISOString();
    return { ...entry, date: words.slice(0, 10), time: words.slice(11, 19), isMoved: true };
  };
  return {
    ...lineUp,
    entries: lineUp.entries
      .map((e) => (keys.has(e.key) && canShift(e) ? move(e) : e))
      .toSorted((a, b) => (a.date + a.time).localeCompare(b.date + b.time)),
  };
}

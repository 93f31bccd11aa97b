import { useMutation, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { useTellUndoable } from '../changes/undo';
import { seen } from '../deliveries/deliveries';
import { clock, dayWords } from '../time/dates';
import { useNotices } from '../ui/Notices';
import { useWorkspacePath } from '../workspaces/workspace';
import type { Entry } from './lineup';
import { decideOn } from './occurrences';

type LineUp = Schemas['LineUpView'];

interface Move {
  entry: Entry;
  date: string;
  time: string;
}

/** Gives a delivery another time; it stands there at once, and goes back if the server says no. */
export function useMoveEntry() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const { trouble } = useNotices();
  const tellUndoable = useTellUndoable();
  return useMutation({
    mutationFn: ({ entry, date, time }: Move) =>
      // A place that may still change is moved as an occurrence, on all its channels, and their posts picked for it.
      entry.kind === 'projected'
        ? decideOn(path, entry, { movedTo: `${date}T${time}` })
        : ask(
            api.POST('/api/workspaces/{workspaceId}/deliveries/{id}/reschedule', {
              params: { path: { ...path, id: entry.deliveryId ?? '' }, ...seen(entry.revision) },
              body: { date, time },
            }),
          ),
    onMutate: async ({ entry, date, time }) => {
      await client.cancelQueries({ queryKey: ['lineUp', id] });
      const before = client.getQueriesData<LineUp>({ queryKey: ['lineUp', id] });
      client.setQueriesData<LineUp>(
        { queryKey: ['lineUp', id] },
        (lineUp) => lineUp && moved(lineUp, entry.key, date, time),
      );
      return { before };
    },
    onError: (error, _, context) => {
      for (const [key, lineUp] of context?.before ?? []) client.setQueryData(key, lineUp);
      trouble(wordsOf(error));
    },
    onSuccess: (result, { date, time }) =>
      tellUndoable(`Moved to ${dayWords(date)}, ${clock(time)}.`, result.changeSetId),
    onSettled: () => refresh(client, id, ['deliveries']),
  });
}

/** The line-up as it will be: the entry at its new time, as one given by hand. */
function moved(lineUp: LineUp, key: string, date: string, time: string): LineUp {
  const entries = lineUp.entries.map(
    (e): Entry =>
      e.key === key
        ? {
            ...e,
            date,
            time,
            state: 'planned',
            origin: { kind: 'exactTime', id: e.postId ?? '', date, time },
            trouble: null,
          }
        : e,
  );
  return { ...lineUp, entries: entries.toSorted((a, b) => (a.date + a.time).localeCompare(b.date + b.time)) };
}

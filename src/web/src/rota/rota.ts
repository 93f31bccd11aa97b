import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../api/client';
import { refresh } from '../api/queries';
import { useTellUndoable } from '../changes/undo';
import { useWorkspacePath } from '../workspaces/workspace';

export type Rota = Schemas['RotaView'];
export type Slot = Schemas['SlotView'];
export type SlotEdit = Schemas['SlotEdit'];
type WholeEdit = Schemas['RotaEdit'];
/** What isn't answered stays: nothing is kept, nothing is moved along. */
export type RotaEdit = Omit<WholeEdit, 'keepsOrphans' | 'movesScheduled'> &
  Partial<Pick<WholeEdit, 'keepsOrphans' | 'movesScheduled'>>;
export type Consequences = Schemas['RotaConsequences'];

export const whole = (edit: RotaEdit): WholeEdit => ({ keepsOrphans: false, movesScheduled: false, ...edit });
export type WhatIf = Schemas['WhatIfView'];
export type Runway = Schemas['Runway'];

export function useRotas() {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['rota', id],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/rotas', { params: { path } })),
  });
}

/** Saves a rota with all its slots, or adds one. */
export function useSaveRota() {
  const { id: workspace, path } = useWorkspacePath();
  const client = useQueryClient();
  const tellUndoable = useTellUndoable();
  return useMutation({
    mutationFn: ({ id, edit }: { id: string | null; edit: RotaEdit }) =>
      id
        ? ask(
            api.PUT('/api/workspaces/{workspaceId}/rotas/{id}', {
              params: { path: { ...path, id } },
              body: whole(edit),
            }),
          )
        : ask(api.POST('/api/workspaces/{workspaceId}/rotas', { params: { path }, body: whole(edit) })),
    onSuccess: ({ changeSetId, rota, orphans }) => {
      const dropped = orphans.length > 0 ? ` No longer there, and dropped: ${orphans.join('; ')}.` : '';
      tellUndoable(`${rota.name} is applied.${dropped}`, changeSetId);
      return refresh(client, workspace, ['rota']);
    },
  });
}

/** What applying a layout would do to decisions and to what is scheduled. */
export function useConsequences(rotaId: string) {
  const { path } = useWorkspacePath();
  return useMutation({
    mutationFn: (edit: RotaEdit) =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/rotas/{id}/consequences', {
          params: { path: { ...path, id: rotaId } },
          body: whole(edit),
        }),
      ),
  });
}

export function useRemoveRota() {
  const { id: workspace, path } = useWorkspacePath();
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: string) =>
      ask(api.DELETE('/api/workspaces/{workspaceId}/rotas/{id}', { params: { path: { ...path, id } } })),
    onSuccess: () => refresh(client, workspace, ['rota']),
  });
}

/** What a change would lead to, beside what is. Asked again with each change, the last answer standing meanwhile. */
export function useWhatIf(change: Pick<Schemas['WhatIfRequest'], 'rotas' | 'categories' | 'morePosts'>, weeks: number) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['runway', id, 'whatIf', change, weeks],
    placeholderData: keepPreviousData,
    gcTime: 60_000,
    queryFn: ({ signal }) =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/what-if', {
          params: { path },
          body: { weeks, ...change },
          signal,
        }),
      ),
  });
}

export type WeekHour = Schemas['WeekHour'];

/** When followers are online and when posts did well, for some channels or (none named) for all together; by hour from Monday 00:00 on. */
export function useHours(...channel: readonly string[]) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['results', id, 'hours', channel],
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(api.GET('/api/workspaces/{workspaceId}/hours', { params: { path, query: { channel: [...channel] } } })),
  });
}

export function useRunway(weeks: number) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['runway', id, weeks],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/runway', { params: { path, query: { weeks } } })),
  });
}

/** Weeks over which a shortage is worth a warning. */
const shortageWeeks = 4;
/** Categories that run dry soon, and channels where nearly all is repeats. */
export const useShortages = () => useRunway(shortageWeeks).data?.shortages ?? { dry: [], repeating: [] };

import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../api/client';
import { useWorkspacePath } from '../workspaces/workspace';

export type FigureAge = Schemas['FigureAge'];
export type CategoryResult = Schemas['CategoryResult'];

export function useResults(from: string | null, to: string | null, age: FigureAge) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['results', id, from, to, age],
    enabled: from !== null && to !== null,
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/results', {
          params: { path, query: { from: from ?? '', to: to ?? '', age } },
        }),
      ),
  });
}

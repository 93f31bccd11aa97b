import { useQuery } from '@tanstack/react-query';
import { api, ask, type Schemas } from '../api/client';
import { useWorkspacePath } from '../workspaces/workspace';

export type Need = Schemas['NeedView'];

/** Deliveries that wait for a person. */
export function useNeeds() {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['needs', id],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/needs', { params: { path } })),
  });
}

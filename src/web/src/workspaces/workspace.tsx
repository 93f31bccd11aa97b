import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { createContext, useContext } from 'react';
import { api, ask, type Schemas } from '../api/client';

export type WorkspaceLink = Schemas['WorkspaceLink'];
export type Workspace = Schemas['WorkspaceView'];

const Context = createContext<WorkspaceLink | null>(null);
export const WorkspaceProvider = Context;

/** The workspace whose address is open. */
export function useWorkspaceLink(): WorkspaceLink {
  const link = useContext(Context);
  if (!link) throw new Error('This view stands outside a workspace.');
  return link;
}

/** Begins the path of every call that concerns the open workspace. */
export function useWorkspacePath() {
  const { id, slug } = useWorkspaceLink();
  return { id, slug, path: { workspaceId: id }, to: (rest: string) => `/w/${slug}/${rest}` };
}

export function useWorkspace() {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['workspace', id],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}', { params: { path } })),
    refetchInterval: 30_000,
  });
}

export function useEditWorkspace() {
  const { path } = useWorkspacePath();
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas['WorkspaceEdit']) =>
      ask(api.PUT('/api/workspaces/{workspaceId}', { params: { path }, body })),
    onSuccess: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: ['workspace'] }),
        client.invalidateQueries({ queryKey: ['session'] }),
      ]),
  });
}

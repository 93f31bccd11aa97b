import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef } from 'react';
import { api, ask, type Schemas, sendForm } from '../api/client';
import { refresh } from '../api/queries';
import { useWorkspacePath } from '../workspaces/workspace';

export type ImportPreview = Schemas['ImportPreview'];
export type ImportRow = Schemas['ImportRowView'];
export type ImportLine = Schemas['ImportLine'];

export interface Files {
  sheet: File;
  pictures: readonly File[];
}

function formOf({ sheet, pictures }: Files): FormData {
  const form = new FormData();
  form.append('sheet', sheet);
  for (const picture of pictures) form.append('pictures', picture);
  return form;
}

/** What would come of the sheet; nothing is imported yet. */
export function usePreview() {
  const { id } = useWorkspacePath();
  const stop = useRef(new AbortController());
  const preview = useMutation({
    mutationFn: (files: Files) => {
      stop.current = new AbortController();
      return sendForm<ImportPreview>(
        'POST',
        `/api/workspaces/${id}/imports/preview`,
        formOf(files),
        stop.current.signal,
      );
    },
  });
  return {
    ...preview,
    cancel: () => {
      stop.current.abort();
      preview.reset();
    },
  };
}

/** Imports the rows that can be; the id is the caller's, so that a press repeated imports once. */
export function useCommitImport() {
  const { id: workspace } = useWorkspacePath();
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ id, files }: { id: string; files: Files }) =>
      sendForm<ImportLine>('PUT', `/api/workspaces/${workspace}/imports/${id}`, formOf(files)),
    onSuccess: () => refresh(client, workspace, ['imports', 'posts']),
  });
}

export function useImports() {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['imports', id],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/imports', { params: { path } })),
  });
}

export function useTakeBack() {
  const { path } = useWorkspacePath();
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: string) =>
      ask(api.POST('/api/workspaces/{workspaceId}/imports/{id}/take-back', { params: { path: { ...path, id } } })),
    onSuccess: () => client.invalidateQueries(),
  });
}

import { keepPreviousData, useMutation, useQueries, useQuery, useQueryClient } from '@tanstack/react-query';
import { api, ask, type Schemas, sendForm, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { useNotices } from '../ui/Notices';
import { useWorkspacePath } from '../workspaces/workspace';
import { count, type RowStatus } from './words';

export type ImportView = Schemas['ImportView'];
export type ImportLine = Schemas['ImportLine'];
export type ImportRow = Schemas['ImportRowView'];
export type ImportCounts = Schemas['ImportCounts'];
export type ColumnView = Schemas['ColumnView'];
export type DateQuestion = Schemas['DateQuestionView'];
export type TargetView = Schemas['TargetView'];
export type RowsEdit = Schemas['RowsEdit'];
export type RowChoice = Schemas['RowChoice'];
export type ImportOutlook = Schemas['ImportOutlook'];

/** Which rows are shown. */
export interface RowFilter {
  status: RowStatus | '';
  search: string;
  about: Schemas['RowQuestion'] | '';
}

/** Rows fetched at once. */
export const atOnce = 100;

const root = '/api/workspaces/{workspaceId}/imports' as const;

export function useImports() {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['imports', id, 'list'],
    queryFn: () => ask(api.GET(root, { params: { path } })),
  });
}

/** An import; asked for again while anything about it is still being found, or it is on its way into the bank. */
export function useImport(importId: string) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['imports', id, importId, 'view'],
    queryFn: () => ask(api.GET(`${root}/{id}`, { params: { path: { ...path, id: importId } } })),
    refetchInterval: ({ state: { data } }) =>
      data && data.line.state === 'open' && (!data.progress.isComplete || data.commit) ? 400 : false,
  });
}

export function useTargets(importId: string) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['imports', id, importId, 'targets'],
    queryFn: () => ask(api.GET(`${root}/{id}/targets`, { params: { path: { ...path, id: importId } } })),
    staleTime: 60_000,
  });
}

/** What the bank would be with the import in it; asked for once all about its rows is found. */
export function useOutlook(importId: string, revision: number, isComplete: boolean) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['imports', id, importId, 'outlook', revision],
    queryFn: () => ask(api.GET(`${root}/{id}/outlook`, { params: { path: { ...path, id: importId } } })),
    enabled: isComplete,
    placeholderData: keepPreviousData,
  });
}

/** Pages of rows that are looked at.
 * @param stamp - Grows when any of them may be otherwise. */
export function useRowPages(importId: string, filter: RowFilter, pages: readonly number[], stamp: string) {
  const { id, path } = useWorkspacePath();
  return useQueries({
    queries: pages.map((page) => ({
      queryKey: ['imports', id, importId, 'rows', filter, page, stamp],
      queryFn: () =>
        ask(
          api.GET(`${root}/{id}/rows`, {
            params: {
              path: { ...path, id: importId },
              query: {
                ...(filter.status && { status: filter.status }),
                ...(filter.search && { search: filter.search }),
                ...(filter.about && { about: filter.about }),
                from: page * atOnce,
                count: atOnce,
              },
            },
          }),
        ),
      placeholderData: keepPreviousData,
    })),
  });
}

/** Begins an import with files, or with cells that were pasted. */
export function useBeginImport() {
  const { id } = useWorkspacePath();
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ files, pasted }: { files: readonly File[]; pasted?: string }) => {
      const form = new FormData();
      for (const file of files) form.append('files', file);
      if (pasted !== undefined) form.append('pasted', pasted);
      return sendForm<Schemas['ImportStarted']>('POST', `/api/workspaces/${id}/imports`, form);
    },
    onSuccess: () => refresh(client, id, ['imports', 'media']),
  });
}

/** Begins an import with a sheet that is made of pictures or of links. */
export function useMakeImport() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas['MakingRequest']) => ask(api.POST(`${root}/made`, { params: { path }, body })),
    onSuccess: () => refresh(client, id, ['imports', 'media']),
  });
}

/** Adds files that rows name. */
export function useAddMedia(importId: string) {
  const { id } = useWorkspacePath();
  const client = useQueryClient();
  return useMutation({
    mutationFn: (files: readonly File[]) => {
      const form = new FormData();
      for (const file of files) form.append('files', file);
      return sendForm<Schemas['ImportStarted']>('POST', `/api/workspaces/${id}/imports/${importId}/media`, form);
    },
    onSuccess: () => refresh(client, id, ['imports', 'media']),
  });
}

/** All that can be done to an import; each act is seen by everybody who looks at it. */
export function useImportActs(importId: string) {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const params = { path: { ...path, id: importId } };
  const again = () => refresh(client, id, ['imports']);
  return {
    readAs: useMutation({
      mutationFn: (body: Schemas['SourceEdit']) => ask(api.PUT(`${root}/{id}/source`, { params, body })),
      onSuccess: again,
    }),
    setColumns: useMutation({
      mutationFn: (body: Schemas['ColumnsEdit']) => ask(api.PUT(`${root}/{id}/columns`, { params, body })),
      onSuccess: again,
    }),
    checkAgain: useMutation({
      mutationFn: () => ask(api.POST(`${root}/{id}/again`, { params })),
      onSuccess: again,
    }),
    editRows: useMutation({
      mutationFn: (body: RowsEdit) => ask(api.POST(`${root}/{id}/rows`, { params, body })),
      onSuccess: again,
    }),
    replace: useMutation({
      mutationFn: (body: Schemas['ReplaceEdit']) => ask(api.POST(`${root}/{id}/replace`, { params, body })),
      onSuccess: again,
    }),
    commit: useMutation({
      mutationFn: (revision: number) => ask(api.POST(`${root}/{id}/commit`, { params, body: { revision } })),
      onSuccess: again,
    }),
    cancel: useMutation({
      mutationFn: () => ask(api.DELETE(`${root}/{id}/commit`, { params })),
      onSuccess: again,
    }),
    drop: useMutation({ mutationFn: () => ask(api.DELETE(`${root}/{id}`, { params })), onSuccess: again }),
  };
}

export type ImportActs = ReturnType<typeof useImportActs>;

export function useTakeBack() {
  const { path } = useWorkspacePath();
  const client = useQueryClient();
  const { tell, trouble } = useNotices();
  return useMutation({
    mutationFn: (importId: string) =>
      ask(api.POST(`${root}/{id}/take-back`, { params: { path: { ...path, id: importId } } })),
    onSuccess: ({ kept }) => {
      const more = kept.length > 4 ? ` And ${count(kept.length - 4, 'more', 'more')}.` : '';
      tell(
        kept.length === 0
          ? 'The import is taken back.'
          : `The import is taken back, but for this: ${kept.slice(0, 4).join(' ')}${more}`,
      );
      return client.invalidateQueries();
    },
    onError: (error) => trouble(wordsOf(error)),
  });
}

/** A change of rows in which nothing is changed yet. */
export const noChange = {
  values: null,
  leftOut: null,
  joined: null,
  ifThere: null,
  takeOffered: false,
  fit: null,
  reset: false,
  with: null,
} as const satisfies Omit<RowsEdit, 'which'>;

/** Rows by their numbers, and no others. */
export const theseRows = (rows: readonly number[]): RowChoice => ({
  rows: [...rows],
  status: null,
  search: null,
  about: null,
});

/** All rows that a filter shows. */
export const rowsOf = (filter: RowFilter): RowChoice => ({
  rows: null,
  status: filter.status || null,
  search: filter.search || null,
  about: filter.about || null,
});

/** Rows of a report on one page. */
export const onPage = 200;

/** What became of each row.
 * @param page - From 0. */
export function useReport(importId: string, page: number) {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['imports', id, importId, 'report', page],
    queryFn: () =>
      ask(
        api.GET(`${root}/{id}/report`, {
          params: { path: { ...path, id: importId }, query: { from: page * onPage, count: onPage } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

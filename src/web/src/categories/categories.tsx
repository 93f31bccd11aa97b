import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { CSSProperties } from 'react';
import { api, ask, type Schemas, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { useTellUndoable } from '../changes/undo';
import { useNotices } from '../ui/Notices';
import { Select } from '../ui/Select';
import { useWorkspacePath } from '../workspaces/workspace';
import { palette } from './palette';

export type Category = Schemas['CategoryView'];
export type CategoryEdit = Schemas['CategoryEdit'];

export const colourOf = (category: Category | undefined) =>
  category ? `var(--${category.colour})` : 'var(--rule-strong)';

/** Gives a card's edge its category's colour. */
export const edgeOf = (category: Category | undefined) => ({ '--edge': colourOf(category) }) as CSSProperties;

export function useCategories() {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['categories', id],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/categories', { params: { path } })),
  });
}

export function useCategory(id: string | null | undefined): Category | undefined {
  return useCategories().data?.find((c) => c.id === id);
}

/** Adds a category, or changes the one with the given id. */
export function useSaveCategory() {
  const { id: workspace, path } = useWorkspacePath();
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ id, edit }: { id: string | null; edit: CategoryEdit }) =>
      id
        ? ask(
            api.PUT('/api/workspaces/{workspaceId}/categories/{id}', { params: { path: { ...path, id } }, body: edit }),
          )
        : ask(api.POST('/api/workspaces/{workspaceId}/categories', { params: { path }, body: edit })),
    onSuccess: () => refresh(client, workspace, ['categories']),
  });
}

export function useRemoveCategory() {
  const { id: workspace, path } = useWorkspacePath();
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: string) =>
      ask(api.DELETE('/api/workspaces/{workspaceId}/categories/{id}', { params: { path: { ...path, id } } })),
    onSuccess: () => refresh(client, workspace, ['categories']),
  });
}

/** Draws a new order for a shuffled category: another round begins. */
export function useDraw() {
  const { id: workspace, path } = useWorkspacePath();
  const client = useQueryClient();
  const tellUndoable = useTellUndoable();
  const { trouble } = useNotices();
  return useMutation({
    mutationFn: (category: Category) =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/categories/{id}/draw', {
          params: { path: { ...path, id: category.id } },
        }),
      ),
    onSuccess: ({ changeSetId }, category) => {
      tellUndoable(`${category.name} has a new order.`, changeSetId);
      return refresh(client, workspace, ['categories']);
    },
    onError: (error) => trouble(wordsOf(error)),
  });
}

/** Two letters on the category's colour, so that colour is never the only sign. */
export function Monogram({ category }: { category: Pick<Category, 'name' | 'colour' | 'monogram'> | undefined }) {
  if (!category) return null;
  return (
    <span
      title={category.name}
      className="inline-block min-w-6 rounded-t-md px-1 text-center font-head font-semibold text-[0.72rem] leading-[1.15rem]"
      style={{
        background: `var(--${category.colour})`,
        color: palette[category.colour] ? 'var(--on-pale)' : 'var(--on-deep)',
      }}
    >
      {category.monogram}
    </span>
  );
}

export function CategoryName({ id }: { id: string | null | undefined }) {
  const category = useCategory(id);
  if (!category) return <span className="text-faded">No category: kept free</span>;
  return (
    <span className="inline-flex items-center gap-1.5">
      <Monogram category={category} />
      {category.name}
    </span>
  );
}

interface SelectProps {
  id?: string;
  value: string;
  onChange: (id: string) => void;
  none?: string;
  'aria-label'?: string;
}

export function CategorySelect(props: SelectProps) {
  const categories = useCategories();
  const options = (categories.data ?? []).map((c) => ({
    value: c.id,
    label: c.name,
    mark: <Monogram category={c} />,
  }));
  return <Select {...props} options={options} />;
}

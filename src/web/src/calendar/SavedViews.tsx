import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, ask, wordsOf } from '../api/client';
import { refresh } from '../api/queries';
import { useTellUndoable } from '../changes/undo';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { useNotices } from '../ui/Notices';
import { useWorkspaceLink, useWorkspacePath } from '../workspaces/workspace';

/** What of the address says when, or what is open, and so isn't saved. */
const passing = ['week', 'on', 'entry', 'date'];

export const savedQuery = (search: URLSearchParams) => {
  const kept = new URLSearchParams(search);
  for (const name of passing) kept.delete(name);
  return kept.toString();
};

function useSaved() {
  const { id, path } = useWorkspacePath();
  return useQuery({
    queryKey: ['calendar', id, 'filters'],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/calendar/filters', { params: { path } })),
  });
}

/** The saved view that is looked at; undefined: none. */
export function useCurrentView() {
  const [search] = useSearchParams();
  const saved = useSaved().data;
  return saved?.find((s) => s.query === savedQuery(search));
}

/** Ways of looking that were given a name, for everybody in the workspace. */
export function SavedViews({ onDone }: { onDone: () => void }) {
  const saved = useSaved().data ?? [];
  const [search, setSearch] = useSearchParams();
  const mayPlan = useWorkspaceLink().rights.includes('schedule');
  const current = useCurrentView();
  const { remove } = useSaving(() => {});
  if (saved.length === 0 && !mayPlan) return null;
  return (
    <section aria-labelledby="saved-views">
      <h3 id="saved-views">Saved views</h3>
      <ul>
        {saved.map((view) => (
          <li key={view.id} className="flex items-center gap-1">
            <button
              type="button"
              aria-pressed={view.id === current?.id}
              className="min-h-7 min-w-0 flex-1 truncate rounded-md px-1 text-left hover:bg-wash aria-pressed:font-semibold"
              onClick={() => {
                const next = new URLSearchParams(view.query);
                for (const name of ['week', 'on']) {
                  const kept = search.get(name);
                  if (kept) next.set(name, kept);
                }
                setSearch(next);
                onDone();
              }}
            >
              {view.name}
            </button>
            {mayPlan && (
              <button
                type="button"
                aria-label={`Remove the view ${view.name}`}
                className="min-h-[24px] min-w-[24px] rounded-md text-faded hover:bg-wash"
                onClick={() => remove.mutate(view)}
              >
                ✕
              </button>
            )}
          </li>
        ))}
      </ul>
      {mayPlan && <SaveForm query={savedQuery(search)} onDone={onDone} />}
    </section>
  );
}

function useSaving(onDone: () => void) {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const { tell, trouble } = useNotices();
  const tellUndoable = useTellUndoable();
  return {
    save: useMutation({
      mutationFn: (body: { name: string; query: string }) =>
        ask(api.PUT('/api/workspaces/{workspaceId}/calendar/filters', { params: { path }, body })),
      onSuccess: ({ name }) => {
        tell(`The view is saved as ${name}.`);
        onDone();
        return refresh(client, id, ['calendar']);
      },
    }),
    remove: useMutation({
      mutationFn: (view: { id: string; name: string }) =>
        ask(
          api.DELETE('/api/workspaces/{workspaceId}/calendar/filters/{id}', {
            params: { path: { ...path, id: view.id } },
          }),
        ),
      onSuccess: ({ changeSetId }, { name }) => {
        tellUndoable(`The view ${name} is removed.`, changeSetId);
        return refresh(client, id, ['calendar']);
      },
      onError: (error) => trouble(wordsOf(error)),
    }),
  };
}

function SaveForm({ query, onDone }: { query: string; onDone: () => void }) {
  const [name, setName] = useState('');
  const { save } = useSaving(onDone);
  return (
    <form
      className="mt-1 flex items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate({ name, query });
      }}
    >
      <Field label="Save this view as" className="min-w-0 flex-1">
        {(id) => (
          <input
            id={id}
            className="field w-full"
            required
            maxLength={120}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        )}
      </Field>
      <Button type="submit" disabled={save.isPending}>
        Save
      </Button>
      <FormError error={save.error} />
    </form>
  );
}

import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, ask } from '../api/client';
import { instantWords } from '../time/dates';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { useNotices } from '../ui/Notices';
import { Fetched } from '../ui/States';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';

/** Tokens that let scripts into this workspace; each is shown once. */
export function TokensSection() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const zone = useWorkspace().data?.zone ?? 'UTC';
  const { tell } = useNotices();
  const [name, setName] = useState('');
  const again = () => client.invalidateQueries({ queryKey: ['tokens', id] });
  const tokens = useQuery({
    queryKey: ['tokens', id],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/tokens', { params: { path } })),
  });
  const make = useMutation({
    mutationFn: () => ask(api.POST('/api/workspaces/{workspaceId}/tokens', { params: { path }, body: { name } })),
    onSuccess: () => {
      setName('');
      return again();
    },
  });
  const revoke = useMutation({
    mutationFn: (token: string) =>
      ask(api.DELETE('/api/workspaces/{workspaceId}/tokens/{id}', { params: { path: { ...path, id: token } } })),
    onSuccess: () => {
      tell('The token is revoked: it opens nothing any more.');
      return again();
    },
  });
  return (
    <section aria-labelledby="tokens" className="max-w-3xl">
      <h2 id="tokens" className="border-ink border-b-[1.5px] pb-1">
        Tokens for scripts
      </h2>
      <p className="py-3 text-faded">
        A script that sends one as <code>Authorization: Bearer …</code> may do in this workspace what you may. It can
        fetch the line-up, or try a changed rota before anybody applies it.
      </p>
      <Fetched query={tokens} what="the tokens">
        {(list) => (
          <ul className="ruled">
            {list.map((token) => (
              <li key={token.id} className="flex items-center gap-4 py-2">
                <span className="flex-1">
                  <b>{token.name}</b>
                  <span className="block text-faded text-sm">
                    Made by {token.madeBy}, {instantWords(token.madeAt, zone)};{' '}
                    {token.usedAt ? `last used ${instantWords(token.usedAt, zone)}` : 'never used'}
                  </span>
                </span>
                <Button
                  aria-label={`Revoke ${token.name}`}
                  disabled={revoke.isPending}
                  onClick={() => revoke.mutate(token.id)}
                >
                  Revoke
                </Button>
              </li>
            ))}
          </ul>
        )}
      </Fetched>
      {make.data && (
        <div role="status" className="my-4 border-dawn border-l-4 bg-dawn-wash px-4 py-3">
          <p>Copy it now: it is not shown again.</p>
          <code data-token className="mt-1 block break-all font-semibold">
            {make.data.token}
          </code>
        </div>
      )}
      <form
        className="mt-4 flex items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          make.mutate();
        }}
      >
        <Field label="What it is for" className="w-72">
          {(id_) => (
            <input
              id={id_}
              className="field"
              required
              maxLength={120}
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
          )}
        </Field>
        <Button type="submit" disabled={make.isPending}>
          Make a token
        </Button>
      </form>
      <FormError error={make.error ?? revoke.error} />
    </section>
  );
}

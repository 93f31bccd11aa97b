import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { api, ask, type Schemas } from '../api/client';
import { limits } from '../api/limits';
import { instantWords } from '../time/dates';
import { Button } from '../ui/Button';
import { Checkbox } from '../ui/Checkbox';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { useNotices } from '../ui/Notices';
import { Fetched } from '../ui/States';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';

type Right = Schemas['Right'];

/** What a token may be made for; letting others in is for people. */
const offered: readonly Right[] = ['view', 'results', 'write', 'schedule', 'approve', 'setUp'];

const rightWords: Record<Right, string> = {
  view: 'see what is planned and sent',
  results: 'see the results',
  write: 'write and change posts',
  schedule: 'decide what goes out when',
  approve: 'approve posts',
  setUp: 'change the set-up',
  people: 'say who belongs here',
  tokens: 'let scripts in',
};

/** Tokens that let scripts into this workspace; each is shown once. */
export function TokensSection() {
  const { id, path } = useWorkspacePath();
  const client = useQueryClient();
  const zone = useWorkspace().data?.zone ?? 'UTC';
  const { tell } = useNotices();
  const [name, setName] = useState('');
  const [rights, setRights] = useState<readonly Right[]>(['view', 'results']);
  const [days, setDays] = useState(90);
  const again = () => client.invalidateQueries({ queryKey: ['tokens', id] });
  const tokens = useQuery({
    queryKey: ['tokens', id],
    queryFn: () => ask(api.GET('/api/workspaces/{workspaceId}/tokens', { params: { path } })),
  });
  const make = useMutation({
    mutationFn: () =>
      ask(
        api.POST('/api/workspaces/{workspaceId}/tokens', {
          params: { path },
          body: { name, rights: [...rights], days },
        }),
      ),
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
        A script that sends one as <code>Authorization: Bearer …</code> may do in this workspace what you tick here, for
        as long as you say, and never more than you may. What it changes is logged under your name and its own.
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
                  <span className="block text-faded text-sm">
                    May {token.rights.map((right) => rightWords[right]).join(', ')}; until{' '}
                    {instantWords(token.endsAt, zone)}
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
        className="mt-4 flex flex-col gap-4"
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
              {...limits.TokenRequest.name}
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
          )}
        </Field>
        <fieldset>
          <legend className="mb-1 text-faded text-sm">What it may do</legend>
          <div className="grid grid-cols-2 gap-1">
            {offered.map((right) => (
              <Checkbox
                key={right}
                checked={rights.includes(right)}
                onChange={(on) => setRights(on ? [...rights, right] : rights.filter((r) => r !== right))}
              >
                {rightWords[right]}
              </Checkbox>
            ))}
          </div>
        </fieldset>
        <Field label="For how many days" hint="Up to 366.">
          {(id_, below) => (
            <input
              id={id_}
              aria-describedby={below}
              type="number"
              {...limits.TokenRequest.days}
              required
              className="field !w-28"
              value={days}
              onChange={(e) => setDays(e.target.valueAsNumber)}
            />
          )}
        </Field>
        <div>
          <Button type="submit" disabled={make.isPending || rights.length === 0}>
            Make a token
          </Button>
        </div>
      </form>
      <FormError error={make.error ?? revoke.error} />
    </section>
  );
}

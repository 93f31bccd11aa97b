import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, ask } from '../api/client';
import { addDays } from '../time/dates';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { useWorkspaceLink, useWorkspacePath } from '../workspaces/workspace';
import { savedQuery } from './SavedViews';

/** Most days that a file holds. */
const mostDays = 92;

/** What is shown, for other calendars: as a file, and as an address that stays up to date. */
export function TakeAlong({ from, to }: { from: string; to: string }) {
  const { id } = useWorkspacePath();
  const [search] = useSearchParams();
  const mayPlan = useWorkspaceLink().rights.includes('schedule');
  const query = savedQuery(search);
  const last = addDays(from, mostDays - 1) < to ? addDays(from, mostDays - 1) : to;
  return (
    <section aria-labelledby="for-other-calendars" className="flex flex-col gap-2">
      <h3 id="for-other-calendars">For other calendars</h3>
      <p>
        <a
          className="link"
          href={`/api/workspaces/${id}/calendar.ics?from=${from}&to=${last}&${query}`}
          download={`calendar-${from}.ics`}
        >
          What is shown, as a file (.ics)
        </a>
        {last < to && <span className="block text-faded text-sm">Its first {mostDays} days.</span>}
      </p>
      {mayPlan && <AddressForm query={query} />}
    </section>
  );
}

function AddressForm({ query }: { query: string }) {
  const { path } = useWorkspacePath();
  const [name, setName] = useState('');
  const make = useMutation({
    mutationFn: () =>
      ask(api.POST('/api/workspaces/{workspaceId}/calendar-feeds', { params: { path }, body: { name, query } })),
    onSuccess: () => setName(''),
  });
  return (
    <form
      className="flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        make.mutate();
      }}
    >
      <Field
        label="Or as a secret address, for"
        hint="Gives what the view is narrowed to, 31 days back and 120 ahead. Revoke it in Set-up, under Key dates."
      >
        {(id, below) => (
          <input
            id={id}
            aria-describedby={below}
            className="field"
            required
            maxLength={120}
            placeholder="my phone"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        )}
      </Field>
      <FormError error={make.error} />
      {make.data && (
        <div role="status" className="border-dawn border-l-4 bg-dawn-wash px-3 py-2">
          <p>Copy it now: it is not shown again. Whoever has it reads the calendar.</p>
          <code data-feed className="mt-1 block break-all font-semibold">
            {window.location.origin}
            {make.data.path}
          </code>
        </div>
      )}
      <div>
        <Button type="submit" disabled={make.isPending}>
          Make the address
        </Button>
      </div>
    </form>
  );
}

import type { UseMutationResult } from '@tanstack/react-query';
import { useState } from 'react';
import type { Schemas } from '../api/client';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { useNotices } from '../ui/Notices';
import { Popover } from '../ui/Popover';
import { Select } from '../ui/Select';
import { type ImportView, type RowFilter, rowsOf, theseRows } from './imports';
import { count } from './words';

interface Props {
  view: ImportView;
  filter: RowFilter;
  chosen: ReadonlySet<number>;
  replace: UseMutationResult<Schemas['RowsChanged'], Error, Schemas['ReplaceEdit']>;
}

/** Finds words in one column and puts others in their place: in the chosen rows, or in all that are shown. */
export function ReplaceForm({ view, filter, chosen, replace }: Props) {
  const { tell } = useNotices();
  const columns = view.columns.filter((c) => c.target !== null);
  const [open, setOpen] = useState(false);
  const [target, setTarget] = useState(columns.find((c) => c.target === 'text')?.target ?? columns[0]?.target ?? '');
  const [find, setFind] = useState('');
  const [instead, setInstead] = useState('');
  const run = () =>
    replace.mutate(
      { which: chosen.size > 0 ? theseRows([...chosen]) : rowsOf(filter), target, find, with: instead },
      {
        onSuccess: (changed) => {
          tell(
            changed.count === 0
              ? `“${find}” stands in none of these rows.`
              : `Replaced in ${count(changed.count, 'row')}.`,
          );
          if (changed.count > 0) setOpen(false);
        },
      },
    );
  return (
    <Popover label="Find and replace" open={open} onOpenChange={setOpen} trigger={<Button>Find and replace ▾</Button>}>
      <form
        className="flex w-72 flex-col gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          run();
        }}
      >
        <Field label="In the column">
          {(id) => (
            <Select
              id={id}
              value={target}
              options={columns.map((c) => ({ value: c.target ?? '', label: c.header || c.letters }))}
              onChange={setTarget}
            />
          )}
        </Field>
        <Field label="Find">
          {(id) => (
            <input id={id} className="field" value={find} maxLength={1000} onChange={(e) => setFind(e.target.value)} />
          )}
        </Field>
        <Field label="Put in its place">
          {(id) => (
            <input
              id={id}
              className="field"
              value={instead}
              maxLength={1000}
              onChange={(e) => setInstead(e.target.value)}
            />
          )}
        </Field>
        <FormError error={replace.error} />
        <Button type="submit" variant="primary" disabled={find === '' || replace.isPending}>
          Replace in {chosen.size > 0 ? `the ${count(chosen.size, 'chosen row')}` : 'all rows shown'}
        </Button>
      </form>
    </Popover>
  );
}

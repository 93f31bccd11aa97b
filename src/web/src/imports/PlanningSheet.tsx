import { useState } from 'react';
import { addDays } from '../time/dates';
import { DateField } from '../ui/DateField';
import { Field } from '../ui/Field';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';

/** The plan of a period as a sheet that comes back: edited cells change just those. */
export function PlanningSheet() {
  const { id } = useWorkspacePath();
  const today = useWorkspace().data?.today ?? '2026-01-01';
  const [chosen, setChosen] = useState<{ from?: string; to?: string }>({});
  const from = chosen.from ?? today;
  const to = chosen.to ?? addDays(today, 27);
  const address = (kind: string) => `/api/workspaces/${id}/imports/planning-sheet.${kind}?from=${from}&to=${to}`;
  return (
    <section aria-labelledby="planning">
      <h2 id="planning" className="border-ink border-b-[1.5px] pb-1">
        The plan as a sheet
      </h2>
      <p className="my-2 text-sm">
        What is scheduled, a row for each sending. Imported again as it is, it changes nothing; edited cells change just
        those: time, category, text, pictures.
      </p>
      <div className="flex items-end gap-3">
        <Field label="From" className="w-40">
          {(field) => (
            <DateField
              id={field}
              value={from}
              today={today}
              onChange={(date) => setChosen({ ...chosen, from: date })}
            />
          )}
        </Field>
        <Field label="To" className="w-40">
          {(field) => (
            <DateField id={field} value={to} today={today} onChange={(date) => setChosen({ ...chosen, to: date })} />
          )}
        </Field>
        <a className="link mb-1.5" href={address('xlsx')} download>
          Workbook
        </a>
        <a className="link mb-1.5" href={address('csv')} download>
          CSV
        </a>
      </div>
    </section>
  );
}

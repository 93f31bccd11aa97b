import { useQuery } from '@tanstack/react-query';
import { api, ask } from '../api/client';
import { addDays, daysBetween, shortDay } from '../time/dates';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { Select } from '../ui/Select';
import { useWorkspacePath } from '../workspaces/workspace';
import { comingKey, useKeyDateActs, useKeyDates } from './keyDates';

/** So many days around a delivery its key dates are looked for. */
const reach = 60;

/** "3 days before", as a delivery on one date stands to a key date on another. */
export function distanceWords(from: string, to: string): string {
  const days = daysBetween(from, to);
  if (days === 0) return 'on the day';
  const many = Math.abs(days) === 1 ? 'the day' : `${Math.abs(days)} days`;
  return days < 0 ? `${many} before` : `${many} after`;
}

/** The key date that a delivery stands relative to, and moves with. */
export function TiePart({ deliveryId, date }: { deliveryId: string; date: string }) {
  const { id, path } = useWorkspacePath();
  const near = useKeyDates(addDays(date, -reach), addDays(date, reach)).data ?? [];
  const tied = useQuery({
    queryKey: ['calendar', id, 'tie', deliveryId],
    queryFn: () =>
      ask(
        api.GET('/api/workspaces/{workspaceId}/deliveries/{id}/key-date', {
          params: { path: { ...path, id: deliveryId } },
        }),
      ),
  }).data;
  const { tie } = useKeyDateActs();
  if (near.length === 0 && !tied) return null;
  const current = tied ? comingKey({ id: tied.keyDateId, occurrence: tied.occurrence }) : '';
  const options = near
    .toSorted((a, b) => Math.abs(daysBetween(a.date, date)) - Math.abs(daysBetween(b.date, date)))
    .map((k) => ({ value: comingKey(k), label: `${k.title}, ${shortDay(k.date)}: ${distanceWords(k.date, date)}` }));
  const known = options.some((o) => o.value === current) || !tied;
  return (
    <div>
      <Field label="Stands relative to" hint="Where the key date moves, it is asked whether this moves along.">
        {(fieldId, below) => (
          <Select
            id={fieldId}
            aria-describedby={below}
            value={current}
            none="No key date"
            options={known ? options : [{ value: current, label: tied.title }, ...options]}
            onChange={(key) => {
              const [keyDateId, occurrence] = key.split('.');
              tie.mutate({ delivery: deliveryId, keyDateId: keyDateId || null, occurrence: occurrence ?? null });
            }}
          />
        )}
      </Field>
      <FormError error={tie.error} />
    </div>
  );
}

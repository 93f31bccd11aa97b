import { useQuery } from '@tanstack/react-query';
import { api, ask } from '../api/client';
import { FormError } from '../ui/FormError';
import { useWorkspacePath } from '../workspaces/workspace';
import { comingKey, tieOf, useKeyDateActs } from './keyDates';
import { TieSelect } from './TieSelect';

/** The key date that a delivery stands relative to, and moves with. */
export function TiePart({ deliveryId, date }: { deliveryId: string; date: string }) {
  const { id, path } = useWorkspacePath();
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
  return (
    <div>
      <TieSelect
        date={date}
        value={tied ? comingKey({ id: tied.keyDateId, occurrence: tied.occurrence }) : ''}
        title={tied?.title}
        hint="Where the key date moves, it is asked whether this moves along."
        onChange={(key) => tie.mutate({ delivery: deliveryId, ...tieOf(key) })}
      />
      <FormError error={tie.error} />
    </div>
  );
}

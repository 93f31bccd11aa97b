import { ChannelName } from '../channels/channels';
import { useSchedule, useSchedulePreview } from '../lineup/lineup';
import { longDay } from '../time/dates';
import { Button } from '../ui/Button';
import { Dialog } from '../ui/Dialog';
import { FormError } from '../ui/FormError';
import { Fetched } from '../ui/States';

const many = (count: number, one: string) => `${count} ${one}${count === 1 ? '' : 's'}`;

/** What scheduling everything through a date does, before it is done. */
export function ScheduleDialog({ through, onClose }: { through: string; onClose: () => void }) {
  const preview = useSchedulePreview(through);
  const schedule = useSchedule();
  return (
    <Dialog open title={`Schedule through ${longDay(through)}`} onClose={onClose}>
      <Fetched query={preview} what="what would be scheduled">
        {({ planStamp, places, deliveries, empty, waiting }) =>
          places === 0 ? (
            <>
              <p className="mb-4">Everything through then is scheduled already, or sends nothing.</p>
              <Button onClick={onClose}>Close</Button>
            </>
          ) : (
            <>
              <p className="mb-2">
                {many(places, 'place')} of the rota become deliveries that only a person changes from then on:
              </p>
              <ul className="mb-3 columns-2 gap-6 max-sm:columns-1">
                {deliveries.map(({ channelId, count }) => (
                  <li key={channelId} className="flex items-center gap-2">
                    <span className="w-8 text-right tabular-nums">{count}</span>
                    <ChannelName id={channelId} />
                  </li>
                ))}
              </ul>
              {waiting > 0 && <p className="mb-1 text-faded text-sm">{waiting} of them wait for approval.</p>}
              {empty > 0 && (
                <p className="mb-1 text-faded text-sm">
                  {many(empty, 'place')} {empty === 1 ? 'sends' : 'send'} nothing: no post can go there.
                </p>
              )}
              <FormError error={schedule.error} />
              <div className="mt-4 flex gap-3">
                <Button
                  variant="primary"
                  data-schedule-now
                  disabled={schedule.isPending || preview.isFetching}
                  onClick={() => schedule.mutate({ through, planStamp }, { onSuccess: onClose })}
                >
                  Schedule {many(places, 'place')}
                </Button>
                <Button onClick={onClose}>Leave them open</Button>
              </div>
            </>
          )
        }
      </Fetched>
    </Dialog>
  );
}

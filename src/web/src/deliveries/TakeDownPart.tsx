import { useState } from 'react';
import { Link } from 'react-router';
import { addDays, instantWords } from '../time/dates';
import { Button } from '../ui/Button';
import { FormError } from '../ui/FormError';
import { useWorkspace, useWorkspacePath } from '../workspaces/workspace';
import { useDelivery, useDeliveryActs } from './deliveries';
import { WhenForm } from './WhenForm';

/** What is out can be taken down, and sent again corrected; what becomes of its turn and its figures stands beside it. */
export function TakeDownPart({ deliveryId }: { deliveryId: string }) {
  const delivery = useDelivery(deliveryId).data;
  if (delivery?.state !== 'sent') return null;
  return (
    <section className="border-rule border-t pt-4" data-take-down>
      {delivery.takenDownAt ? <Correct delivery={delivery} /> : <TakeDown delivery={delivery} />}
    </section>
  );
}

type Delivery = NonNullable<ReturnType<typeof useDelivery>['data']>;

function TakeDown({ delivery }: { delivery: Delivery }) {
  const [sure, setSure] = useState(false);
  const { takeDown } = useDeliveryActs(delivery.id, delivery.revision);
  if (!sure) return <Button onClick={() => setSure(true)}>Take it down</Button>;
  return (
    <div className="flex flex-col gap-2">
      <h3>Take it down</h3>
      <p className="text-faded">
        Its turn stays: it was seen. The figures read until now stay too, and no more are read. This can’t be undone.
      </p>
      {!delivery.takesDown && (
        <p>Its network doesn’t let programs take it down. Take it down there, then say so here.</p>
      )}
      <FormError error={takeDown.error} />
      <div className="flex flex-wrap gap-2">
        {delivery.takesDown && (
          <Button variant="primary" disabled={takeDown.isPending} onClick={() => takeDown.mutate(false)}>
            Take it off the network
          </Button>
        )}
        <Button disabled={takeDown.isPending} onClick={() => takeDown.mutate(true)}>
          I have taken it down myself
        </Button>
        <Button variant="quiet" onClick={() => setSure(false)}>
          Leave it
        </Button>
      </div>
    </div>
  );
}

function Correct({ delivery }: { delivery: Delivery }) {
  const workspace = useWorkspace().data;
  const { to } = useWorkspacePath();
  const [open, setOpen] = useState(false);
  const { correct } = useDeliveryActs(delivery.id, delivery.revision);
  if (!workspace || !delivery.takenDownAt) return null;
  return (
    <div className="flex flex-col gap-2">
      <p>
        Taken down {instantWords(delivery.takenDownAt, workspace.zone)}. Its turn and the figures read until then stay.
      </p>
      {open ? (
        <>
          <p className="text-faded">
            It goes out as{' '}
            <Link className="link" to={to(`posts/${delivery.postId}`)}>
              the post
            </Link>{' '}
            says it now: a delivery of its own, with figures from nought.
          </p>
          <div>
            <Button
              variant="primary"
              disabled={correct.isPending}
              onClick={() => correct.mutate({ date: null, time: null })}
            >
              Send it again now
            </Button>
          </div>
          <WhenForm
            today={workspace.today}
            date={addDays(workspace.today, 1)}
            time={delivery.time.slice(0, 5)}
            act="Send it again then"
            busy={correct.isPending}
            error={correct.error}
            channels={[delivery.channelId]}
            onSubmit={(when) => correct.mutate(when, { onSuccess: () => setOpen(false) })}
          />
        </>
      ) : (
        <div>
          <Button onClick={() => setOpen(true)}>Send it again, corrected</Button>
        </div>
      )}
    </div>
  );
}

import { useState } from 'react';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { useDelivery, useDeliveryActs } from './deliveries';

interface Props {
  deliveryId: string;
  revision: number | null | undefined;
}

/** A post is out, but not all of it: the rest is tried again, said otherwise, or let be. */
export function RestForm({ deliveryId, revision }: Props) {
  // Without one, further parts are what is lacking.
  const firstComment = useDelivery(deliveryId).data?.look?.fields.firstComment ?? null;
  const { sendRest, dismiss } = useDeliveryActs(deliveryId, revision);
  const [comment, setComment] = useState<string | null>(null);
  const busy = sendRest.isPending || dismiss.isPending;
  if (comment !== null)
    return (
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          sendRest.mutate(comment, { onSuccess: () => setComment(null) });
        }}
      >
        <Field label="First comment" hint="The post itself stays as it is.">
          {(id, below) => (
            <textarea
              id={id}
              aria-describedby={below}
              rows={3}
              required
              // biome-ignore lint/a11y/noAutofocus: the person has just asked for this field.
              autoFocus
              className="field"
              value={comment}
              onChange={(event) => setComment(event.target.value)}
            />
          )}
        </Field>
        <FormError error={sendRest.error} />
        <div className="flex gap-2">
          <Button type="submit" variant="primary" disabled={busy}>
            Send it
          </Button>
          <Button variant="quiet" onClick={() => setComment(null)}>
            Back
          </Button>
        </div>
      </form>
    );
  return (
    <div className="flex flex-col gap-2" data-rest={deliveryId}>
      <FormError error={sendRest.error} />
      <div className="flex flex-wrap gap-2">
        <Button disabled={busy} onClick={() => sendRest.mutate(null)}>
          Try the rest again
        </Button>
        {firstComment !== null && (
          <Button disabled={busy} onClick={() => setComment(firstComment)}>
            Change the comment …
          </Button>
        )}
        <Button variant="quiet" disabled={busy} onClick={() => dismiss.mutate('rest')}>
          Dismiss
        </Button>
      </div>
    </div>
  );
}

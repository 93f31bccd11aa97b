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
  const lacking = useDelivery(deliveryId).data?.lacking ?? null;
  const what = lacking?.step.replace('-', ' ') ?? 'rest';
  const { sendRest, dismiss } = useDeliveryActs(deliveryId, revision);
  const [words, setWords] = useState<string | null>(null);
  const busy = sendRest.isPending || dismiss.isPending;
  if (words !== null)
    return (
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          sendRest.mutate(words, { onSuccess: () => setWords(null) });
        }}
      >
        <Field
          label={what === 'comment' ? 'First comment' : `P${what.slice(1)}`}
          hint="The post itself stays as it is."
        >
          {(id, below) => (
            <textarea
              id={id}
              aria-describedby={below}
              rows={3}
              required
              // biome-ignore lint/a11y/noAutofocus: the person has just asked for this field.
              autoFocus
              className="field"
              value={words}
              onChange={(event) => setWords(event.target.value)}
            />
          )}
        </Field>
        <FormError error={sendRest.error} />
        <div className="flex gap-2">
          <Button type="submit" variant="primary" disabled={busy}>
            Send it
          </Button>
          <Button variant="quiet" onClick={() => setWords(null)}>
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
        {lacking && (
          <Button disabled={busy} onClick={() => setWords(lacking.words)}>
            Change the {what} …
          </Button>
        )}
        <Button variant="quiet" disabled={busy} onClick={() => dismiss.mutate('rest')}>
          Dismiss
        </Button>
      </div>
    </div>
  );
}

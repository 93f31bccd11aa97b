import { useState } from 'react';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { useDeliveryActs } from './deliveries';

interface Props {
  deliveryId: string;
  revision: number | null | undefined;
}

/** A delivery may have gone out without our knowing: the person looks on the network and says what they found. */
export function FoundForm({ deliveryId, revision }: Props) {
  const { found, dismiss } = useDeliveryActs(deliveryId, revision);
  const [there, setThere] = useState(false);
  const [address, setAddress] = useState('');
  const busy = found.isPending || dismiss.isPending;
  if (there)
    return (
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          found.mutate({ found: 'isThere', address });
        }}
      >
        <Field label="The post's address on the network" hint="Open the post there and copy its address.">
          {(id, below) => (
            <input
              id={id}
              aria-describedby={below}
              type="url"
              // biome-ignore lint/a11y/noAutofocus: the person has just asked for this field.
              autoFocus
              required
              placeholder="https://"
              className="field"
              value={address}
              onChange={(event) => setAddress(event.target.value)}
            />
          )}
        </Field>
        <FormError error={found.error} />
        <div className="flex gap-2">
          <Button type="submit" variant="primary" disabled={busy}>
            Note it as sent
          </Button>
          <Button variant="quiet" onClick={() => setThere(false)}>
            Back
          </Button>
        </div>
      </form>
    );
  return (
    <div className="flex flex-col gap-2" data-found={deliveryId}>
      <FormError error={found.error} />
      <div className="flex flex-wrap gap-2">
        <Button disabled={busy} onClick={() => setThere(true)}>
          It is there…
        </Button>
        <Button disabled={busy} onClick={() => found.mutate({ found: 'isNotThere' })}>
          It isn't: send it
        </Button>
        <Button disabled={busy} onClick={() => found.mutate({ found: 'lookAgain' })}>
          Look again
        </Button>
        <Button variant="quiet" disabled={busy} onClick={() => dismiss.mutate('failure')}>
          Leave it
        </Button>
      </div>
    </div>
  );
}

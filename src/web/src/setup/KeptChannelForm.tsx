import { useState } from 'react';
import { type Channel, useKeepChannel } from '../channels/channels';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';

/** A blog, a newsletter, a network that isn't connected: planned here, and put there by somebody. */
export function KeptChannelForm({ channel, onDone }: { channel: Channel | null; onDone: () => void }) {
  const [name, setName] = useState(channel?.name ?? '');
  const [handle, setHandle] = useState(channel?.handle ?? '');
  const keep = useKeepChannel(channel?.id ?? null);
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate({ name, handle }, { onSuccess: onDone });
      }}
    >
      <p className="text-faded">
        For what has no connection: a blog, a newsletter, a network that isn’t here. Posts are planned on it like on any
        channel. When their time comes they wait in Today with all that is to be posted, until you say that they are
        out.
      </p>
      <Field label="Name of the channel">
        {(id) => (
          <input
            id={id}
            className="field"
            required
            maxLength={120}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        )}
      </Field>
      <Field label="What it is, or where" hint="Newsletter, or the blog’s address.">
        {(id, below) => (
          <input
            id={id}
            aria-describedby={below}
            className="field"
            maxLength={200}
            value={handle}
            onChange={(event) => setHandle(event.target.value)}
          />
        )}
      </Field>
      <FormError error={keep.error} />
      <div>
        <Button type="submit" variant="primary" disabled={keep.isPending}>
          {channel ? 'Save the channel' : 'Keep the channel'}
        </Button>
      </div>
    </form>
  );
}

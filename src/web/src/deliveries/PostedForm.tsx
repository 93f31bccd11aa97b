import { useState } from 'react';
import type { Schemas } from '../api/client';
import { useChannel } from '../channels/channels';
import { sentAddress, useMediaFacts } from '../media/media';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { useWorkspacePath } from '../workspaces/workspace';
import { useDelivery, useDeliveryActs } from './deliveries';

interface Props {
  deliveryId: string;
  revision: number | null | undefined;
}

/** What the network takes from a person only: all of it to copy and to save, and what became of it. */
export function PostedForm({ deliveryId, revision }: Props) {
  const delivery = useDelivery(deliveryId).data;
  const fields = delivery?.look?.fields;
  const isKept = useChannel(delivery?.channelId ?? '')?.connection === 'keptByHand';
  const { posted, cancel } = useDeliveryActs(deliveryId, revision);
  const [address, setAddress] = useState('');
  const busy = posted.isPending || cancel.isPending;
  return (
    <div className="flex flex-col gap-3" data-posted={deliveryId}>
      {fields && <ToPost fields={fields} />}
      <form
        className="flex flex-col gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          posted.mutate(address);
        }}
      >
        <Field
          label="Once it is posted, its address there"
          hint={isKept ? 'Leave it empty where it has none.' : 'Open the post on the network and copy its address.'}
        >
          {(id, below) => (
            <input
              id={id}
              aria-describedby={below}
              type="url"
              required={!isKept}
              placeholder="https://"
              className="field"
              value={address}
              onChange={(event) => setAddress(event.target.value)}
            />
          )}
        </Field>
        <FormError error={posted.error} />
        <div className="flex flex-wrap gap-2">
          <Button type="submit" variant="primary" disabled={busy}>
            Done, it is posted
          </Button>
          <Button disabled={busy} onClick={() => cancel.mutate()}>
            Not this time
          </Button>
        </div>
      </form>
    </div>
  );
}

function ToPost({ fields }: { fields: Schemas['FieldValues'] }) {
  const files = [
    ...(fields.pictures ?? []),
    ...[fields.video, fields.document].flatMap((media) => (media ? [{ media, crop: null }] : [])),
  ];
  return (
    <div className="flex flex-col gap-2">
      {fields.format && <p className="text-faded text-sm">As: {fields.format}</p>}
      <Copied label="Text" words={fields.text} />
      <Copied label="First comment" words={fields.firstComment} />
      <Copied label="Location" words={fields.location} />
      {files.length > 0 && (
        <ul className="flex flex-wrap gap-x-3 gap-y-1 text-sm">
          {files.map(({ media, crop }, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: the same picture may stand twice
            <Saved key={i} media={media} crop={crop} />
          ))}
        </ul>
      )}
    </div>
  );
}

function Copied({ label, words }: { label: string; words: string | null | undefined }) {
  const [done, setDone] = useState(false);
  if (!words) return null;
  return (
    <div className="flex items-start gap-3 border-rule-strong border-l-2 pl-3">
      <div className="min-w-0 flex-1">
        <span className="block text-faded text-sm">{label}</span>
        <p className="max-h-40 overflow-y-auto whitespace-pre-wrap break-words">{words}</p>
      </div>
      <Button
        aria-label={`Copy the ${label.toLowerCase()}`}
        onClick={async () => {
          await navigator.clipboard.writeText(words);
          setDone(true);
        }}
      >
        {done ? 'Copied' : 'Copy'}
      </Button>
    </div>
  );
}

/** As a network would get it: the part that was chosen, without its place, date and maker. */
function Saved({ media, crop }: { media: string; crop?: Schemas['Crop'] | null | undefined }) {
  const { id } = useWorkspacePath();
  const name = useMediaFacts(media).data?.fileName ?? 'file';
  return (
    <li>
      <a className="link inline-block min-h-6" href={sentAddress(id, media, crop)} download={name}>
        Save {name}
      </a>
    </li>
  );
}

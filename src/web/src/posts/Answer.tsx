import { useState } from 'react';
import { limits } from '../api/limits';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { useApprove, useSendBack } from './posts';

/** The two answers to a post that waits: yes to the version that was read, or back with a note. */
export function Answer({ postId, version }: { postId: string; version: number }) {
  const yes = useApprove();
  const back = useSendBack();
  const [note, setNote] = useState<string | null>(null);
  if (note === null)
    return (
      <div className="flex gap-2">
        <Button variant="primary" disabled={yes.isPending} onClick={() => yes.mutate({ id: postId, version })}>
          Approve
        </Button>
        <Button onClick={() => setNote('')}>Send back …</Button>
      </div>
    );
  return (
    <form
      className="flex w-full flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        back.mutate({ id: postId, note });
      }}
    >
      <Field label="What should change">
        {(id) => (
          <textarea
            id={id}
            rows={2}
            className="field"
            required
            {...limits.SendBackRequest.note}
            value={note}
            onChange={(e) => setNote(e.target.value)}
          />
        )}
      </Field>
      <FormError error={back.error} />
      <div className="flex gap-2">
        <Button type="submit" variant="primary" disabled={back.isPending}>
          Send it back
        </Button>
        <Button variant="quiet" onClick={() => setNote(null)}>
          Leave it
        </Button>
      </div>
    </form>
  );
}

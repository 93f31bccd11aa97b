import { useState } from 'react';
import { Button } from '../ui/Button';
import { Checkbox } from '../ui/Checkbox';
import { Dialog } from '../ui/Dialog';
import { FormError } from '../ui/FormError';
import { type Consequences, type RotaEdit, useConsequences, useSaveRota } from './rota';

interface Props {
  rotaId: string;
  edit: () => RotaEdit;
  disabled: boolean;
  onDone: () => void;
}

/** Applies a layout. What it would do to people's decisions and to scheduled deliveries is asked first. */
export function Apply({ rotaId, edit, disabled, onDone }: Props) {
  const look = useConsequences(rotaId);
  const save = useSaveRota();
  const [asked, setAsked] = useState<Consequences | null>(null);
  const apply = (answers: Partial<RotaEdit> = {}) =>
    save.mutate(
      { id: rotaId, edit: { ...edit(), ...answers } },
      { onSuccess: onDone, onSettled: () => setAsked(null) },
    );
  return (
    <>
      <FormError error={save.error ?? look.error} />
      <Button
        variant="primary"
        disabled={disabled || save.isPending || look.isPending}
        onClick={() =>
          look.mutate(edit(), {
            onSuccess: (found) => (found.orphans.length > 0 || found.scheduled > 0 ? setAsked(found) : apply()),
          })
        }
      >
        Apply
      </Button>
      <Dialog open={asked !== null} title="Before it is applied" onClose={() => setAsked(null)}>
        {asked && <Answers asked={asked} busy={save.isPending} onApply={apply} onClose={() => setAsked(null)} />}
      </Dialog>
    </>
  );
}

interface AnswersProps {
  asked: Consequences;
  busy: boolean;
  onApply: (answers: Partial<RotaEdit>) => void;
  onClose: () => void;
}

function Answers({ asked, busy, onApply, onClose }: AnswersProps) {
  const [keepsOrphans, setKeeps] = useState(true);
  const [movesScheduled, setMoves] = useState(false);
  const posts = asked.orphans.reduce((sum, orphan) => sum + orphan.posts, 0);
  return (
    <div className="flex flex-col gap-4">
      {asked.orphans.length > 0 && (
        <div>
          <p>
            {asked.orphans.length === 1 ? 'A decision is' : `${asked.orphans.length} decisions are`} about dates that no
            longer occur:
          </p>
          <ul className="ruled my-2 max-h-48 overflow-y-auto" data-orphans>
            {asked.orphans.map((orphan) => (
              <li key={`${orphan.slotId} ${orphan.date}`} className="py-1">
                {orphan.words}
              </li>
            ))}
          </ul>
          {posts > 0 && (
            <Checkbox checked={keepsOrphans} onChange={setKeeps}>
              Keep {posts === 1 ? 'its post' : `their ${posts} posts`} at {posts === 1 ? 'its' : 'their'} old time, as
              exact times
            </Checkbox>
          )}
        </div>
      )}
      {asked.scheduled > 0 && (
        <div>
          <p>
            {asked.scheduled === 1 ? 'A scheduled delivery stays' : `${asked.scheduled} scheduled deliveries stay`} at
            the old time, unless moved too.
          </p>
          <Checkbox checked={movesScheduled} onChange={setMoves}>
            Move {asked.scheduled === 1 ? 'it' : `these ${asked.scheduled}`} too
          </Checkbox>
        </div>
      )}
      <div className="flex gap-2">
        <Button
          variant="primary"
          disabled={busy}
          onClick={() => onApply({ keepsOrphans: keepsOrphans && posts > 0, movesScheduled })}
        >
          Apply it so
        </Button>
        <Button variant="quiet" onClick={onClose}>
          Not yet
        </Button>
      </div>
    </div>
  );
}

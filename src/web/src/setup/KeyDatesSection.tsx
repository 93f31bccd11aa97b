import { useState } from 'react';
import { KindMark } from '../keydates/KeyDateMark';
import { type KeyDateKind, useKeyDateKinds } from '../keydates/keyDates';
import { Button } from '../ui/Button';
import { Checkbox } from '../ui/Checkbox';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { Sheet } from '../ui/Sheet';
import { Fetched } from '../ui/States';
import { CalendarsSection } from './CalendarsSection';
import { FeedsSection } from './FeedsSection';
import { useKindActs } from './keyDateSetUp';

const blank: KeyDateKind = { id: '', name: '', mark: '', colour: '#2f6f8f', isShownToClients: true };

/** Which sorts of key dates there are, and the calendars that they come from and go to. */
export function KeyDatesSection() {
  const kinds = useKeyDateKinds();
  const [open, setOpen] = useState<KeyDateKind | null>(null);
  return (
    <>
      <section aria-labelledby="kinds" className="max-w-3xl">
        <h2 id="kinds" className="border-ink border-b-[1.5px] pb-1">
          Kinds of key dates
        </h2>
        <Fetched query={kinds} what="the kinds">
          {(list) => (
            <>
              {list.length === 0 && (
                <p className="py-3 text-faded">
                  None yet. Name what matters to you: events, launches, newsletters, people to get in touch with.
                </p>
              )}
              <ul className="ruled">
                {list.map((kind) => (
                  <li key={kind.id} data-kind={kind.name} className="flex items-center gap-3 py-2">
                    <span className="w-10">
                      <KindMark kind={kind} />
                    </span>
                    <span className="flex-1 font-medium">{kind.name}</span>
                    <span className="text-faded text-sm">
                      {kind.isShownToClients ? 'shown to clients' : 'not shown to clients'}
                    </span>
                    <Button aria-label={`Change the kind ${kind.name}`} onClick={() => setOpen(kind)}>
                      Change
                    </Button>
                  </li>
                ))}
              </ul>
            </>
          )}
        </Fetched>
        <Button className="mt-3" onClick={() => setOpen(blank)}>
          Add a kind
        </Button>
      </section>
      <CalendarsSection kinds={kinds.data ?? []} />
      <FeedsSection />
      <Sheet open={open !== null} title={open?.name || 'A new kind of key dates'} onClose={() => setOpen(null)}>
        {open && <KindForm key={open.id} kind={open} onDone={() => setOpen(null)} />}
      </Sheet>
    </>
  );
}

function KindForm({ kind, onDone }: { kind: KeyDateKind; onDone: () => void }) {
  const [edit, setEdit] = useState(kind);
  const { save, remove } = useKindActs(onDone);
  const { id, ...body } = edit;
  return (
    <form
      className="flex flex-col gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate({ id: id || null, body });
      }}
    >
      <Field label="Name of the kind">
        {(fieldId) => (
          <input
            id={fieldId}
            className="field"
            required
            maxLength={120}
            value={edit.name}
            onChange={(event) => setEdit({ ...edit, name: event.target.value })}
          />
        )}
      </Field>
      <div className="flex gap-4">
        <Field label="Mark" hint="One or two characters.">
          {(fieldId, below) => (
            <input
              id={fieldId}
              aria-describedby={below}
              className="field !w-20"
              required
              maxLength={4}
              value={edit.mark}
              onChange={(event) => setEdit({ ...edit, mark: event.target.value })}
            />
          )}
        </Field>
        <Field label="Colour">
          {(fieldId) => (
            <input
              id={fieldId}
              type="color"
              className="h-8 w-16 rounded-md border border-rule-strong bg-leaf"
              value={edit.colour}
              onChange={(event) => setEdit({ ...edit, colour: event.target.value })}
            />
          )}
        </Field>
        <span className="self-center pt-4 text-lg">
          <KindMark kind={edit} />
        </span>
      </div>
      <Checkbox checked={edit.isShownToClients} onChange={(isShownToClients) => setEdit({ ...edit, isShownToClients })}>
        Shown to clients
      </Checkbox>
      <FormError error={save.error} />
      <div className="flex gap-2">
        <Button type="submit" variant="primary" disabled={save.isPending}>
          {id ? 'Save the kind' : 'Add the kind'}
        </Button>
        {id && (
          <Button disabled={remove.isPending} onClick={() => remove.mutate(edit)}>
            Remove it
          </Button>
        )}
      </div>
    </form>
  );
}

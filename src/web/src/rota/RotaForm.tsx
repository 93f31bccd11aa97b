import { useState } from 'react';
import { limits } from '../api/limits';
import { RemoveButton } from '../changes/RemoveButton';
import { addDays } from '../time/dates';
import { Button } from '../ui/Button';
import { DateField } from '../ui/DateField';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { Select } from '../ui/Select';
import { useWorkspace } from '../workspaces/workspace';
import { editOf } from './draft';
import { type Rota, useRemoveRota, useSaveRota } from './rota';
import { settingsOf, useDraft } from './useDraft';

interface Props {
  rota: Rota;
  all: readonly Rota[];
  onDone: () => void;
  onChosen: (id: string) => void;
}

/** A rota's name and dates; saved with its slots as they are applied now. */
export function RotaForm({ rota, all, onDone, onChosen }: Props) {
  const save = useSaveRota();
  const remove = useRemoveRota();
  const draft = useDraft(rota);
  const today = useWorkspace().data?.today ?? '';
  const [name, setName] = useState(rota.name);
  const [from, setFrom] = useState(rota.from);
  const [to, setTo] = useState(rota.to);
  const [replaces, setReplaces] = useState(rota.replaces ?? '');
  const others = all.filter((r) => r.id !== rota.id && !r.replaces);
  return (
    <form
      className="flex flex-col gap-5"
      onSubmit={(event) => {
        event.preventDefault();
        const edit = {
          ...settingsOf(rota),
          name,
          from,
          to,
          replaces: replaces || null,
          slots: draft.slots.filter((s) => s.channels.length > 0).map(editOf),
        };
        save.mutate(
          { id: rota.id, edit },
          {
            onSuccess: () => {
              draft.set(null);
              onDone();
            },
          },
        );
      }}
    >
      <Field label="Name of the rota">
        {(id) => (
          <input
            id={id}
            className="field"
            required
            {...limits.RotaEdit.name}
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
        )}
      </Field>
      {from && to ? (
        <div className="grid grid-cols-2 gap-3">
          <Field label="First day">{(id) => <DateField id={id} value={from} today={today} onChange={setFrom} />}</Field>
          <Field label="Last day">{(id) => <DateField id={id} value={to} today={today} onChange={setTo} />}</Field>
          <Button
            variant="quiet"
            className="justify-self-start"
            onClick={() => {
              setFrom(null);
              setTo(null);
              setReplaces('');
            }}
          >
            Always
          </Button>
        </div>
      ) : (
        <Button
          variant="quiet"
          className="self-start"
          onClick={() => {
            setFrom(today);
            setTo(addDays(today, 27));
          }}
        >
          Only between two dates …
        </Button>
      )}
      {others.length > 0 && from && to && (
        <Field
          label="Beside the others, or instead of one"
          hint="What it replaces sends nothing between the two dates, and is shown as replaced."
        >
          {(id) => (
            <Select
              id={id}
              none="Beside the others"
              value={replaces}
              options={others.map((r) => ({ value: r.id, label: `Instead of ${r.name}` }))}
              onChange={setReplaces}
            />
          )}
        </Field>
      )}
      <FormError error={save.error} />
      <div className="flex gap-2">
        <Button type="submit" variant="primary" disabled={save.isPending}>
          Save the rota
        </Button>
        {all.length > 1 && (
          <RemoveButton
            label="Remove the rota"
            id={rota.id}
            remove={remove}
            words={() => `${rota.name} is gone.`}
            onDone={() => {
              onDone();
              const other = all.find((r) => r.id !== rota.id);
              if (other) onChosen(other.id);
            }}
          />
        )}
      </div>
    </form>
  );
}

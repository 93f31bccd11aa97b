import { useState } from 'react';
import type { Schemas } from '../api/client';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { FormError } from '../ui/FormError';
import { useVocabulary } from '../vocabulary/vocabulary';
import { useEnterFigures } from './results';

/** Figures that a person read on the network, where it doesn't tell them or tells them wrongly. */
export function EnterFigures({ id, known }: { id: string; known: Schemas['FigureSet'] | null }) {
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState<Record<string, string>>({});
  const kinds = useVocabulary().data?.figures ?? [];
  const enter = useEnterFigures(id);
  if (!open)
    return (
      <button type="button" className="link min-h-6 self-start text-sm" onClick={() => setOpen(true)}>
        Write figures down by hand
      </button>
    );
  const value = (key: keyof Schemas['FigureSet']) => typed[key] ?? String(known?.[key] ?? '');
  const figures = Object.fromEntries(
    kinds.filter((k) => value(k.key).trim() !== '').map((k) => [k.key, Number(value(k.key))]),
  );
  const wrong = kinds.filter((k) => k.key in figures && !((figures[k.key] as number) >= 0));
  return (
    <form
      className="border-rule border-t pt-3"
      onSubmit={(event) => {
        event.preventDefault();
        enter.mutate(figures, { onSuccess: () => setOpen(false) });
      }}
    >
      <p className="mb-2 text-faded text-sm">
        As they stand now. What you leave empty stays missing; missing is not nought.
      </p>
      <div className="grid grid-cols-2 gap-x-5 gap-y-2">
        {kinds.map((kind) => (
          <Field key={kind.key} label={kind.words}>
            {(field) => (
              <input
                id={field}
                className="field"
                inputMode="numeric"
                autoComplete="off"
                value={value(kind.key)}
                aria-invalid={wrong.includes(kind)}
                onChange={(event) => setTyped({ ...typed, [kind.key]: event.target.value })}
              />
            )}
          </Field>
        ))}
      </div>
      {wrong.length > 0 && <p className="mt-2 text-bad">Write numbers from 0 on, without letters.</p>}
      <FormError error={enter.error} />
      <div className="mt-3 flex gap-2">
        <Button
          variant="primary"
          type="submit"
          disabled={enter.isPending || wrong.length > 0 || Object.keys(figures).length === 0}
        >
          Keep these figures
        </Button>
        <Button onClick={() => setOpen(false)}>Leave it</Button>
      </div>
    </form>
  );
}

import { limits } from '../../api/limits';
import { useCategories } from '../../categories/categories';
import type { PostEdit } from '../../posts/posts';
import { addDays } from '../../time/dates';
import { Button } from '../../ui/Button';
import { Checkbox } from '../../ui/Checkbox';
import { DateField } from '../../ui/DateField';
import { Field } from '../../ui/Field';
import { Select } from '../../ui/Select';
import { useWorkspace } from '../../workspaces/workspace';

interface Props {
  edit: PostEdit;
  change: (part: Partial<PostEdit>) => void;
}

const lifespans = [
  { value: 'evergreen', label: 'May come round again' },
  { value: 'once', label: 'Once on each channel' },
  { value: 'onceAltogether', label: 'Once altogether' },
];

/** How the post takes part in the rotation: how often, and what narrows when it may go. */
export function RotationPart({ edit, change }: Props) {
  const categories = useCategories().data ?? [];
  const today = useWorkspace().data?.today ?? '';
  const further = edit.furtherCategories ?? [];
  return (
    <details className="border-rule border-t pt-3">
      <summary className="cursor-pointer text-faded">How it takes part in the rotation</summary>
      <div className="mt-3 flex flex-col gap-4">
        <Field label="Lifespan">
          {(id) => (
            <Select
              id={id}
              value={edit.lifespan}
              options={lifespans}
              onChange={(lifespan) => change({ lifespan: lifespan as PostEdit['lifespan'] })}
            />
          )}
        </Field>
        <Checkbox checked={edit.inRotation} onChange={(inRotation) => change({ inRotation })}>
          Takes part in the rotation
        </Checkbox>
        <div className="flex flex-col gap-0.5">
          {categories
            .filter((c) => c.id !== edit.categoryId)
            .map((c) => (
              <Checkbox
                key={c.id}
                checked={further.includes(c.id)}
                onChange={(on) =>
                  change({ furtherCategories: on ? [...further, c.id] : further.filter((id) => id !== c.id) })
                }
              >
                Takes turns in {c.name} too
              </Checkbox>
            ))}
        </div>
        {edit.from && edit.to ? (
          <div className="grid grid-cols-2 gap-3">
            <Field label="Not before">
              {(id) => (
                <DateField id={id} value={edit.from ?? today} today={today} onChange={(from) => change({ from })} />
              )}
            </Field>
            <Field label="Not after">
              {(id) => <DateField id={id} value={edit.to ?? today} today={today} onChange={(to) => change({ to })} />}
            </Field>
            <Button variant="quiet" className="justify-self-start" onClick={() => change({ from: null, to: null })}>
              At any time
            </Button>
          </div>
        ) : (
          <Button
            variant="quiet"
            className="self-start"
            onClick={() => change({ from: today, to: addDays(today, 27) })}
          >
            Only between two dates …
          </Button>
        )}
        <Field label="Repeat gap of its own, days" hint="Empty takes its category’s.">
          {(id) => (
            <input
              id={id}
              type="number"
              {...limits.PostEdit.gapDays}
              className="field !w-24"
              value={edit.gapDays ?? ''}
              onChange={(e) => change({ gapDays: e.target.value ? e.target.valueAsNumber : null })}
            />
          )}
        </Field>
      </div>
    </details>
  );
}

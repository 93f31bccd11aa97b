import { Button } from '../ui/Button';
import { Checkbox } from '../ui/Checkbox';
import type { Thread } from './content';
import { PicturesField } from './PicturesField';

interface Props {
  label: string;
  value: Thread | null;
  onChange: (thread: Thread | null) => void;
}

/** What follows the post's own text, part by part, each under the one before. */
export function ThreadField({ label, value, onChange }: Props) {
  const parts = value?.parts ?? [];
  const say = (changed: Thread['parts']) => onChange(changed.length === 0 ? null : { ...value, parts: changed });
  return (
    <fieldset data-thread>
      <legend className="mb-1 text-faded text-sm">{label}</legend>
      <ol className="flex flex-col gap-3">
        {parts.map((part, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a part is known by its place alone
          <li key={i} className="flex flex-col gap-1 border-rule-strong border-l-2 pl-3">
            <textarea
              className="field"
              rows={3}
              aria-label={`Part ${i + 2}`}
              value={part.text}
              onChange={(e) => say(parts.map((p, at) => (at === i ? { ...p, text: e.target.value } : p)))}
            />
            <PicturesField
              label={`Pictures of part ${i + 2}`}
              value={part.pictures ?? []}
              onChange={(pictures) =>
                say(parts.map((p, at) => (at === i ? { ...p, pictures: pictures.length > 0 ? pictures : null } : p)))
              }
            />
            <Button variant="quiet" className="self-start" onClick={() => say(parts.filter((_, at) => at !== i))}>
              Take part {i + 2} away
            </Button>
          </li>
        ))}
      </ol>
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <Button onClick={() => say([...parts, { text: '' }])}>Add a part</Button>
        {parts.length > 0 && (
          <Checkbox
            checked={value?.isNumbered ?? false}
            onChange={(isNumbered) => onChange({ ...value, parts, isNumbered })}
          >
            Number the parts
          </Checkbox>
        )}
      </div>
    </fieldset>
  );
}

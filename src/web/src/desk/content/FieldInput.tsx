import type { Schemas } from '../../api/client';
import type { FieldKey, FieldValue, Picture } from '../../posts/content';
import { Button } from '../../ui/Button';
import { DateField } from '../../ui/DateField';
import { Field } from '../../ui/Field';
import { Select } from '../../ui/Select';
import { useWorkspace } from '../../workspaces/workspace';
import { FileField } from './FileField';
import { PicturesField } from './PicturesField';

export type FieldWords = Schemas['FieldWords'];

interface Props {
  field: FieldWords;
  label: string;
  hint?: string | undefined;
  /** The values to choose from, where they are listed. */
  options: readonly string[];
  value: FieldValue;
  /** Null: nothing. */
  onChange: (value: FieldValue) => void;
}

/** The input of a content field, as its kind wants it; a thread, which belongs to its text, has one of its own. */
export function FieldInput({ field, label, hint, options, value, onChange }: Props) {
  if (field.kind === 'pictures')
    return (
      <PicturesField
        label={label}
        value={(value as Picture[] | null) ?? []}
        onChange={(all) => onChange(all.length > 0 ? all : null)}
      />
    );
  if (field.kind === 'file')
    return <FileField field={field.key as FieldKey} label={label} value={value as string | null} onChange={onChange} />;
  return (
    <Field label={label} hint={hint}>
      {(id, describedBy) => (
        <WordsInput
          id={id}
          describedBy={describedBy}
          kind={field.kind}
          options={options}
          value={typeof value === 'string' ? value : ''}
          onChange={onChange}
        />
      )}
    </Field>
  );
}

interface WordsProps {
  id: string;
  describedBy: string | undefined;
  kind: FieldWords['kind'];
  options: readonly string[];
  value: string;
  onChange: (value: string) => void;
}

function WordsInput({ id, describedBy, kind, options, value, onChange }: WordsProps) {
  const props = { id, 'aria-describedby': describedBy, value };
  if (kind === 'choice')
    return (
      <Select
        {...props}
        none="As the network has it"
        options={options.map((o) => ({ value: o, label: o[0]?.toUpperCase() + o.slice(1) }))}
        onChange={onChange}
      />
    );
  if (kind === 'date') return <OptionalDate id={id} value={value} onChange={onChange} />;
  if (kind === 'text')
    return <textarea {...props} rows={3} className="field" onChange={(e) => onChange(e.target.value)} />;
  return (
    <>
      <input
        {...props}
        className="field"
        list={options.length > 0 ? `${id}-list` : undefined}
        onChange={(e) => onChange(e.target.value)}
      />
      {options.length > 0 && (
        <datalist id={`${id}-list`}>
          {options.map((o) => (
            <option key={o} value={o} />
          ))}
        </datalist>
      )}
    </>
  );
}

function OptionalDate({ id, value, onChange }: Pick<WordsProps, 'id' | 'value' | 'onChange'>) {
  const today = useWorkspace().data?.today ?? '';
  if (value === '')
    return (
      <Button id={id} disabled={today === ''} onClick={() => onChange(today)}>
        Give a date
      </Button>
    );
  return (
    <div className="flex items-center gap-2">
      <DateField id={id} value={value} today={today} onChange={onChange} className="flex-1" />
      <Button variant="quiet" onClick={() => onChange('')}>
        No date
      </Button>
    </div>
  );
}

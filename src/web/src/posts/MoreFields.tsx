import type { Schemas } from '../api/client';
import type { Network } from '../networks/networks';
import { Button } from '../ui/Button';
import { DateField } from '../ui/DateField';
import { Field } from '../ui/Field';
import { Select } from '../ui/Select';
import { useVocabulary } from '../vocabulary/vocabulary';
import { useWorkspace } from '../workspaces/workspace';
import type { FieldKey, FieldValues } from './content';

type FieldWords = Schemas['FieldWords'];

/** Fields that only some networks take, as far as these do. */
function useMoreFields(networks: readonly Network[]): FieldWords[] {
  const fields = useVocabulary().data?.fields ?? [];
  return fields.filter((f) => !f.isEverywhere && networks.some((n) => n.fields?.[f.key]));
}

interface CommonProps {
  networks: readonly Network[];
  values: FieldValues;
  onChange: (key: FieldKey, value: string | null) => void;
}

/** What some of the networks that a post goes to take besides text, link and picture. */
export function MoreFields({ networks, values, onChange }: CommonProps) {
  return useMoreFields(networks).map((field) => {
    const takers = networks.filter((n) => n.fields?.[field.key]);
    return (
      <Field key={field.key} label={field.name} hint={`For ${takers.map((n) => n.name).join(', ')}.`}>
        {(id, describedBy) => (
          <FieldInput
            id={id}
            describedBy={describedBy}
            field={field}
            options={[...new Set(takers.flatMap((n) => n.fields?.[field.key]?.values ?? []))]}
            value={values[field.key as FieldKey] ?? ''}
            onChange={(value) => onChange(field.key as FieldKey, value || null)}
          />
        )}
      </Field>
    );
  });
}

interface OwnProps {
  network: Network;
  common: FieldValues;
  own: FieldValues;
  onChange: (key: FieldKey, value: string | null | undefined) => void;
}

/** The same for one network: inherited until it is changed. */
export function OwnFields({ network, common, own, onChange }: OwnProps) {
  return useMoreFields([network]).map((field) => {
    const key = field.key as FieldKey;
    const name = field.name.toLowerCase();
    if (own[key] === undefined)
      return (
        <p key={key} className="flex items-center justify-between gap-2 text-sm">
          <span className="text-faded">{field.name} as in the common content</span>
          <Button
            aria-label={`Say otherwise: ${name} for ${network.name}`}
            onClick={() => onChange(key, common[key] ?? '')}
          >
            Say otherwise
          </Button>
        </p>
      );
    return (
      <div key={key} className="border-dawn border-l-2 pl-3">
        <Field label={`${field.name} for ${network.name}`}>
          {(id, describedBy) => (
            <FieldInput
              id={id}
              describedBy={describedBy}
              field={field}
              options={network.fields?.[key]?.values ?? []}
              value={own[key] ?? ''}
              onChange={(value) => onChange(key, value)}
            />
          )}
        </Field>
        <Button variant="quiet" onClick={() => onChange(key, undefined)}>
          ↩ Back to the common {name}
        </Button>
      </div>
    );
  });
}

interface InputProps {
  id: string;
  describedBy: string | undefined;
  field: FieldWords;
  /** The values to choose from, where the network lists them. */
  options: readonly string[];
  value: string;
  onChange: (value: string) => void;
}

function FieldInput({ id, describedBy, field, options, value, onChange }: InputProps) {
  const props = { id, 'aria-describedby': describedBy, value };
  if (field.kind === 'choice')
    return (
      <Select
        {...props}
        none="As the network has it"
        options={options.map((o) => ({ value: o, label: o[0]?.toUpperCase() + o.slice(1) }))}
        onChange={onChange}
      />
    );
  if (field.kind === 'date') return <OptionalDate id={id} value={value} onChange={onChange} />;
  if (field.kind === 'text')
    return <textarea {...props} rows={3} className="field" onChange={(e) => onChange(e.target.value)} />;
  return <input {...props} className="field" onChange={(e) => onChange(e.target.value)} />;
}

function OptionalDate({ id, value, onChange }: Pick<InputProps, 'id' | 'value' | 'onChange'>) {
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

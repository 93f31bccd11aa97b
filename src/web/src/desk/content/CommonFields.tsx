import { useState } from 'react';
import type { Network } from '../../networks/networks';
import type { FieldValues } from '../../posts/content';
import { FieldInput, type FieldWords } from './FieldInput';
import { isFurther, keyOf, takes, useFields, useOptions } from './fields';
import { ThreadField } from './ThreadField';

interface Props {
  networks: readonly Network[];
  values: FieldValues;
  /** What is null is taken away. */
  onChange: (changed: FieldValues) => void;
}

/** What some of the networks that a post goes to take besides text, link and pictures: begun with a press, since most posts have none. */
export function CommonFields({ networks, values, onChange }: Props) {
  // What a post is differs from network to network: that is chosen there.
  const fields = useFields(networks).filter((f) => isFurther(f) && (f.key !== 'format' || values.format));
  const [begun, setBegun] = useState<ReadonlySet<string>>(new Set());
  const isShown = (f: FieldWords) => Boolean(values[keyOf(f)]) || begun.has(f.key);
  const toBegin = fields.filter((f) => !isShown(f));
  return (
    <>
      {fields.filter(isShown).map((field) => (
        <CommonField key={field.key} field={field} networks={networks} values={values} onChange={onChange} />
      ))}
      {toBegin.length > 0 && (
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1 text-sm">
          <span className="text-faded">Add</span>
          {toBegin.map((f) => (
            <button
              key={f.key}
              type="button"
              className="link min-h-6"
              onClick={() => setBegun((before) => new Set([...before, f.key]))}
            >
              {f.name.toLowerCase()}
            </button>
          ))}
        </div>
      )}
    </>
  );
}

function CommonField({ field, networks, values, onChange }: Props & { field: FieldWords }) {
  const takers = networks.filter((n) => takes(n, field));
  const options = useOptions(field, takers);
  if (field.kind === 'thread')
    return (
      <ThreadField
        id="common-thread"
        label={field.name}
        text={values.text ?? ''}
        value={values.thread ?? null}
        onChange={onChange}
      />
    );
  return (
    <FieldInput
      field={field}
      label={field.name}
      hint={`For ${takers.map((n) => n.name).join(', ')}.`}
      options={options}
      value={values[keyOf(field)] ?? null}
      onChange={(value) => onChange({ [keyOf(field)]: value || null })}
    />
  );
}

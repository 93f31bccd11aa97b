import { useState } from 'react';
import type { Network } from '../networks/networks';
import { Button } from '../ui/Button';
import { useVocabulary } from '../vocabulary/vocabulary';
import { useWorkspace } from '../workspaces/workspace';
import type { FieldKey, FieldValue, FieldValues } from './content';
import { FieldInput, type FieldWords } from './FieldInput';

/** True when a network takes the field. */
function takes(network: Network, field: FieldWords): boolean {
  switch (field.key) {
    case 'video':
      return network.formats.some((f) => f.video);
    case 'document':
      return network.formats.some((f) => f.document);
    case 'format':
      return network.formats.length > 1;
    case 'thread':
      return Boolean(network.fields?.thread);
    default:
      return field.isEverywhere || Boolean(network.fields?.[field.key]);
  }
}

/** Shown by themselves, above. */
const byThemselves = new Set(['text', 'link', 'pictures']);
/** What begins with a press: most posts have none. */
const rare = new Set(['video', 'document', 'thread', 'cardTitle', 'cardText', 'cardPicture']);

/** Fields besides text, link and pictures, as far as these networks take them. */
function useMoreFields(networks: readonly Network[]): FieldWords[] {
  const fields = useVocabulary().data?.fields ?? [];
  return fields.filter((f) => !byThemselves.has(f.key) && networks.some((n) => takes(n, f)));
}

function useOptions(field: FieldWords, networks: readonly Network[]): string[] {
  const verbs = useWorkspace().data?.buttonVerbs ?? [];
  if (field.key === 'buttonVerb') return verbs;
  if (field.key === 'format') return [...new Set(networks.flatMap((n) => n.formats.map((f) => f.format)))];
  return [...new Set(networks.flatMap((n) => n.fields?.[field.key]?.values ?? []))];
}

interface CommonProps {
  networks: readonly Network[];
  values: FieldValues;
  onChange: (key: FieldKey, value: FieldValue) => void;
}

/** What some of the networks that a post goes to take besides text, link and pictures. */
export function MoreFields({ networks, values, onChange }: CommonProps) {
  // What a post is differs from network to network: that is chosen there.
  const fields = useMoreFields(networks).filter((f) => f.key !== 'format' || values.format);
  const [begun, setBegun] = useState<ReadonlySet<string>>(new Set());
  const isShown = (f: FieldWords) => !rare.has(f.key) || values[f.key as FieldKey] || begun.has(f.key);
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

function CommonField({ field, networks, values, onChange }: CommonProps & { field: FieldWords }) {
  const takers = networks.filter((n) => takes(n, field));
  return (
    <FieldInput
      field={field}
      label={field.name}
      hint={`For ${takers.map((n) => n.name).join(', ')}.`}
      options={useOptions(field, takers)}
      value={values[field.key as FieldKey] ?? null}
      onChange={(value) => onChange(field.key as FieldKey, value || null)}
    />
  );
}

interface OwnProps {
  network: Network;
  common: FieldValues;
  own: FieldValues;
  /** Undefined: as in the common content. */
  onChange: (key: FieldKey, value: FieldValue | undefined) => void;
}

/** The same for one network: inherited until it is changed. */
export function OwnFields({ network, common, own, onChange }: OwnProps) {
  const fields = useMoreFields([network]);
  const inherited = fields.filter((f) => own[f.key as FieldKey] === undefined);
  return (
    <>
      {fields
        .filter((f) => own[f.key as FieldKey] !== undefined)
        .map((field) => (
          <OwnField key={field.key} network={network} own={own} onChange={onChange} field={field} />
        ))}
      {inherited.length > 0 && (
        <p className="flex flex-wrap items-center gap-x-2.5 gap-y-0.5 text-sm">
          <span className="text-faded">Say otherwise here:</span>
          {inherited.map((field) => (
            <button
              key={field.key}
              type="button"
              className="link min-h-6 min-w-6"
              aria-label={`Say otherwise: ${field.name.toLowerCase()} for ${network.name}`}
              onClick={() => onChange(field.key as FieldKey, common[field.key as FieldKey] ?? blankOf(field))}
            >
              {field.name.toLowerCase()}
            </button>
          ))}
        </p>
      )}
    </>
  );
}

const blankOf = (field: FieldWords) =>
  field.kind === 'pictures' || field.kind === 'file' || field.kind === 'thread' ? null : '';

/** One field of one network. */
function OwnField({ network, own, onChange, field }: Omit<OwnProps, 'common'> & { field: FieldWords }) {
  const key = field.key as FieldKey;
  return (
    <div className="border-dawn border-l-2 pl-3">
      <FieldInput
        field={field}
        label={`${field.name} for ${network.name}`}
        options={useOptions(field, [network])}
        value={own[key] ?? null}
        onChange={(changed) => onChange(key, changed)}
      />
      <Button variant="quiet" onClick={() => onChange(key, undefined)}>
        ↩ Back to the common {field.name.toLowerCase()}
      </Button>
    </div>
  );
}

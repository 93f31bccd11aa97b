import { useState } from 'react';
import { CropDialog } from '../../media/CropDialog';
import type { Network } from '../../networks/networks';
import {
  type FieldValue,
  type FieldValues,
  inheritedAt,
  type Place,
  type PostContent,
  saidAt,
  saying,
  withValue,
} from '../../posts/content';
import type { NetworkCheck } from '../../posts/posts';
import { Button } from '../../ui/Button';
import { type MarkedText, RichText } from '../text/RichText';
import { cropPlaces, withCrops } from './crops';
import { FieldInput, type FieldWords } from './FieldInput';
import { keyOf, useFields, useOptions } from './fields';
import { PicturesField } from './PicturesField';
import { ThreadField } from './ThreadField';

interface Props {
  content: PostContent;
  place: Place;
  /** Whose fields are offered. */
  networks: readonly Network[];
  /** What it is said for: "Jot", "Marram on Jot", "wording 2". */
  name: string;
  /** Where a field comes from that isn't said here: "the common", "the post’s". */
  from: string;
  marked?: MarkedText | undefined;
  check?: NetworkCheck | undefined;
  onChange: (content: PostContent) => void;
}

/** What is said at one place and nowhere else: each field is inherited until it is changed, and goes back in one press. */
export function OwnFields(props: Props) {
  const { content, place, networks, name, onChange } = props;
  const own = saidAt(content, place);
  const inherited = inheritedAt(content, place);
  const fields = useFields(networks);
  const set = (field: FieldWords, value: FieldValue | undefined) =>
    onChange(saying(content, place, withValue(own, keyOf(field), value)));
  const said = fields.filter((f) => own[keyOf(f)] !== undefined);
  const unsaid = fields.filter((f) => own[keyOf(f)] === undefined);
  return (
    <div className="flex flex-col gap-3">
      {said.map((field) => (
        <div key={field.key} className="border-dawn border-l-2 pl-3" data-own={field.key}>
          <OwnField {...props} own={own} field={field} onValue={(value) => set(field, value)} />
          <Button variant="quiet" className="!px-2 !py-0.5 text-sm" onClick={() => set(field, undefined)}>
            ↩ Back to {props.from} {field.name.toLowerCase()}
          </Button>
        </div>
      ))}
      {unsaid.length > 0 && (
        <p className="flex flex-wrap items-center gap-x-2.5 gap-y-0.5 text-sm">
          <span className="text-faded">Say otherwise here:</span>
          {unsaid.map((field) => (
            <button
              key={field.key}
              type="button"
              className="link min-h-6 min-w-6"
              aria-label={`Say otherwise: ${field.name.toLowerCase()} for ${name}`}
              onClick={() => set(field, inherited[keyOf(field)] ?? blankOf(field))}
            >
              {field.name.toLowerCase()}
            </button>
          ))}
        </p>
      )}
    </div>
  );
}

const blankOf = (field: FieldWords) =>
  field.kind === 'pictures' || field.kind === 'file' || field.kind === 'thread' ? null : '';

interface OneProps extends Props {
  own: FieldValues;
  field: FieldWords;
  onValue: (value: FieldValue) => void;
}

function OwnField({ content, place, networks, name, marked, check, own, field, onChange, onValue }: OneProps) {
  const [cropping, setCropping] = useState<string | null>(null);
  const label = `${field.name} for ${name}`;
  const id = `${place.wording}-${place.channel ?? place.network ?? 'common'}-${field.key}`;
  const options = useOptions(field, networks);
  if (field.key === 'text')
    return (
      <>
        <label htmlFor={id} className="mb-1 block text-faded text-sm">
          {label}
        </label>
        <RichText id={id} label={label} value={own.text ?? ''} marked={marked} onChange={onValue} />
      </>
    );
  if (field.key === 'pictures')
    return (
      <>
        <PicturesField
          label={own.pictures ? label : `No pictures for ${name}`}
          value={own.pictures ?? []}
          onChange={(pictures) => onValue(pictures.length > 0 ? pictures : null)}
          onCrop={place.channel ? undefined : setCropping}
        />
        {cropping && (
          <CropDialog
            media={cropping}
            places={cropPlaces(
              content,
              place.wording,
              cropping,
              networks.map((n) => n.key),
            )}
            onDone={(crops) => onChange(withCrops(content, place.wording, cropping, crops))}
            onClose={() => setCropping(null)}
          />
        )}
      </>
    );
  if (field.kind === 'thread')
    return (
      <ThreadField
        id={id}
        label={label}
        text={own.text ?? inheritedAt(content, place).text ?? ''}
        value={own.thread ?? null}
        check={check}
        onChange={(changed) => onChange(saying(content, place, { ...own, ...changed }))}
      />
    );
  return (
    <FieldInput field={field} label={label} options={options} value={own[keyOf(field)] ?? null} onChange={onValue} />
  );
}

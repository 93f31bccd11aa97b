import { useState } from 'react';
import { CropDialog } from '../media/CropDialog';
import type { Network } from '../networks/networks';
import { NetworkMark } from '../networks/networks';
import { Button } from '../ui/Button';
import { Field } from '../ui/Field';
import { type FieldKey, type FieldValue, type FieldValues, type PostContent, withValue } from './content';
import { cropPlaces, withCrops } from './crops';
import { OwnFields } from './MoreFields';
import { PicturesField } from './PicturesField';
import { Preview } from './Preview';
import type { NetworkCheck } from './posts';

interface Props {
  network: Network;
  content: PostContent;
  check: NetworkCheck | undefined;
  onChange: (values: FieldValues) => void;
}

/** What one network gets: inherited until it is changed, one step back to the common content. */
export function VariantColumn({ network, content, check, onChange }: Props) {
  const own: FieldValues = content.networks[network.key] ?? {};
  const [cropping, setCropping] = useState<string | null>(null);
  const set = (key: FieldKey, value: FieldValue | undefined) => onChange(withValue(own, key, value));

  return (
    <section aria-label={network.name} data-network={network.key}>
      <header className="flex items-center gap-2 border-ink border-b-[1.5px] pb-1.5">
        <NetworkMark network={network.key} size={20} />
        <h2>{network.name}</h2>
        {check && <Count check={check} />}
      </header>
      <div className="mt-3 flex flex-col gap-3">
        {check && check.approved !== null && (
          <p className="text-sm" data-approved={check.approved}>
            {check.approved ? '✓ Has approval' : 'Waits for approval'}
          </p>
        )}
        {check?.byPerson && (
          <p className="text-sm" data-by-person>
            {network.name} takes this from a person: when it is due, it waits for you on Today.
          </p>
        )}
        {own.text === undefined ? (
          <p className="flex items-center justify-between gap-2 text-sm">
            <span className="text-faded">Text as in the common content</span>
            <Button onClick={() => set('text', content.common.text ?? '')}>Write its own</Button>
          </p>
        ) : (
          <div className="border-dawn border-l-2 pl-3">
            <Field label={`Text for ${network.name}`}>
              {(id) => (
                <textarea
                  id={id}
                  rows={6}
                  className="field"
                  value={own.text ?? ''}
                  onChange={(e) => set('text', e.target.value)}
                />
              )}
            </Field>
            <Button variant="quiet" onClick={() => set('text', undefined)}>
              ↩ Back to the common text
            </Button>
          </div>
        )}
        {own.pictures === undefined ? (
          <p className="flex items-center justify-between gap-2 text-sm">
            <span className="text-faded">Pictures as in the common content</span>
            <Button onClick={() => set('pictures', content.common.pictures ?? null)}>Choose its own</Button>
          </p>
        ) : (
          <div className="border-dawn border-l-2 pl-3">
            <PicturesField
              label={own.pictures ? `Pictures for ${network.name}` : `No pictures on ${network.name}`}
              value={own.pictures ?? []}
              onChange={(pictures) => set('pictures', pictures.length > 0 ? pictures : null)}
              onCrop={setCropping}
            />
            {cropping && (
              <CropDialog
                media={cropping}
                places={cropPlaces(content, cropping, [network.key])}
                onDone={(crops) => onChange(withCrops(content, cropping, crops).networks[network.key] ?? {})}
                onClose={() => setCropping(null)}
              />
            )}
            <Button variant="quiet" onClick={() => set('pictures', undefined)}>
              ↩ Back to the common pictures
            </Button>
          </div>
        )}
        <OwnFields network={network} common={content.common} own={own} onChange={set} />
        {check && check.findings.length > 0 && (
          <ul className="flex flex-col gap-1 text-sm" aria-label={`Findings for ${network.name}`}>
            {check.findings.map((finding) => (
              <li
                key={`${finding.code} ${finding.field} ${finding.item} ${finding.words}`}
                className={`border-l-4 px-2 py-1 ${finding.blocks ? 'border-bad bg-bad-wash' : 'border-rule-strong bg-wash'}`}
              >
                <b>{finding.blocks ? 'Blocks' : 'Advice'}</b> {finding.words}
              </li>
            ))}
          </ul>
        )}
        {check && <Preview check={check} />}
      </div>
    </section>
  );
}

function Count({ check }: { check: NetworkCheck }) {
  const over = check.overflowAt !== null;
  const filled = Math.min(1, check.units / check.limit);
  return (
    <span className="ml-auto flex items-center gap-2 text-sm" data-count={check.units}>
      <span aria-hidden="true" className="block h-1.5 w-16 overflow-hidden rounded-sm bg-wash">
        <span className={`block h-full ${over ? 'bg-bad' : 'bg-ink'}`} style={{ width: `${filled * 100}%` }} />
      </span>
      <span className={over ? 'font-semibold text-bad' : ''}>
        <b className="font-head">{check.units.toLocaleString('en-GB')}</b> of {check.limit.toLocaleString('en-GB')}
      </span>
    </span>
  );
}

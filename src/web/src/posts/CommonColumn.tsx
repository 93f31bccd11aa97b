import { useState } from 'react';
import { type Schemas, wordsOf } from '../api/client';
import { limits } from '../api/limits';
import { CategoryName, CategorySelect, useCategories, useCategory } from '../categories/categories';
import { ChannelChoice, ChannelName } from '../channels/channels';
import { CropDialog } from '../media/CropDialog';
import type { Network } from '../networks/networks';
import { addDays } from '../time/dates';
import { Button } from '../ui/Button';
import { Checkbox } from '../ui/Checkbox';
import { Choice } from '../ui/Choice';
import { DateField } from '../ui/DateField';
import { Field } from '../ui/Field';
import { useNotices } from '../ui/Notices';
import { Select } from '../ui/Select';
import { useWorkspace } from '../workspaces/workspace';
import { type FieldKey, type FieldValue, type FieldValues, withCommon, withValue } from './content';
import { cropPlaces, withCrops } from './crops';
import { LinkCard } from './LinkCard';
import { MoreFields } from './MoreFields';
import { PicturesField } from './PicturesField';
import { type NetworkCheck, type PostEdit, type Stage, stageWords, useReplacement } from './posts';
import { Wordings } from './Wordings';

interface Props {
  edit: PostEdit;
  change: (part: Partial<PostEdit>) => void;
}

interface ColumnProps extends Props {
  /** How the networks that it goes to stand to its content. */
  checks: readonly NetworkCheck[];
  /** Those that it goes to. */
  networks: readonly Network[];
}

const stages = (['idea', 'draft', 'ready'] as const).map((value: Stage) => ({ value, label: stageWords[value] }));
/** What waits for approval was made ready by somebody already. */
const chosenStage = (stage: Stage): Stage => (stage === 'waitingForApproval' ? 'ready' : stage);

/** What all channels share, and how the post takes part in the rotation. */
export function CommonColumn({ edit, change, checks, networks }: ColumnProps) {
  const content = edit.content;
  const set = (key: FieldKey, value: FieldValue) => change({ content: withCommon(content, key, value) });
  const [cropping, setCropping] = useState<string | null>(null);
  const replacement = useReplacement();
  const { tell, trouble } = useNotices();
  const networkNames = (key: string) => networks.find((n) => n.key === key)?.name ?? key;
  return (
    <section aria-label="Common content" className="flex flex-col gap-4">
      <Field label="Title, never sent">
        {(id) => (
          <input
            id={id}
            className="field !text-[1.25rem] font-head font-semibold"
            {...limits.PostEdit.title}
            value={edit.title}
            onChange={(e) => change({ title: e.target.value })}
          />
        )}
      </Field>
      <Field label="Common text">
        {(id) => (
          <textarea
            id={id}
            rows={9}
            className="field"
            value={content.common.text ?? ''}
            onChange={(e) => set('text', e.target.value)}
          />
        )}
      </Field>
      <Field label="Link">
        {(id) => (
          <input
            id={id}
            type="url"
            className="field"
            placeholder="https://"
            value={content.common.link ?? ''}
            onChange={(e) => set('link', e.target.value || null)}
          />
        )}
      </Field>
      {content.common.link && (
        <LinkCard
          link={content.common.link}
          values={content.common}
          onChange={(card) => change({ content: { ...content, common: withAll(content.common, card) } })}
        />
      )}
      <PicturesField
        label="Pictures"
        value={content.common.pictures ?? []}
        onChange={(pictures) => set('pictures', pictures.length > 0 ? pictures : null)}
        onCrop={setCropping}
        onReplace={(picture, by) =>
          replacement.mutate(
            { picture, by, content },
            {
              onSuccess: (replaced) => {
                change({ content: replaced.content });
                tell(replacedWords(replaced.crops, networkNames));
              },
              onError: (error) => trouble(wordsOf(error)),
            },
          )
        }
      />
      {cropping && (
        <CropDialog
          media={cropping}
          places={cropPlaces(
            content,
            cropping,
            networks.map((n) => n.key),
          )}
          onDone={(crops) => change({ content: withCrops(content, cropping, crops) })}
          onClose={() => setCropping(null)}
        />
      )}
      <MoreFields networks={networks} values={content.common} onChange={set} />
      <Wordings
        content={content}
        checks={checks}
        onChange={(wordings) => change({ content: { ...content, wordings } })}
      />
      <div className="border-rule border-t pt-4">
        <Field label="Category">
          {(id) => <CategorySelect id={id} value={edit.categoryId} onChange={(categoryId) => change({ categoryId })} />}
        </Field>
      </div>
      <div>
        <span className="mb-1 block text-faded text-sm">Stage</span>
        <Choice
          label="Stage"
          value={chosenStage(edit.stage)}
          options={stages}
          onChange={(stage) => change({ stage })}
        />
        <p className="mt-1 text-faded text-sm">
          {edit.stage === 'ready' && 'The rota may draw it.'}
          {edit.stage === 'waitingForApproval' && 'It keeps its places, and goes out once it is approved.'}
          {(edit.stage === 'idea' || edit.stage === 'draft') && 'The rota leaves it alone until it is ready.'}
        </p>
      </div>
      <div className="flex flex-col gap-2">
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
      </div>
      <Where edit={edit} change={change} />
      <Rotation edit={edit} change={change} />
    </section>
  );
}

/** With several values at once; null: without it. */
const withAll = (values: FieldValues, changed: Partial<Record<FieldKey, FieldValue>>) =>
  Object.entries(changed).reduce((all, [key, value]) => withValue(all, key as FieldKey, value ?? undefined), values);

/** What became of the crops of a picture that another has taken the place of. */
function replacedWords(crops: readonly Schemas['CarriedCrop'][], nameOf: (network: string) => string): string {
  const lost = crops.filter((c) => !c.isKept).map((c) => (c.network ? nameOf(c.network) : 'one place'));
  if (lost.length === 0) return crops.length > 0 ? 'Replaced; its crops fit the new picture too.' : 'Replaced.';
  return `Replaced. The crop for ${new Intl.ListFormat('en-GB').format([...new Set(lost)])} doesn’t fit the new picture: the whole of it is sent there now.`;
}

const lifespans = [
  { value: 'evergreen', label: 'May come round again' },
  { value: 'once', label: 'Once on each channel' },
  { value: 'onceAltogether', label: 'Once altogether' },
];

/** What narrows when it may go: further categories, dates, a gap of its own. */
function Rotation({ edit, change }: Props) {
  const categories = useCategories().data ?? [];
  const today = useWorkspace().data?.today ?? '';
  const further = edit.furtherCategories ?? [];
  return (
    <details className="border-rule border-t pt-3">
      <summary className="cursor-pointer text-faded">Further categories, dates, repeat gap</summary>
      <div className="mt-3 flex flex-col gap-4">
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

function Where({ edit, change }: Props) {
  const category = useCategory(edit.categoryId);
  const own = edit.channels !== null;
  return (
    <div className="flex flex-col gap-2">
      <Checkbox checked={own} onChange={(on) => change({ channels: on ? [...(category?.usualChannels ?? [])] : null })}>
        Choose its channels by hand
      </Checkbox>
      {own ? (
        <ChannelChoice label="Goes to" value={edit.channels ?? []} onChange={(channels) => change({ channels })} />
      ) : (
        <div className="text-sm">
          <p className="text-faded">
            Goes to the usual channels of <CategoryName id={edit.categoryId} />
          </p>
          {category?.usualChannels.map((id) => (
            <ChannelName key={id} id={id} className="!flex" />
          ))}
        </div>
      )}
    </div>
  );
}

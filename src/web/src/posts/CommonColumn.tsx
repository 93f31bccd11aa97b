import { CategoryName, CategorySelect, useCategory } from '../categories/categories';
import { ChannelChoice, ChannelName } from '../channels/channels';
import { Choice } from '../ui/Choice';
import { Field } from '../ui/Field';
import { PicturePicker } from './PicturePicker';
import { type PostEdit, type Stage, stageWords } from './posts';

interface Props {
  edit: PostEdit;
  change: (part: Partial<PostEdit>) => void;
}

const stages = (['idea', 'draft', 'ready'] as const).map((value: Stage) => ({ value, label: stageWords[value] }));

/** What all channels share, and how the post takes part in the rotation. */
export function CommonColumn({ edit, change }: Props) {
  const content = edit.content;
  const setContent = (part: Partial<typeof content>) => change({ content: { ...content, ...part } });
  return (
    <section aria-label="Common content" className="flex flex-col gap-4">
      <Field label="Title, for you alone">
        {(id) => (
          <input
            id={id}
            className="field !text-[1.25rem] font-head font-semibold"
            maxLength={120}
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
            value={content.text}
            onChange={(e) => setContent({ text: e.target.value })}
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
            value={content.link ?? ''}
            onChange={(e) => setContent({ link: e.target.value || null })}
          />
        )}
      </Field>
      <PicturePicker label="Picture" value={content.pictureId} onChange={(pictureId) => setContent({ pictureId })} />
      <div className="border-rule border-t pt-4">
        <Field label="Category">
          {(id) => <CategorySelect id={id} value={edit.categoryId} onChange={(categoryId) => change({ categoryId })} />}
        </Field>
      </div>
      <div>
        <span className="mb-1 block text-faded text-sm">Stage</span>
        <Choice label="Stage" value={edit.stage} options={stages} onChange={(stage) => change({ stage })} />
        <p className="mt-1 text-faded text-sm">
          {edit.stage === 'ready' ? 'The rota may draw it.' : 'The rota leaves it alone until it is ready.'}
        </p>
      </div>
      <div className="flex flex-col gap-1">
        <Tick
          checked={edit.lifespan === 'evergreen'}
          onChange={(on) => change({ lifespan: on ? 'evergreen' : 'once' })}
        >
          May come round again (otherwise once on each channel)
        </Tick>
        <Tick checked={edit.inRotation} onChange={(inRotation) => change({ inRotation })}>
          Takes part in the rotation
        </Tick>
      </div>
      <Where edit={edit} change={change} />
    </section>
  );
}

function Where({ edit, change }: Props) {
  const category = useCategory(edit.categoryId);
  const own = edit.channels !== null;
  return (
    <div className="flex flex-col gap-2">
      <Tick checked={own} onChange={(on) => change({ channels: on ? [...(category?.usualChannels ?? [])] : null })}>
        Choose its channels by hand
      </Tick>
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

function Tick({
  checked,
  onChange,
  children,
}: {
  checked: boolean;
  onChange: (on: boolean) => void;
  children: React.ReactNode;
}) {
  return (
    <label className="flex items-center gap-2">
      <input
        type="checkbox"
        className="size-4 accent-dawn"
        checked={checked}
        onChange={(e) => onChange(e.target.checked)}
      />
      <span>{children}</span>
    </label>
  );
}

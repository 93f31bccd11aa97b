import { useDeferredValue, useMemo, useRef, useState } from 'react';
import { type Schemas, wordsOf } from '../../api/client';
import { useChannels } from '../../channels/channels';
import { CropDialog } from '../../media/CropDialog';
import { DropArea } from '../../media/DropArea';
import type { Network } from '../../networks/networks';
import {
  type FieldKey,
  type FieldValue,
  type FieldValues,
  type Place,
  type PostContent,
  saidAt,
  saying,
  withCommon,
  withValue,
} from '../../posts/content';
import { type NetworkCheck, useReplacement } from '../../posts/posts';
import { Button } from '../../ui/Button';
import { Field } from '../../ui/Field';
import { useNotices } from '../../ui/Notices';
import { RichText } from '../text/RichText';
import { CommonFields } from './CommonFields';
import { cropPlaces, withCrops } from './crops';
import { LinkCard } from './LinkCard';
import { marksOf } from './marksOf';
import { PicturesField, usePictureUploads } from './PicturesField';

interface Props {
  content: PostContent;
  change: (content: PostContent) => void;
  /** How the networks that it goes to stand to its content. */
  checks: readonly NetworkCheck[];
  /** The content that they are of. */
  checked: PostContent;
  /** Those that it goes to. */
  networks: readonly Network[];
  /** Ready for typing at once. */
  isNew: boolean;
}

/** What all channels share. */
export function CommonContent({ content, change, checks, checked, networks, isNew }: Props) {
  const { common } = content;
  const set = (key: FieldKey, value: FieldValue) => change(withCommon(content, key, value));
  const [cropping, setCropping] = useState<string | null>(null);
  // Ready for typing first; what is seldom touched in the first second is drawn right after.
  const isLower = useDeferredValue(true, isNew);
  const replacement = useReplacement();
  const { tell, trouble } = useNotices();
  const nameOf = (key: string) => networks.find((n) => n.key === key)?.name ?? key;
  const pictures = common.pictures ?? noPictures;
  const setPictures = (all: FieldValues['pictures'] & object) => set('pictures', all.length > 0 ? all : null);
  const uploads = usePictureUploads(pictures, setPictures);
  const text = common.text ?? '';
  const marked = useMemo(
    () =>
      marksOf(
        checked.common.text ?? '',
        checks.filter((c) => checked.networks[c.network]?.text === undefined),
      ),
    [checked, checks],
  );
  return (
    <DropArea onFiles={uploads.add}>
      <section aria-label="Common content" className="flex flex-col gap-4">
        <div>
          <label htmlFor="common-text" className="mb-1 block text-faded text-sm">
            Common text
          </label>
          <RichText
            id="common-text"
            label="the common text"
            rows={7}
            isFirst={isNew}
            value={text}
            marked={marked}
            onChange={(value) => set('text', value)}
            onLink={(link) => {
              if (common.link) return false;
              set('link', link);
              tell('The link has a field of its own, with a card.', {
                label: 'Into the text instead',
                run: () =>
                  change(withCommon(withCommon(content, 'link', null), 'text', `${text}${text ? ' ' : ''}${link}`)),
              });
              return true;
            }}
            foot={<NotReached content={content} networks={networks} change={change} />}
          />
        </div>
        {isLower && (
          <>
            <PicturesField
              label="Pictures"
              value={pictures}
              uploads={uploads}
              onChange={setPictures}
              onCrop={setCropping}
              onReplace={(picture, by) =>
                replacement.mutate(
                  { picture, by, content },
                  {
                    onSuccess: (replaced) => {
                      change(replaced.content);
                      tell(replacedWords(replaced.crops, nameOf));
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
                  0,
                  cropping,
                  networks.map((n) => n.key),
                )}
                onDone={(crops) => change(withCrops(content, 0, cropping, crops))}
                onClose={() => setCropping(null)}
              />
            )}
            <div>
              <Field label="Link">
                {(id) => (
                  <input
                    id={id}
                    type="url"
                    className="field"
                    placeholder="https://"
                    value={common.link ?? ''}
                    onChange={(e) => set('link', e.target.value || null)}
                  />
                )}
              </Field>
              {common.link && (
                <LinkCard
                  link={common.link}
                  values={common}
                  onChange={(card) => change({ ...content, common: withAll(common, card) })}
                />
              )}
            </div>
            <CommonFields
              networks={networks}
              values={common}
              onChange={(changed) => change({ ...content, common: withAll(common, changed) })}
            />
          </>
        )}
      </section>
    </DropArea>
  );
}

const noPictures: readonly [] = [];

/** Networks and channels that say it in their own words, which a change of the common text doesn't reach: it can be taken over there. */
function NotReached({ content, networks, change }: Pick<Props, 'content' | 'networks' | 'change'>) {
  const { tell } = useNotices();
  const channels = useChannels().data ?? [];
  const first = useRef(content.common.text);
  const latest = useRef(content);
  latest.current = content;
  const own = [
    ...networks.map((n) => ({ name: n.name, place: { wording: 0, network: n.key } as Place })),
    ...channels.map((c) => ({ name: c.name, place: { wording: 0, network: c.network, channel: c.id } as Place })),
  ].filter(({ place }) => saidAt(content, place).text !== undefined);
  if (own.length === 0 || first.current === content.common.text) return null;
  const names = new Intl.ListFormat('en-GB').format(own.map((o) => o.name));
  const say = (at: PostContent, textOf: (place: Place) => string | null | undefined) =>
    own.reduce((c, { place }) => saying(c, place, withValue(saidAt(c, place), 'text', textOf(place))), at);
  return (
    <span className="flex flex-1 flex-wrap items-baseline gap-x-2" data-not-reached>
      {names} {own.length === 1 ? 'has a text of its own' : 'have texts of their own'}.
      <Button
        variant="quiet"
        className="!px-1.5 !py-0 text-ink underline underline-offset-3"
        onClick={() => {
          change(say(content, () => undefined));
          tell(`${names} ${own.length === 1 ? 'says' : 'say'} it in the common words now.`, {
            label: 'Undo',
            run: () => change(say(latest.current, (place) => saidAt(content, place).text)),
          });
        }}
      >
        Take it over there
      </Button>
    </span>
  );
}

/** With several values at once; null: without it. */
const withAll = (values: FieldValues, changed: FieldValues) =>
  Object.entries(changed).reduce((all, [key, value]) => withValue(all, key as FieldKey, value ?? undefined), values);

/** What became of the crops of a picture that another has taken the place of. */
function replacedWords(crops: readonly Schemas['CarriedCrop'][], nameOf: (network: string) => string): string {
  const lost = crops.filter((c) => !c.isKept).map((c) => (c.network ? nameOf(c.network) : 'one place'));
  if (lost.length === 0) return crops.length > 0 ? 'Replaced; its crops fit the new picture too.' : 'Replaced.';
  return `Replaced. The crop for ${new Intl.ListFormat('en-GB').format([...new Set(lost)])} doesn’t fit the new picture: the whole of it is sent there now.`;
}

import { type FieldValues, type Layers, noLayers, type PostContent } from '../../posts/content';
import type { PostEdit } from '../../posts/posts';

/** What was typed and not yet saved, kept in the browser so that a crash or a lost session costs nothing. */
export interface Draft {
  /** The version it was typed over; 0 for a new post. */
  version: number;
  edit: PostEdit;
}

const key = (workspace: string, post: string) => `able-lark:draft:${workspace}:${post}`;

export function keepDraft(workspace: string, post: string, draft: Draft) {
  try {
    localStorage.setItem(key(workspace, post), JSON.stringify(draft));
  } catch {
    // The browser's store is full or closed: then only the page keeps it.
  }
}

interface EarlierVariant {
  text?: string | null;
  picture?: { mediaId: string | null } | null;
}

/** Content as it was written before it lay in layers. */
interface EarlierContent extends EarlierVariant {
  link?: string | null;
  pictureId?: string | null;
  variants?: Record<string, EarlierVariant>;
  wordings?: EarlierVariant[];
  alternates?: EarlierVariant[];
}

const one = (media: string | null) => ({ pictures: media === null ? null : [{ media }] });

const valuesOf = ({ text, picture }: EarlierVariant): FieldValues => ({
  ...(typeof text === 'string' && { text }),
  ...(picture && one(picture.mediaId)),
});

/** Layers from when a post had one picture, and its alt text beside it. */
type EarlierValues = FieldValues & { picture?: string | null; altText?: string | null };

function withPictures(values: EarlierValues, common: EarlierValues = {}): FieldValues {
  const { picture, altText, ...others } = values;
  if (picture === null) return { ...others, pictures: null };
  const media = picture ?? (altText ? common.picture : undefined);
  const words = altText ?? common.altText;
  return media ? { ...others, pictures: [{ media, ...(words && { altText: words }) }] } : others;
}

const layersWithPictures = <T extends Layers>(layers: T, common?: EarlierValues): T => ({
  ...layers,
  common: withPictures(layers.common, common),
  networks: Object.fromEntries(
    Object.entries(layers.networks).map(([key, v]) => [key, withPictures(v, { ...common, ...layers.common })]),
  ),
  channels: Object.fromEntries(
    Object.entries(layers.channels).map(([key, v]) => [key, withPictures(v, { ...common, ...layers.common })]),
  ),
});

/** What was typed over an earlier version of the application is as good as what was typed over this one. */
function inLayers(content: PostContent | EarlierContent): PostContent {
  if ('common' in content)
    return {
      ...layersWithPictures(content),
      wordings: content.wordings.map((w) => layersWithPictures(w, content.common)),
    };
  const { text, link, pictureId, variants = {}, wordings, alternates } = content as EarlierContent;
  return {
    common: { ...(text && { text }), ...(link && { link }), ...(pictureId && one(pictureId)) },
    networks: Object.fromEntries(Object.entries(variants).map(([network, variant]) => [network, valuesOf(variant)])),
    channels: {},
    wordings: (wordings ?? alternates ?? []).map((w) => ({ ...noLayers, common: valuesOf(w) })),
  };
}

export function readDraft(workspace: string, post: string): Draft | null {
  const text = localStorage.getItem(key(workspace, post));
  if (!text) return null;
  try {
    const draft = JSON.parse(text) as Draft;
    return { ...draft, edit: { ...draft.edit, content: inLayers(draft.edit.content) } };
  } catch {
    return null;
  }
}

export const dropDraft = (workspace: string, post: string) => localStorage.removeItem(key(workspace, post));

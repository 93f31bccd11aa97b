import type { Schemas } from '../api/client';

export type PostContent = Schemas['PostContent'];
/** What one wording says: in common, for single networks, for single channels. */
export type Layers = Schemas['ContentLayers'];
/** Values of content fields. One that isn't there is as in the next layer; one that is null holds nothing on purpose. */
export type FieldValues = Schemas['FieldValues'];
export type FieldKey = keyof FieldValues;
/** A value of any field; null: nothing. */
export type FieldValue = Exclude<FieldValues[FieldKey], undefined>;
export type Picture = NonNullable<FieldValues['pictures']>[number];
export type Thread = NonNullable<FieldValues['thread']>;

export const noLayers: Layers = { common: {}, networks: {}, channels: {} };

export const isEmpty = (values: FieldValues) => Object.keys(values).length === 0;

/** With a value of a field; undefined: without it, so that it is as in the next layer. */
export function withValue(values: FieldValues, key: FieldKey, value: FieldValue | undefined): FieldValues {
  const { [key]: _, ...others } = values;
  return value === undefined ? others : { ...others, [key]: value };
}

/** True once it says or shows anything at all. */
export const hasContent = ({ common, networks, channels }: PostContent): boolean =>
  [common, ...Object.values(networks), ...Object.values(channels)].some((values) =>
    Object.values(values).some((value) => (typeof value === 'string' ? value.trim() !== '' : Boolean(value))),
  );

/** In common there is nothing to inherit: what is blank isn't there. */
export const withCommon = (content: PostContent, key: FieldKey, value: FieldValue): PostContent => ({
  ...content,
  common: withValue(content.common, key, value ?? undefined),
});

/** Where something is said: in common, for a network, or for one of its channels; by the post itself (wording 0) or by a wording. */
export interface Place {
  wording: number;
  network?: string | undefined;
  channel?: string | undefined;
}

const wordingOf = (content: PostContent, wording: number): Layers =>
  wording === 0 ? content : (content.wordings[wording - 1] ?? noLayers);

const layerOf = (layers: Layers, { network, channel }: Omit<Place, 'wording'>): FieldValues =>
  (channel ? layers.channels[channel] : network ? layers.networks[network] : layers.common) ?? {};

/** What is said there and nowhere else. */
export const saidAt = (content: PostContent, place: Place): FieldValues =>
  layerOf(wordingOf(content, place.wording), place);

/** What would hold there if nothing were said there. */
export function inheritedAt(content: PostContent, { wording, network, channel }: Place): FieldValues {
  const layersOf = (of: number, withOwn: boolean): FieldValues[] => {
    const layers = wordingOf(content, of);
    return [
      ...(withOwn || network || channel ? [layers.common] : []),
      ...(network && (withOwn || channel) ? [layerOf(layers, { network })] : []),
      ...(channel && withOwn ? [layerOf(layers, { channel })] : []),
    ];
  };
  // The nearer goes first, and a wording before the post itself.
  return Object.assign({}, ...(wording > 0 ? layersOf(0, true) : []), ...layersOf(wording, false));
}

/** The content with other words at one place. */
export function saying(content: PostContent, place: Place, values: FieldValues): PostContent {
  const changed = withLayer(wordingOf(content, place.wording), place, values);
  return place.wording === 0
    ? { ...content, ...changed }
    : { ...content, wordings: content.wordings.map((w, i) => (i === place.wording - 1 ? changed : w)) };
}

function withLayer(layers: Layers, { network, channel }: Omit<Place, 'wording'>, values: FieldValues): Layers {
  const within = <T extends Record<string, FieldValues>>(all: T, key: string): Record<string, FieldValues> => {
    const { [key]: _, ...others } = all;
    return isEmpty(values) ? others : { ...others, [key]: values };
  };
  if (channel) return { ...layers, channels: within(layers.channels, channel) };
  if (network) return { ...layers, networks: within(layers.networks, network) };
  return { ...layers, common: values };
}

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

/** In common there is nothing to inherit: what is blank isn't there. */
export const withCommon = (content: PostContent, key: FieldKey, value: FieldValue): PostContent => ({
  ...content,
  common: withValue(content.common, key, value ?? undefined),
});

export function withNetwork(content: PostContent, network: string, values: FieldValues): PostContent {
  const { [network]: _, ...others } = content.networks;
  return { ...content, networks: isEmpty(values) ? others : { ...others, [network]: values } };
}

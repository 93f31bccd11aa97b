import type { Network } from '../../networks/networks';
import type { FieldKey } from '../../posts/content';
import { useVocabulary } from '../../vocabulary/vocabulary';
import { useWorkspace } from '../../workspaces/workspace';
import type { FieldWords } from './FieldInput';

/** True when a network takes the field. */
export function takes(network: Network, field: FieldWords): boolean {
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

/** The content fields that any of these networks takes, in the order in which they are shown. */
export function useFields(networks: readonly Network[]): FieldWords[] {
  const fields = useVocabulary().data?.fields ?? [];
  return fields.filter((f) => networks.some((n) => takes(n, f)));
}

/** The values that a field may have, where they are listed. */
export function useOptions(field: FieldWords, networks: readonly Network[]): string[] {
  const verbs = useWorkspace().data?.buttonVerbs ?? [];
  if (field.key === 'buttonVerb') return verbs;
  if (field.key === 'format') return [...new Set(networks.flatMap((n) => n.formats.map((f) => f.format)))];
  return [...new Set(networks.flatMap((n) => n.fields?.[field.key]?.values ?? []))];
}

export const keyOf = (field: FieldWords) => field.key as FieldKey;

/** Shown by themselves, above the others. */
const byThemselves = new Set(['text', 'link', 'pictures']);
export const isFurther = (field: FieldWords) => !byThemselves.has(field.key);

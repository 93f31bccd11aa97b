import { entryForm, failed } from '../deliveries/states';
import { cardKey } from '../lineup/cards';
import type { Entry } from '../lineup/lineup';

/** By what a calendar is narrowed; each may hold several choices, of which one has to be met. */
export const facets = ['category', 'channel', 'group', 'state', 'rota', 'approval', 'finding'] as const;
export type Facet = (typeof facets)[number];

export type Filters = Record<Facet, readonly string[]> & { text: string };

/** Ids of the groups that each channel is in, by the channel's. */
export type GroupsOf = ReadonlyMap<string, readonly string[]>;

const split = (value: string | null) => (value ? value.split(',') : []);

export const readFilters = (search: URLSearchParams): Filters => ({
  category: split(search.get('category')),
  channel: split(search.get('channel')),
  group: split(search.get('group')),
  state: split(search.get('state')),
  rota: split(search.get('rota')),
  approval: split(search.get('approval')),
  finding: split(search.get('finding')),
  text: search.get('text') ?? '',
});

export const isFiltered = (filters: Filters) => filters.text !== '' || facets.some((f) => filters[f].length > 0);

/** What an entry counts as, under each facet. */
function valuesOf(facet: Facet, entry: Entry, groups: GroupsOf): readonly string[] {
  switch (facet) {
    case 'category':
      return [entry.categoryId ?? 'none'];
    case 'channel':
      return [entry.channelId];
    case 'group':
      return groups.get(entry.channelId) ?? [];
    case 'state':
      return [entryForm(entry)];
    case 'rota':
      return [entry.rotaId ?? 'none'];
    case 'approval':
      return [entry.isWaiting || entry.state === 'waitingForApproval' ? 'waits' : 'none'];
    case 'finding':
      return [
        ...(entry.trouble || (failed(entry.state) && !entry.dealtWith) ? ['trouble'] : []),
        ...((entry.findings ?? 0) > 0 ? ['warned'] : []),
      ];
  }
}

const meets = (facet: Facet, entry: Entry, filters: Filters, groups: GroupsOf) =>
  filters[facet].length === 0 || valuesOf(facet, entry, groups).some((v) => filters[facet].includes(v));

const says = (entry: Entry, text: string) =>
  text === '' || (entry.title ?? '').toLocaleLowerCase().includes(text.toLocaleLowerCase());

export const passes = (entry: Entry, filters: Filters, groups: GroupsOf, but?: Facet) =>
  says(entry, filters.text) && facets.every((f) => f === but || meets(f, entry, filters, groups));

/** How many posts at a time each choice of a facet would show, with all other facets as they are. */
export function countsOf(entries: readonly Entry[], facet: Facet, filters: Filters, groups: GroupsOf) {
  const met = new Map<string, Set<string>>();
  for (const entry of entries) {
    if (!passes(entry, filters, groups, facet)) continue;
    for (const value of valuesOf(facet, entry, groups)) {
      const cards = met.get(value);
      if (cards) cards.add(cardKey(entry));
      else met.set(value, new Set([cardKey(entry)]));
    }
  }
  return new Map([...met].map(([value, cards]) => [value, cards.size]));
}

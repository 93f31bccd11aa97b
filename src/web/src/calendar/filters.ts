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

/** Of an entry whose title is what is searched for: the facets that it doesn't meet, told apart up to the second. */
type Missed = Facet | 'none' | 'several';

/** What a view is narrowed to, looked up once for all of its entries; null for an entry of another title. */
function judge(filters: Filters, groups: GroupsOf): (entry: Entry) => Missed | null {
  const text = filters.text.toLocaleLowerCase();
  const set = facets.filter((f) => filters[f].length > 0);
  return (entry) => {
    if (text !== '' && !(entry.title ?? '').toLocaleLowerCase().includes(text)) return null;
    let missed: Missed = 'none';
    for (const facet of set) {
      if (valuesOf(facet, entry, groups).some((v) => filters[facet].includes(v))) continue;
      if (missed !== 'none') return 'several';
      missed = facet;
    }
    return missed;
  };
}

/** Tells whether an entry meets all of what a view is narrowed to. */
export function narrows(filters: Filters, groups: GroupsOf): (entry: Entry) => boolean {
  const missed = judge(filters, groups);
  return (entry) => missed(entry) === 'none';
}

export type Counts = Record<Facet, ReadonlyMap<string, number>>;

/** How many posts at a time each choice of each facet would show, with all other facets as they are. */
export function countsOf(entries: readonly Entry[], filters: Filters, groups: GroupsOf): Counts {
  const missed = judge(filters, groups);
  const met = Object.fromEntries(facets.map((f) => [f, new Map<string, Set<string>>()])) as Record<
    Facet,
    Map<string, Set<string>>
  >;
  for (const entry of entries) {
    const miss = missed(entry);
    if (miss === null || miss === 'several') continue;
    const card = cardKey(entry);
    for (const facet of miss === 'none' ? facets : [miss])
      for (const value of valuesOf(facet, entry, groups)) {
        const cards = met[facet].get(value);
        if (cards) cards.add(card);
        else met[facet].set(value, new Set([card]));
      }
  }
  const sizes = facets.map(
    (f) => [f, new Map([...met[f]].map(([value, cards]) => [value, cards.size] as const))] as const,
  );
  return Object.fromEntries(sizes) as Record<Facet, Map<string, number>>;
}

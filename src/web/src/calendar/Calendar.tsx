import { useCallback, useMemo, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { useCategories } from '../categories/categories';
import { useChannelGroups, useChannels } from '../channels/channels';
import { KeyDateList } from '../keydates/KeyDateList';
import { KeyDateSheet } from '../keydates/KeyDateSheet';
import { KeyDateContext, useKeyDateKinds, useKeyDates } from '../keydates/keyDates';
import { useNotes } from '../keydates/notes';
import { cardKey, cardsOf } from '../lineup/cards';
import { EntrySheet } from '../lineup/EntrySheet';
import type { Entry } from '../lineup/lineup';
import { useLineUp } from '../lineup/lineup';
import { useMovingByKeys } from '../lineup/moving';
import { longDay, readDate } from '../time/dates';
import { Failed, Renewing, Waiting } from '../ui/States';
import { useWorkspace, useWorkspaceLink } from '../workspaces/workspace';
import { ChosenBar } from './ChosenBar';
import { DayHours } from './DayHours';
import { type Facet, facets, isFiltered, narrows, readFilters } from './filters';
import { Head, NothingPlanned } from './Head';
import { Lanes } from './Lanes';
import { type CardPart, cardParts, type Look, LookContext, ShownContext, useById, usualParts } from './look';
import { NarrowedTo, NarrowIt } from './NarrowIt';
import { MonthNote } from './Notes';
import { PostList } from './PostList';
import { readView, spanOf, type View } from './spans';
import { ThisView } from './ThisView';
import { TideTable } from './TideTable';
import { WallView } from './WallView';
import { WeeksGrid } from './WeeksGrid';
import { Year } from './Year';

/** Views that are made of cards. */
const cardViews: readonly View[] = ['lanes', 'day', 'fortnight', 'month'];

const none: readonly never[] = [];

/** Views that fit a small window. */
const smallViews: readonly View[] = ['day', 'posts'];

/** Everything that narrows a view is kept in the address bar, so that it can be sent to a colleague. */
export function Calendar() {
  const [search, setSearch] = useSearchParams();
  const today = useWorkspace().data?.today ?? null;
  const view = readView(search.get('view'));
  const on = readDate(search.get('on') ?? search.get('week')) ?? today;
  const span = useMemo(() => (on && today ? spanOf(view, on, today) : null), [view, on, today]);
  const isYear = view === 'year';
  const lineUp = useLineUp(isYear ? null : (span?.from ?? null), isYear ? null : (span?.to ?? null));
  const notes = useNotes(span?.from ?? null, span?.to ?? null).data ?? none;
  const keyDates = useKeyDates(span?.from ?? null, span?.to ?? null).data ?? none;
  const kinds = useById(useKeyDateKinds().data);
  const lanes = search.get('lanes') === 'category' ? 'category' : 'channel';
  const inAddress = useMemo(() => readFilters(search), [search]);
  // A title narrows the view at each letter; the address follows once whoever types pauses.
  const [typed, setTyped] = useState(inAddress.text);
  const filters = useMemo(() => ({ ...inAddress, text: typed }), [inAddress, typed]);
  const groups = useGroupsOf();
  const categories = useById(useCategories().data);
  const channels = useById(useChannels().data);
  const open = search.get('entry');
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [isChoosing, setChoosing] = useState(false);
  const mayPlan = useWorkspaceLink().rights.includes('schedule');

  const set = useStable((changes: Record<string, string | null>) => {
    // Of two changes in one press the second goes on from the first, which hasn't been drawn yet.
    const next = new URLSearchParams(window.location.search);
    for (const [name, value] of Object.entries(changes)) value ? next.set(name, value) : next.delete(name);
    setSearch(next, { replace: ['entry', 'date', 'text'].some((name) => name in changes) });
  });
  const filterBy = useStable((facet: Facet | 'text', values: readonly string[]) =>
    set({ [facet]: values.join(',') || null }),
  );

  const entries = useMemo(() => (isYear ? [] : (lineUp.data?.entries ?? [])), [isYear, lineUp.data]);
  const isShown = useMemo(() => narrows(filters, groups), [filters, groups]);
  const cards = useMemo(() => cardsOf(entries), [entries]);
  const shown = useMemo(() => cards.filter((c) => c.entries.some(isShown)), [cards, isShown]);
  const byKey = useMemo(() => new Map(cards.map((c) => [c.key, c])), [cards]);
  const moveByKeys = useMovingByKeys((key) => {
    const entry = entries.find((e) => e.key === key);
    return (entry && byKey.get(cardKey(entry))?.entries) ?? [];
  });
  const chosenParts = search.get('card');
  const parts = useMemo(() => readParts(chosenParts), [chosenParts]);
  const onOpen = useStable((key: string | null) => set({ entry: key, date: null }));
  const onChoose = useStable((keys: readonly string[]) => setChosen((before) => toggled(before, keys)));
  const onKeyDate = useStable((key: string) => set({ date: key, entry: null }));
  const entrySheet = useMemo(
    () => <EntrySheet entries={entries} chosen={open} onChoose={onOpen} onClose={() => onOpen(null)} />,
    [entries, open, onOpen],
  );

  const look = useMemo<Look>(
    () => ({
      today: today ?? '',
      parts,
      categories,
      channels,
      notes,
      open,
      onOpen,
      chosen,
      isChoosing,
      onChoose,
      begin: (date, more = {}) => {
        if (date < (today ?? '') || !mayPlan) return null;
        const category = more.category ?? inAddress.category[0];
        const query = new URLSearchParams({
          date,
          ...(more.time && { time: more.time }),
          ...((more.channel ?? inAddress.channel[0]) && { channels: more.channel ?? inAddress.channel.join(',') }),
          ...(category && { category }),
        });
        return `posts/new?${query}`;
      },
    }),
    [today, parts, categories, channels, notes, open, onOpen, chosen, isChoosing, onChoose, mayPlan, inAddress],
  );
  const marked = useMemo(() => ({ keyDates, kinds, onOpen: onKeyDate }), [keyDates, kinds, onKeyDate]);

  if (lineUp.error && !lineUp.data) return <Failed error={lineUp.error} retry={() => void lineUp.refetch()} />;
  if (!today || !on || !span || (!isYear && !lineUp.data)) return <Waiting what="the calendar" />;

  const shownChannels =
    filters.channel.length === 0 && filters.group.length === 0
      ? null
      : [...channels.keys()].filter(
          (id) =>
            (filters.channel.length === 0 || filters.channel.includes(id)) &&
            (filters.group.length === 0 || (groups.get(id) ?? []).some((g) => filters.group.includes(g))),
        );
  return (
    <KeyDateContext.Provider value={marked}>
      <LookContext.Provider value={look}>
        <Head
          view={view}
          span={span}
          today={today}
          isChoosing={isChoosing}
          onView={(next) => set({ view: next === 'lanes' ? null : next })}
          onDate={(date) => set({ week: null, on: date })}
          onChoosing={setChoosing}
          mayPlan={mayPlan}
          onKeyDate={() => onKeyDate(`new.${span.from <= today && today <= span.to ? today : span.from}`)}
          note={view === 'month' && <MonthNote month={on.slice(0, 7)} />}
        >
          {view !== 'wall' && (
            <NarrowIt
              entries={entries}
              filters={inAddress}
              typed={typed}
              groups={groups}
              onChange={filterBy}
              onTyped={setTyped}
            />
          )}
          <ThisView
            from={span.from}
            to={span.to}
            parts={cardViews.includes(view) ? parts : null}
            onParts={(next) => set({ card: [...next].join(' ') || '-' })}
          />
        </Head>
        {view !== 'wall' && (
          <NarrowedTo
            filters={filters}
            onChange={(facet, values) => {
              if (facet === 'text') setTyped('');
              filterBy(facet, values);
            }}
            onClear={() => {
              setTyped('');
              set(Object.fromEntries([...facets, 'text'].map((f) => [f, null])));
            }}
          />
        )}
        <ShownContext.Provider value={isShown}>
          <Renewing renewing={!isYear && lineUp.isPlaceholderData}>
            {/* biome-ignore lint/a11y/noStaticElementInteractions: listens for the cards in it, which are buttons */}
            <div onKeyDown={moveByKeys} data-view={view} data-small={smallViews.includes(view) || undefined}>
              {!isYear && entries.length === 0 && <NothingPlanned />}
              {!isYear && entries.length > 0 && shown.length === 0 && isFiltered(filters) && (
                <p className="mb-4 text-faded">Nothing in this time meets all of what is chosen above.</p>
              )}
              {view === 'day' && <KeyDateList />}
              {view === 'lanes' && (
                <Lanes
                  monday={span.from}
                  cards={shown}
                  byKey={byKey}
                  lanes={lanes}
                  onLanes={(next) => set({ lanes: next === 'category' ? next : null })}
                  only={lanes === 'channel' ? (shownChannels ?? []) : filters.category}
                />
              )}
              {view === 'list' && (
                <TideTable
                  from={span.from}
                  entries={shown.flatMap((c) => c.entries.filter(isShown))}
                  chosen={open}
                  onChoose={onOpen}
                />
              )}
              {view === 'fortnight' && <WeeksGrid from={span.from} to={span.to} month={null} cards={shown} />}
              {view === 'month' && <WeeksGrid from={span.from} to={span.to} month={on.slice(0, 7)} cards={shown} />}
              {view === 'day' && <DayHours day={span.from} cards={shown} channels={shownChannels ?? []} />}
              {view === 'posts' && <PostList from={span.from} cards={shown} />}
              {view === 'wall' && (
                <WallView
                  chosen={search.get('wall')}
                  entries={entries}
                  onChannel={(id) => set({ wall: id, entry: null })}
                />
              )}
              {isYear && (
                <Year from={span.from} to={span.to} today={today} filters={inAddress} channels={shownChannels} />
              )}
            </div>
          </Renewing>
        </ShownContext.Provider>
        {lineUp.data && !isYear && (
          <p className="mt-3 text-faded text-sm">
            <Sum entries={shown.flatMap((c) => c.entries.filter(isShown))} cards={shown.length} /> Times are those of{' '}
            {lineUp.data.zone}.
            {lineUp.data.scheduledThrough &&
              ` Scheduled through ${longDay(lineUp.data.scheduledThrough)}; later places may still change.`}
          </p>
        )}
        <KeyDateSheet keyDates={keyDates} open={search.get('date')} onClose={() => set({ date: null })} />
        {entrySheet}
        <ChosenBar
          cards={[...chosen].flatMap((key) => byKey.get(key) ?? [])}
          onClear={() => {
            setChosen(new Set());
            setChoosing(false);
          }}
        />
      </LookContext.Provider>
    </KeyDateContext.Provider>
  );
}

/** What is shown, counted: the same however it is looked at. */
function Sum({ entries, cards }: { entries: readonly Entry[]; cards: number }) {
  const full = entries.filter((e) => e.kind !== 'empty').length;
  const empty = entries.length - full;
  return (
    <span data-sum={`${full} ${empty}`}>
      {full} {full === 1 ? 'delivery' : 'deliveries'} on {cards} {cards === 1 ? 'card' : 'cards'}
      {empty > 0 && `, ${empty} empty`}.
    </span>
  );
}

/** What stands on a card, as the address says it. */
const readParts = (words: string | null): ReadonlySet<CardPart> =>
  new Set(
    words === null ? usualParts : (words.split(' ').filter((p) => cardParts.some((c) => c.value === p)) as CardPart[]),
  );

/** Takes keys in; where all of them are in already, takes them out. */
function toggled(before: ReadonlySet<string>, keys: readonly string[]): ReadonlySet<string> {
  const next = new Set(before);
  const all = keys.every((k) => before.has(k));
  for (const key of keys) all ? next.delete(key) : next.add(key);
  return next;
}

/** In which groups each channel is. */
function useGroupsOf(): ReadonlyMap<string, readonly string[]> {
  const groups = useChannelGroups().data;
  return useMemo(() => {
    const pairs = (groups ?? []).flatMap((g) => g.channels.map((channel) => ({ channel, group: g.id })));
    return new Map([...Map.groupBy(pairs, (p) => p.channel)].map(([channel, of]) => [channel, of.map((p) => p.group)]));
  }, [groups]);
}

/** The same function from one rendering to the next, doing what the latest would. */
function useStable<T extends unknown[]>(act: (...given: T) => void): (...given: T) => void {
  const latest = useRef(act);
  latest.current = act;
  return useCallback((...given: T) => latest.current(...given), []);
}
